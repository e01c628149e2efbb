import { computed, shallowRef } from 'vue';
import { readBlock, writeBlock } from './block-text.ts';
import { commandOf, opensCell, type GridCommand, type GridKey, type TypingMode } from './keys.ts';
import {
  isRelative,
  type GridColumn,
  type GridEdit,
  type GridPlace,
  type GridRow,
} from './plan-grid.ts';
import {
  blockOf,
  filled,
  inside,
  laidDown,
  spotsOf,
  stepped,
  type GridSize,
  type Placed,
  type Selected,
  type Spot,
} from './spots.ts';
import { TEXTS } from './texts.ts';

/** The one field of a grid: it has the focus all the time, and takes every key. */
export interface TypingField {
  value: string;
  /** Puts the cursor behind what stands in it. */
  toEnd(): void;
}

export interface GridTyping {
  readonly rows: () => readonly GridRow[];
  readonly columns: () => readonly GridColumn[];
  readonly field: () => TypingField | undefined;
  /** How many rows a page has. */
  readonly page: () => number;
  /** Whether anything is typed into a column by whoever this is. */
  readonly editable: (column: GridColumn) => boolean;
  readonly edit: (edits: GridEdit[]) => void;
  /** The active cell is another one. */
  readonly visit: (place: GridPlace) => void;
  readonly fold: (row: GridRow, open: boolean) => void;
  /** Somebody wants to find a row. */
  readonly find: () => void;
  /** Somebody asks about the active cell, where the room itself has not answered. */
  readonly explain: (place: GridPlace) => void;
  /** Goes out of the grid, to what comes after or before it; false lets the browser do it. */
  readonly leave: (back: boolean) => void;
  /** Says something about what was done. */
  readonly say: (text: string) => void;
}

interface Places {
  readonly active: GridPlace;
  readonly corner: GridPlace;
}

/**
 * The state of a grid that is typed into: where one is, what is selected, what is being typed.
 * Every key changes it at once; what is drawn follows. Places are kept by their keys, so that one
 * stays where one is when rows come, go or are folded.
 */
export function useGridTyping(grid: GridTyping) {
  const mode = shallowRef<TypingMode>('rest');
  const places = shallowRef<Places>();
  /** Where one was by index: where one is when the row or column is gone. */
  let last: Spot = { row: 0, column: 0 };
  /** What stood in the cell that is being changed. */
  let opened: string | undefined;

  const rowIndex = computed(() => new Map(grid.rows().map(({ key }, index) => [key, index])));
  const columnIndex = computed(() => new Map(grid.columns().map(({ key }, index) => [key, index])));
  const size = (): GridSize => ({
    rows: grid.rows().length,
    columns: grid.columns().length,
    page: Math.max(1, grid.page()),
  });

  const spotOf = ({ row, column }: GridPlace): Spot => ({
    row: rowIndex.value.get(row) ?? inside(last, size()).row,
    column: columnIndex.value.get(column) ?? inside(last, size()).column,
  });
  const placeOf = ({ row, column }: Spot): GridPlace => ({
    row: grid.rows()[row]?.key ?? '',
    column: grid.columns()[column]?.key ?? '',
  });
  /** What is selected; undefined before anybody was in the grid, and where it has no cells. */
  const selected = computed<Selected | undefined>(() => {
    const { rows, columns } = size();
    if (!places.value || rows === 0 || columns === 0) return undefined;
    return { active: spotOf(places.value.active), corner: spotOf(places.value.corner) };
  });
  const cellAt = ({ row, column }: Spot) => grid.rows()[row]?.cells.at(column);
  const textAt = (spot: Spot): string => cellAt(spot)?.typed ?? '';
  /** Whether a cell is typed into, or why it is not; undefined where nobody types here. */
  const fixed = (spot: Spot): string | boolean => {
    const found = grid.columns()[spot.column];
    if (found === undefined || !grid.editable(found)) return true;
    return cellAt(spot)?.fixed ?? found.fixed ?? false;
  };
  function canType(spot: Spot): boolean {
    return fixed(spot) === false;
  }
  /** The same for what somebody is about to type; why not is said. */
  function mayOpen(spot: Spot): boolean {
    const why = fixed(spot);
    if (typeof why === 'string') grid.say(why);
    return why === false;
  }

  function select(active: Spot, corner: Spot = active): void {
    const [from, to] = [inside(active, size()), inside(corner, size())];
    last = from;
    const before = places.value?.active;
    places.value = { active: placeOf(from), corner: placeOf(to) };
    const now = places.value.active;
    if (now.row !== before?.row || now.column !== before.column) grid.visit(now);
  }
  /** Goes to the first cell where nobody has been in the grid yet. */
  function enter(): void {
    if (!selected.value) select({ row: 0, column: 0 });
  }

  /** Keeps what is typed where that can be; what was left out, there and before, is said. */
  function send(placed: readonly Placed[], ...beyond: readonly string[]): void {
    const edits = placed
      .filter(({ spot, text }) => canType(spot) && text !== textAt(spot))
      .map(({ spot, text }) => ({ ...placeOf(spot), text }));
    if (edits.length > 0) grid.edit(edits);
    const left = placed.flatMap(({ spot, text }) => {
      const why = text === textAt(spot) ? false : fixed(spot);
      return typeof why === 'string' ? [why] : [];
    });
    const [why = ''] = left;
    const said = [...beyond];
    if (left.length === 1) said.push(why);
    if (left.length > 1) said.push(TEXTS.cellsWereLeftAsThey(left.length, why));
    if (said.length > 0) grid.say(said.join('. '));
  }

  /** Takes what is typed; a change of what is there goes into all that is selected. */
  function commit(all = false): void {
    const field = grid.field();
    if (mode.value === 'rest' || !field || !selected.value) return;
    const text = field.value.trim();
    const unchanged = text === opened && !all;
    cancel();
    if (unchanged) return;
    const { active } = selected.value;
    const spots = all || isRelative(text) ? spotsOf(blockOf(selected.value)) : [active];
    send(spots.map((spot) => ({ spot, text })));
  }
  /** Leaves what is typed, and what was there stays. */
  function cancel(): void {
    const field = grid.field();
    if (field) field.value = '';
    opened = undefined;
    mode.value = 'rest';
  }
  /** Opens the active cell with what is typed there. */
  function open(): void {
    const field = grid.field();
    if (!selected.value || !field || !mayOpen(selected.value.active)) return;
    if (mode.value === 'rest') {
      opened = textAt(selected.value.active);
      field.value = opened;
      field.toEnd();
    }
    mode.value = 'change';
  }

  function run(command: GridCommand): boolean {
    const now = selected.value;
    if (!now) return false;
    const { rows, columns } = size();
    switch (command.kind) {
      case 'move': {
        const { step, extend } = command;
        commit();
        const to = stepped(extend ? now.corner : now.active, step, size());
        if (!to) return false;
        if (extend) select(now.active, to);
        else select(to);
        return true;
      }
      case 'open':
        open();
        return true;
      case 'clear':
        send(spotsOf(blockOf(now)).map((spot) => ({ spot, text: '' })));
        return true;
      case 'selectAll':
        select({ row: 0, column: 0 }, { row: rows - 1, column: columns - 1 });
        return true;
      case 'selectRow':
        selectRow(now.active.row);
        return true;
      case 'selectColumn':
        selectColumn(now.active.column);
        return true;
      case 'fill':
        send(filled(blockOf(now), command.to, textAt));
        return true;
      case 'commitAll':
        commit(true);
        return true;
      case 'cancel':
        if (mode.value === 'rest') grid.leave(false);
        else cancel();
        return true;
      case 'leave':
        commit();
        grid.leave(command.back);
        return true;
      case 'find':
        grid.find();
        return true;
      case 'explain':
        grid.explain(placeOf(now.active));
        return true;
      case 'fold': {
        const row = grid.rows()[now.active.row];
        if (row?.parent && row.folded === command.open) grid.fold(row, command.open);
        return true;
      }
    }
  }

  /** A key came. @returns whether it is done with; else it is the field's own, or the room's */
  function press(key: GridKey): boolean {
    enter();
    const command = commandOf(key, mode.value);
    if (command) return run(command);
    const control = key.ctrlKey || key.metaKey || key.altKey;
    if (mode.value !== 'rest' || control || key.key.length !== 1) return false;
    const field = grid.field();
    // The field itself takes the figure that opens the cell: no key is ever handed on.
    if (opensCell(key.key) && field && selected.value && mayOpen(selected.value.active)) {
      field.value = '';
      opened = undefined;
      mode.value = 'replace';
      return false;
    }
    return true;
  }

  /** Goes to a row, in the column where one is. */
  function goToRow(key: string): void {
    const row = rowIndex.value.get(key);
    if (row !== undefined) select({ row, column: selected.value?.active.column ?? 0 });
  }

  function selectRow(row: number): void {
    select({ row, column: 0 }, { row, column: size().columns - 1 });
  }
  function selectColumn(column: number): void {
    select({ row: 0, column }, { row: size().rows - 1, column });
  }

  /** What is selected as text, or undefined while a cell is open: then the field copies itself. */
  function copied(): string | undefined {
    if (mode.value !== 'rest' || !selected.value) return undefined;
    const { top, bottom, left, right } = blockOf(selected.value);
    const rows: string[][] = [];
    for (let row = top; row <= bottom; row += 1) {
      const cells: string[] = [];
      for (let column = left; column <= right; column += 1) cells.push(textAt({ row, column }));
      rows.push(cells);
    }
    return writeBlock(rows);
  }
  /** Takes what the clipboard has. @returns whether it went into cells */
  function paste(text: string): boolean {
    if (mode.value !== 'rest' || !selected.value || text === '') return false;
    const block = blockOf(selected.value);
    const { placed, rowsBeyond, columnsBeyond } = laidDown(readBlock(text), block, size());
    const beyond = [
      ...(rowsBeyond > 0 ? [TEXTS.rowsOf(rowsBeyond)] : []),
      ...(columnsBeyond > 0 ? [TEXTS.columns(columnsBeyond)] : []),
    ];
    const first = placed[0]?.spot;
    const end = placed.at(-1)?.spot;
    if (first && end) select(first, end);
    const out = TEXTS.leftOutBeyondEdgeOf(beyond.join(' and '));
    send(placed, ...(beyond.length > 0 ? [out] : []));
    return true;
  }
  function clear(): void {
    run({ kind: 'clear' });
  }
  function fill(to: 'down' | 'right'): void {
    run({ kind: 'fill', to });
  }
  /** Fills from the selection over a larger block, by dragging. */
  function fillTo(corner: Spot): void {
    const now = selected.value;
    if (!now) return;
    const block = blockOf(now);
    const down = corner.row - block.bottom;
    const right = corner.column - block.right;
    const to = down >= right ? ('down' as const) : ('right' as const);
    if (Math.max(down, right) <= 0) return;
    const end =
      to === 'down'
        ? { row: corner.row, column: block.right }
        : { row: block.bottom, column: corner.column };
    const wide = { ...block, bottom: end.row, right: end.column };
    const from = (spot: Spot): Spot =>
      to === 'down' ? { ...spot, row: block.bottom } : { ...spot, column: block.right };
    const inBlock = ({ row, column }: Spot): boolean =>
      row <= block.bottom && column <= block.right;
    const placed = spotsOf(wide).filter((spot) => !inBlock(spot));
    select({ row: block.top, column: block.left }, end);
    send(placed.map((spot) => ({ spot, text: textAt(from(spot)) })));
  }

  return {
    mode,
    selected,
    enter,
    select,
    goToRow,
    selectRow,
    selectColumn,
    commit,
    open,
    press,
    copied,
    paste,
    clear,
    fill,
    fillTo,
  };
}
