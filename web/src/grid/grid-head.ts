import { defineComponent, h, type PropType, type VNode } from 'vue';
import type { DrawnColumn, DrawnColumns } from './grid-line.ts';
import { TEXTS } from './texts.ts';

/** What a heading can be pressed for: to put the rows in order by its column. */
function orderButton(name: string, key: string, ordered: string | undefined): VNode {
  return h(
    'span',
    {
      class: ['order', ordered ? 'held' : ''],
      role: 'button',
      'aria-label': TEXTS.sortBy(name),
      'data-order': key,
    },
    ordered || '\u2195',
  );
}

/** How rows are in order by a column, as a screen reader says it. */
function sortOf(ordered: string | undefined): 'ascending' | 'descending' | undefined {
  if (!ordered) return undefined;
  return ordered === '\u2193' ? 'descending' : 'ascending';
}

/** The heading of the plan grid. */
export const GridHead = defineComponent({
  name: 'GridHead',
  props: {
    /** Of the rows' names. */
    heading: { type: String, required: true },
    columns: { type: Object as PropType<DrawnColumns>, required: true },
    sortable: Boolean,
    /** An arrow where rows are in order by their names, empty where they can be. */
    nameOrdered: { type: String as PropType<string | undefined>, default: undefined },
  },
  setup(props) {
    function cell({ column, index, width }: DrawnColumn, left?: number): VNode {
      const { key, heading, closed, ordered, align } = column;
      return h(
        'div',
        {
          key,
          class: [
            'cell',
            closed ? 'closed' : '',
            align ? `at-${align}` : '',
            left === undefined ? '' : 'pinned-column',
          ],
          role: 'columnheader',
          'aria-colindex': index + 2,
          'aria-sort': sortOf(ordered),
          'data-heading': index,
          'data-key': key,
          style: { width: `${width}px`, left: left === undefined ? undefined : `${left}px` },
          title: column.means ?? heading,
        },
        [
          props.sortable ? orderButton(heading, key, ordered) : undefined,
          heading,
          h('span', { class: 'edge', 'data-edge': index }),
        ],
      );
    }
    return () => {
      const { columns, heading, nameOrdered } = props;
      let left = columns.nameWidth;
      const pinned = columns.pinned.map((column) => {
        const made = cell(column, left);
        left += column.width;
        return made;
      });
      return h('div', { class: 'line head', role: 'row', 'aria-rowindex': 1 }, [
        h(
          'div',
          {
            class: 'cell name',
            role: 'columnheader',
            'aria-colindex': 1,
            style: { width: `${columns.nameWidth}px` },
          },
          [
            heading,
            nameOrdered === undefined ? undefined : orderButton(heading, 'name', nameOrdered),
          ],
        ),
        ...pinned,
        h('div', { class: 'gap', role: 'presentation', style: { width: `${columns.before}px` } }),
        ...columns.scrolling.map((column) => cell(column)),
      ]);
    };
  },
});
