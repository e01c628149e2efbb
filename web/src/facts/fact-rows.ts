import type { BodyOf, Facts, factOperations, Ledger } from '@dravex/contract';
import { monthFrom, type MemberTree, type Nature } from '@dravex/core';
import { DASH, type Formats, type Unit } from '../format/numbers.ts';
import { shortMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { cellsOnDemand, type GridCell, type GridColumn, type GridRow } from '../grid/plan-grid.ts';
import { TOTAL, typedCell } from '../grid/table-rows.ts';
import { TEXTS } from './texts.ts';

/** What several months of a measure come to, in words. */
export const NATURES: readonly { readonly value: Nature; readonly name: string }[] = [
  { value: 'flow', name: TEXTS.addedUp },
  { value: 'stock', name: TEXTS.asOfLastMonth },
  { value: 'ratio', name: TEXTS.ratioNeverAddedUp },
  { value: 'level', name: TEXTS.setNeverAddedUp },
];
export const KINDS = [
  { value: 'revenue', name: WORDS.revenue },
  { value: 'expense', name: TEXTS.expense },
] as const;
export const BEHAVIOURS = [
  { value: null, name: TEXTS.notSet },
  { value: 'fixed', name: 'fixed' },
  { value: 'variable', name: TEXTS.withRevenue },
] as const;
export type AccountChange = BodyOf<typeof factOperations.changeAccount>;

const nameIn = <T>(list: readonly { readonly value: T; readonly name: string }[], value: T) =>
  list.find((one) => one.value === value)?.name ?? '';
const words = (text: string): GridCell => ({ text, typed: text, dress: 'plain' });
const NONE = words('');

/** By which column rows are in order, as it is drawn. */
type ArrowOf = (column: string) => Pick<GridColumn, 'ordered'>;

/** A column of a total, those that say more of a row, and the months. */
function monthColumns(
  months: readonly string[],
  total: string,
  arrowOf: ArrowOf,
  more: readonly GridColumn[] = [],
): GridColumn[] {
  const years = new Set(months.map((month) => month.slice(0, 4))).size > 1;
  const all: GridColumn[] = [
    { key: TOTAL, heading: total, total: true },
    ...more,
    ...months.map((month) => ({
      key: month,
      heading: shortMonth(monthFrom(month), years),
      closed: true,
    })),
  ];
  return all.map((column) => ({ ...column, ...arrowOf(column.key) }));
}

export const factColumns = ({ months }: Facts, arrowOf: ArrowOf): GridColumn[] =>
  monthColumns(months, TEXTS.period, arrowOf);

/** Measures, each with a row for whatever it was measured of. */
export function factRows(
  { measures, rows }: Facts,
  tree: MemberTree,
  formats: Formats,
): Omit<GridRow, 'folded'>[] {
  const number = (value: number | null): GridCell => ({
    text: value === null ? DASH : formats.full(value, 'units'),
    ...typedCell(value, 'units', 1, formats),
    unit: '',
    dress: 'books',
  });
  return measures.flatMap(({ code, name, unit, nature }) => {
    const of = rows.filter(({ measure }) => measure === code);
    if (of.length === 0) return [];
    const length = (of[0]?.values.length ?? 0) + 1;
    const above = {
      ...{ key: code, label: name, level: 0, parent: true, strong: true },
      tail: [...(unit === '' ? [] : [unit]), nameIn(NATURES, nature)].join(', '),
      cells: cellsOnDemand(length, () => NONE),
    };
    const below = of.map(({ members, values, total }) => ({
      ...{ key: `${code} ${members.join()}`, label: tree.label(members), level: 1 },
      ...{ parent: false, strong: false },
      cells: cellsOnDemand(length, (at) => number(at === 0 ? total : (values[at - 1] ?? null))),
    }));
    return [above, ...below];
  });
}

const OF_ACCOUNT: readonly GridColumn[] = [
  { key: 'share', heading: TEXTS.ofRevenue, means: TEXTS.partOfRevenueOfAll },
  { key: 'kind', heading: TEXTS.type, size: 76, align: 'left' },
  {
    ...{ key: 'behaviour', heading: TEXTS.behaviour, size: 92, align: 'left' },
    means: TEXTS.whetherItsAmountsAreFixed,
  },
];
export const ledgerColumns = ({ months }: Ledger, arrowOf: ArrowOf): GridColumn[] =>
  monthColumns(months, WORDS.total, arrowOf, OF_ACCOUNT);

/** Accounts of the ledger; revenue and expense both positive. */
export function ledgerRows(
  { months, accounts }: Ledger,
  formats: Formats,
  unit: Unit,
  minor: number,
): Omit<GridRow, 'folded'>[] {
  const money = (cents: number): GridCell => ({
    text: formats.show(cents / minor, 'money', unit),
    ...typedCell(cents / minor, 'money', unit, formats),
    title: formats.full(cents / minor, 'money'),
    dress: 'books',
  });
  return accounts.map((account) => ({
    ...{ key: account.code, label: account.code, level: 0, parent: false, strong: false },
    ...(account.name === '' ? {} : { tail: account.name }),
    cells: cellsOnDemand(1 + OF_ACCOUNT.length + months.length, (at) => {
      switch (at) {
        case 0:
          return money(account.total);
        case 1:
          return {
            text: formats.show(account.share, 'percent'),
            ...typedCell(account.share, 'percent', 1, formats),
            dress: 'plain',
          };
        case 2:
          return words(nameIn(KINDS, account.kind));
        case 3:
          return words(nameIn(BEHAVIOURS, account.behaviour));
        default:
          return money(account.values[at - 1 - OF_ACCOUNT.length] ?? 0);
      }
    }),
  }));
}

/** A row's number in a column, for putting rows in order. */
export function valueIn(
  { cells }: Pick<GridRow, 'cells'>,
  columns: readonly GridColumn[],
  column: string,
): number | null {
  return cells.at(columns.findIndex(({ key }) => key === column))?.value ?? null;
}
