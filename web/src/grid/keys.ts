/** The keys of every grid: what each does, and how the help says it. */
import type { Step } from './spots.ts';

/**
 * What the field does with keys: nothing is typed (`rest`), a new text replaces what is there
 * (`replace`, where arrows commit), or what is there is changed (`change`, where arrows move in it).
 */
export type TypingMode = 'rest' | 'replace' | 'change';

export type GridCommand =
  /** Moves; `extend` takes the block along. What is typed is committed first. */
  | { readonly kind: 'move'; readonly step: Step; readonly extend: boolean }
  /** Opens the active cell to change what is there, or goes on changing what is being typed. */
  | { readonly kind: 'open' }
  | { readonly kind: 'clear' }
  | { readonly kind: 'selectAll' }
  | { readonly kind: 'selectRow' }
  | { readonly kind: 'selectColumn' }
  | { readonly kind: 'fill'; readonly to: 'down' | 'right' }
  /** Commits what is typed into all selected cells. */
  | { readonly kind: 'commitAll' }
  | { readonly kind: 'cancel' }
  | { readonly kind: 'leave'; readonly back: boolean }
  | { readonly kind: 'fold'; readonly open: boolean }
  /** Looks for a row by its name. */
  | { readonly kind: 'find' }
  /** Asks how the number came about, or what it is made of. */
  | { readonly kind: 'explain' };

/** What of a key event decides. */
export interface GridKey {
  readonly key: string;
  readonly shiftKey: boolean;
  readonly ctrlKey: boolean;
  readonly metaKey: boolean;
  readonly altKey: boolean;
}

const ARROWS: Readonly<Record<string, [near: Step, edge: Step]>> = {
  ArrowUp: ['up', 'top'],
  ArrowDown: ['down', 'bottom'],
  ArrowLeft: ['left', 'rowStart'],
  ArrowRight: ['right', 'rowEnd'],
  Home: ['rowStart', 'first'],
  End: ['rowEnd', 'last'],
  PageUp: ['pageUp', 'top'],
  PageDown: ['pageDown', 'bottom'],
};

/** Only figures and what belongs to them open a cell: letters stay free for shortcuts. */
export function opensCell(key: string): boolean {
  return key.length === 1 && /[\d+\-\u2212.,=x\u00d7]/.test(key);
}

/** What a key does in a grid; undefined where it is the field's, the room's or the browser's own. */
export function commandOf(key: GridKey, mode: TypingMode): GridCommand | undefined {
  const control = key.ctrlKey || key.metaKey;
  const move = (step: Step, extend = key.shiftKey): GridCommand => ({ kind: 'move', step, extend });
  switch (key.key) {
    case 'Enter':
      if (control) return { kind: 'commitAll' };
      return move(key.shiftKey ? 'up' : 'down', false);
    case 'Tab':
      return control ? undefined : move(key.shiftKey ? 'previous' : 'next', false);
    case 'Escape':
      return { kind: 'cancel' };
    case 'F2':
      return { kind: 'open' };
    case 'F6':
      return { kind: 'leave', back: key.shiftKey };
    default:
  }
  if (key.altKey) {
    const fold = key.key === 'ArrowRight' || key.key === 'ArrowLeft';
    return fold && mode === 'rest' ? { kind: 'fold', open: key.key === 'ArrowRight' } : undefined;
  }
  const [near, edge] = ARROWS[key.key] ?? [];
  if (near && edge) return mode === 'change' ? undefined : move(control ? edge : near);
  if (mode !== 'rest') return undefined;
  if (key.key === 'Delete' || key.key === 'Backspace') return { kind: 'clear' };
  if (key.key === ' ') {
    if (control || key.shiftKey) return { kind: control ? 'selectColumn' : 'selectRow' };
    return { kind: 'explain' };
  }
  if (!control) return undefined;
  switch (key.key.toLowerCase()) {
    case 'a':
      return { kind: 'selectAll' };
    case 'd':
      return { kind: 'fill', to: 'down' };
    case 'r':
      return { kind: 'fill', to: 'right' };
    case 'f':
      return { kind: 'find' };
    default:
      return undefined;
  }
}

/** The keys of a grid as the help says them. */
export const GRID_KEYS: readonly (readonly [keys: string, what: string])[] = [
  ['Arrows, Tab, Enter', 'go to the next cell; with Shift back, or select'],
  ['Home, End, page keys', 'to the edge of the row, a page up or down'],
  ['Ctrl with arrows, Home, End', 'to the edge of the table'],
  ['F2', 'edit the cell'],
  ['Ctrl Enter', 'enter the same value in all selected cells'],
  ['Ctrl D, Ctrl R', 'fill down, fill right'],
  ['Delete', 'clear the entered value of a cell'],
  ['Ctrl A, Shift Space, Ctrl Space', 'select all, the row, the column'],
  ['Ctrl C, Ctrl X, Ctrl V', 'copy, cut, paste'],
  ['Ctrl F', 'find a row by its name'],
  ['Alt with \u2192, \u2190', 'expand the row, collapse it'],
  ['Esc', 'cancel editing; again, leave the table'],
  ['F6', 'enter the table; again, leave it'],
  ['Shift F10', 'menu of the cell: sort, pin, column width, save and what the room offers'],
];
