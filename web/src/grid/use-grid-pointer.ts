import type { Ref } from 'vue';
import type { Selected, Spot } from './spots.ts';

/** What pointing does in a grid. */
export interface GridPointing {
  readonly scroller: Ref<HTMLElement | undefined>;
  readonly selected: () => Selected | undefined;
  /** Before anything else: what is typed is kept, and the field has the focus. */
  begin(): void;
  select(active: Spot, corner?: Spot): void;
  selectRow(row: number): void;
  selectColumn(column: number): void;
  fillTo(corner: Spot): void;
  widthOf(column: number): number;
  widen(column: number, width: number): void;
  forgetWidth(column: number): void;
  /** A cell was pressed twice. */
  open(spot: Spot): void;
  fold(row: string): void;
  pin(row: string): void;
  order(column: string): void;
  /** Whether a row can be taken by its name and dropped on another one. */
  movesRow(row: number): boolean;
  moveRow(row: number, onto: number): void;
}

/** What is being dragged, and from where. */
type Dragging =
  | { readonly kind: 'select' }
  | { readonly kind: 'fill'; corner: Spot | undefined }
  | { readonly kind: 'row'; readonly row: number; onto: number }
  | { readonly kind: 'width'; readonly column: number; readonly width: number; readonly x: number };

/** Mouse, pen and finger in a grid: selecting, filling, widths, and the small buttons of rows. */
export function useGridPointer(grid: GridPointing) {
  let dragging: Dragging | undefined;

  /** What of the grid is pointed at, by what its elements say of themselves. */
  function pointed(event: Event, name: string): string | undefined {
    const target = event.target as HTMLElement | null;
    return target?.closest<HTMLElement>(`[data-${name}]`)?.dataset[name];
  }
  function spotAt(event: Event): Spot | undefined {
    const cell = (event.target as Element | null)?.closest<HTMLElement>('[data-row]');
    if (!cell || !grid.scroller.value?.contains(cell)) return undefined;
    return { row: Number(cell.dataset['row']), column: Number(cell.dataset['column']) };
  }

  /** The row whose name is pointed at. */
  function nameAt(event: Event): number | undefined {
    const name = pointed(event, 'name');
    return name === undefined ? undefined : Number(name);
  }

  function onPointerDown(event: PointerEvent): void {
    const target = event.target as HTMLElement;
    // A press on a bar that scrolls, or into the open field, is none on a cell.
    const elsewhere = target === grid.scroller.value || target.closest('.field-place') !== null;
    if (event.button !== 0 || elsewhere) return;
    event.preventDefault();
    grid.begin();
    const edge = pointed(event, 'edge');
    if (edge !== undefined) {
      const column = Number(edge);
      dragging = { kind: 'width', column, width: grid.widthOf(column), x: event.clientX };
      return;
    }
    if (pointed(event, 'handle') !== undefined) {
      dragging = { kind: 'fill', corner: undefined };
      return;
    }
    const name = nameAt(event);
    if (name !== undefined && grid.movesRow(name)) {
      dragging = { kind: 'row', row: name, onto: name };
      return;
    }
    const spot = spotAt(event);
    if (!spot) return;
    const now = grid.selected();
    if (event.shiftKey && now) grid.select(now.active, spot);
    else grid.select(spot);
    dragging = { kind: 'select' };
  }

  function onPointerMove(event: PointerEvent): void {
    if (!dragging || event.buttons === 0) return;
    if (dragging.kind === 'width') {
      grid.widen(dragging.column, dragging.width + event.clientX - dragging.x);
      return;
    }
    const spot = spotAt(event);
    if (dragging.kind === 'row') {
      const onto = nameAt(event) ?? spot?.row ?? dragging.onto;
      if (onto === dragging.onto) return;
      // The row on which it would be dropped is the one that is selected.
      dragging.onto = onto;
      grid.selectRow(onto);
      return;
    }
    const now = grid.selected();
    if (!spot || !now) return;
    if (dragging.kind === 'fill') dragging.corner = spot;
    else if (spot.row !== now.corner.row || spot.column !== now.corner.column) {
      grid.select(now.active, spot);
    }
  }

  function onPointerUp(): void {
    const done = dragging;
    dragging = undefined;
    if (done?.kind === 'fill' && done.corner) grid.fillTo(done.corner);
    if (done?.kind === 'row' && done.onto !== done.row) grid.moveRow(done.row, done.onto);
  }

  function onClick(event: MouseEvent): void {
    const does = {
      fold: grid.fold,
      pin: grid.pin,
      order: grid.order,
    };
    for (const [name, act] of Object.entries(does)) {
      const value = pointed(event, name);
      if (value !== undefined) {
        act(value);
        return;
      }
    }
    const column = pointed(event, 'heading');
    if (column !== undefined) {
      if (pointed(event, 'edge') === undefined) grid.selectColumn(Number(column));
      return;
    }
    const row = nameAt(event);
    if (row !== undefined) grid.selectRow(row);
  }

  function onDoubleClick(event: MouseEvent): void {
    const edge = pointed(event, 'edge');
    const spot = spotAt(event);
    if (edge !== undefined) grid.forgetWidth(Number(edge));
    else if (spot) grid.open(spot);
  }

  /** Whether something is dragged by which the selection does not move. */
  const fills = (): boolean => dragging?.kind === 'fill';

  return {
    spotAt,
    nameAt,
    onPointerDown,
    onPointerMove,
    onPointerUp,
    onClick,
    onDoubleClick,
    fills,
  };
}
