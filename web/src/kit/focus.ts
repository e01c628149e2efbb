/** The element outside of all menus and dialogs that has the focus, or had it last. */
let outside: HTMLElement | undefined;
document.addEventListener('focusin', ({ target }) => {
  if (target instanceof HTMLElement && !target.closest('.v-overlay')) outside = target;
});

/**
 * Remembers where the focus is, for what opens now: a dialog or a panel. What opened it may be an
 * entry of a menu, which is gone by the time one goes back: then it is where one was before the
 * menu.
 * @returns gives the focus back
 */
export function rememberFocus(): () => void {
  const { activeElement, body } = document;
  const now = activeElement instanceof HTMLElement && activeElement !== body ? activeElement : null;
  const before = now?.closest('.v-menu') ? outside : (now ?? undefined);
  return () => (before?.isConnected ? before : outside)?.focus({ preventScroll: true });
}
