/** The keys by which a menu is walked. The others do what they always do. */
const MENU_KEYS = new Set(['ArrowDown', 'ArrowUp', 'Home', 'End', 'Enter', ' ']);

/** The menu that is open, or about to be: submenus do not exist here. */
function openMenu(): HTMLElement | undefined {
  return (
    document.querySelector<HTMLElement>('.v-menu.v-overlay--active [role="menu"]') ?? undefined
  );
}

/** Whether it was opened by no button: its first entry takes the focus. */
const takesFocus = (menu: HTMLElement): boolean => 'takesFocus' in menu.dataset;

/** Whether a key pressed on an element is meant for the menu. */
function isMeantFor(menu: HTMLElement, element: Element): boolean {
  if (takesFocus(menu)) return !menu.contains(element);
  const overlay = menu.closest('.v-menu')?.id ?? '';
  return element.closest('[aria-haspopup="menu"]')?.getAttribute('aria-controls') === overlay;
}

/** Whether it is placed: before that it is hidden, and nothing hidden can have the focus. */
const isPlaced = (menu: HTMLElement): boolean => menu.checkVisibility({ visibilityProperty: true });

/** Presses a key again, on what has the focus by now. */
function replay(menu: HTMLElement, { key, code, shiftKey }: KeyboardEvent): void {
  const { activeElement } = document;
  if (takesFocus(menu) && !menu.contains(activeElement)) {
    menu.querySelector<HTMLElement>('[role^="menuitem"]')?.focus();
  }
  const target = document.activeElement ?? document.body;
  const again = { key, code, shiftKey, bubbles: true, cancelable: true };
  const unanswered = target.dispatchEvent(new KeyboardEvent('keydown', again));
  // A button answers these two by itself, but only where a person pressed them.
  if (unanswered && (key === 'Enter' || key === ' ') && target instanceof HTMLButtonElement) {
    target.click();
  }
}

/**
 * A menu takes some frames to open, more on a busy machine, and the keys pressed meanwhile would go
 * to what opened it: Enter, arrow down, Enter would close the menu instead of choosing its first
 * entry, and Enter after the key of a cell's menu would move the cell. They wait until the menu
 * stands, and are then pressed in their order.
 *
 * A menu marked `data-takes-focus` was opened by no button: its first entry takes the focus.
 */
export function holdKeysOfOpeningMenus(): void {
  const held: KeyboardEvent[] = [];
  const release = (): void => {
    const menu = openMenu();
    if (menu && !isPlaced(menu)) {
      requestAnimationFrame(release);
      return;
    }
    for (const event of held.splice(0)) if (menu) replay(menu, event);
  };
  document.addEventListener(
    'keydown',
    (event) => {
      const { key, target, isTrusted, ctrlKey, altKey, metaKey } = event;
      if (!isTrusted || !MENU_KEYS.has(key) || ctrlKey || altKey || metaKey) return;
      const menu = openMenu();
      if (!menu || !(target instanceof Element)) return;
      const waits = held.length > 0 || !isPlaced(menu) || takesFocus(menu);
      if (!waits || !isMeantFor(menu, target)) return;
      event.preventDefault();
      event.stopPropagation();
      held.push(event);
      if (held.length === 1) requestAnimationFrame(release);
    },
    { capture: true },
  );
}
