import { defineComponent, h, type PropType, type VNode, withMemo } from 'vue';
import type { GridColumn, GridRow } from './plan-grid.ts';
import PlanMark from './PlanMark.vue';
import { TEXTS } from './texts.ts';

/** A column as it is drawn: where it begins among those that scroll, and how wide it is. */
export interface DrawnColumn {
  readonly column: GridColumn;
  /** Its place among all columns. */
  readonly index: number;
  readonly width: number;
}

/** The columns that are drawn. */
export interface DrawnColumns {
  readonly nameWidth: number;
  readonly pinned: readonly DrawnColumn[];
  readonly scrolling: readonly DrawnColumn[];
  /** How far the first scrolling column that is drawn is from the first of all. */
  readonly before: number;
  /** The width of all that scroll. */
  readonly whole: number;
}

/** What of a row is selected: columns from and to, the active one, and the end of the block. */
export interface LineSelection {
  readonly from: number;
  readonly to: number;
  /** −1 where the active cell is in another row. */
  readonly active: number;
  /** −1 where the block does not end in this row: there it is dragged to fill. */
  readonly end: number;
}

function nameCell(row: GridRow, width: number, index: number): VNode {
  const fold = row.parent
    ? h(
        'span',
        {
          class: 'fold',
          'data-fold': row.key,
          role: 'button',
          'aria-label': `${row.folded ? TEXTS.open : TEXTS.fold} ${row.label}`,
        },
        row.folded ? '▸' : '▾',
      )
    : h('span', { class: 'fold' });
  const words = row.pinned ? TEXTS.letGoOf : TEXTS.pin;
  const pin =
    row.pinned === undefined
      ? undefined
      : h(
          'span',
          {
            class: { pin: true, held: row.pinned },
            'data-pin': row.key,
            role: 'button',
            'aria-label': `${words} ${row.label}`,
            title: `${words} ${row.label} (p)`,
          },
          row.pinned ? '◆' : '◇',
        );
  return h(
    'div',
    {
      class: ['cell', 'name', row.strong ? 'strong' : '', row.waits ? 'waits' : ''],
      role: 'rowheader',
      'aria-colindex': 1,
      'data-name': index,
      style: { width: `${width}px`, paddingLeft: `${8 + row.level * 12}px` },
      title: row.label,
    },
    [
      fold,
      h('span', { class: ['words', row.quiet ? 'quiet-words' : ''] }, row.label),
      row.tail === undefined ? undefined : h('span', { class: 'tail' }, row.tail),
      pin,
    ],
  );
}

/** One row of the plan grid. It is drawn anew only when something of it is another. */
export const GridLine = defineComponent({
  name: 'GridLine',
  props: {
    row: { type: Object as PropType<GridRow>, required: true },
    /** Its place among all rows. */
    index: { type: Number, required: true },
    columns: { type: Object as PropType<DrawnColumns>, required: true },
    selection: { type: Object as PropType<LineSelection | undefined>, default: undefined },
    /** Why cells of it were refused, by column. */
    refused: {
      type: Object as PropType<ReadonlyMap<string, string> | undefined>,
      default: undefined,
    },
    /** What was typed into cells of it and is not kept yet, by column. */
    waiting: {
      type: Object as PropType<ReadonlyMap<string, string> | undefined>,
      default: undefined,
    },
  },
  setup(props) {
    /** Cells as they were drawn last: one of which nothing is another is not drawn anew. */
    let drawn: unknown[] = [];
    function figure({ column, index, width }: DrawnColumn, left?: number): VNode {
      const { row, selection, refused, waiting } = props;
      const cell = row.cells.at(index);
      const refusal = refused?.get(column.key);
      const typed = waiting?.get(column.key);
      const chosen =
        selection !== undefined && index >= selection.from && index <= selection.to ? 'chosen' : '';
      const active = selection?.active === index;
      const title =
        refusal ?? (typed === undefined ? (cell?.title ?? cell?.typed) : TEXTS.notSavedYet);
      const strong = row.strong || column.total === true;
      const ends = selection?.end === index;
      const looks = [
        ...[row.key, props.index, index, column.key, column.closed, column.align, width, left],
        ...[strong, chosen, active, ends, refusal, typed, title],
        ...[cell?.text, cell?.dress, cell?.judgement, cell?.beside, cell?.commented, cell?.mark],
      ];
      const draw = (): VNode =>
        h(
          'div',
          {
            key: column.key,
            class: [
              'cell',
              `dress-${typed === undefined ? (cell?.dress ?? 'plain') : 'waiting'}`,
              column.closed ? 'closed' : '',
              column.align ? `at-${column.align}` : '',
              cell?.judgement ?? '',
              left === undefined ? '' : 'pinned-column',
              strong ? 'strong' : '',
              refusal === undefined ? '' : 'refused',
              cell?.commented ? 'commented' : '',
              chosen,
              active ? 'active' : '',
            ],
            role: 'gridcell',
            'aria-colindex': index + 2,
            'aria-selected': chosen !== '',
            style: { width: `${width}px`, left: left === undefined ? undefined : `${left}px` },
            title,
            'data-cell': `${row.key} ${column.key}`,
            'data-row': props.index,
            'data-column': index,
          },
          [
            cell?.judgement === 'bad'
              ? h('span', { class: 'diamond', role: 'img', 'aria-label': 'bad:' }, '◇')
              : undefined,
            cell?.mark
              ? h(PlanMark, { mark: cell.mark, width: width - 16 })
              : h('span', { class: 'figure' }, typed ?? cell?.text ?? ''),
            cell?.beside ? h('span', { class: 'beside' }, cell.beside) : undefined,
            cell?.commented
              ? h('span', { class: 'said', role: 'img', 'aria-label': 'commented' })
              : undefined,
            ends ? h('span', { class: 'handle', 'data-handle': '' }) : undefined,
          ],
        );
      return withMemo(looks, draw, drawn, index);
    }
    /** Forgets cells that are out of sight. */
    function forget({ pinned, scrolling }: DrawnColumns): void {
      const kept: unknown[] = [];
      for (const { index } of [...pinned, ...scrolling]) kept[index] = drawn[index];
      drawn = kept;
    }
    return () => {
      const { row, columns, index } = props;
      let left = columns.nameWidth;
      const pinned = columns.pinned.map((column) => {
        const made = figure(column, left);
        left += column.width;
        return made;
      });
      const line = h('div', { class: 'line', role: 'row', 'aria-rowindex': index + 2 }, [
        nameCell(row, columns.nameWidth, index),
        ...pinned,
        h('div', { class: 'gap', role: 'presentation', style: { width: `${columns.before}px` } }),
        ...columns.scrolling.map((column) => figure(column)),
      ]);
      forget(columns);
      return line;
    };
  },
});
