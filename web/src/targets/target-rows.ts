import type { TargetNode } from '@dravex/contract';
import { monthFrom, ratio } from '@dravex/core';
import { shortMonth } from '../format/periods.ts';
import { DASH, type Formats, type Unit } from '../format/numbers.ts';
import type { Dress, GridCell, GridColumn, GridRow } from '../grid/plan-grid.ts';
import { TERMS } from '../kit/terms.ts';
import { typedCell } from '../grid/table-rows.ts';
import { shareOf } from './read-part.ts';

/** A row of the table: somebody's target, or what the parts of one leave or exceed. */
export type TargetLine =
  | { readonly kind: 'node'; readonly key: string; readonly node: TargetNode }
  | { readonly kind: 'rest'; readonly key: string; readonly of: TargetNode };

/** Whether anything is left beside the parts of a node: of its target, or of what is sold in it. */
function hasRest({ unassigned, overAssigned, others }: TargetNode): boolean {
  const { lastYear = 0, actual = 0, outlook = 0 } = others ?? {};
  return [unassigned, overAssigned, lastYear, actual, outlook].some((value) => (value ?? 0) !== 0);
}

/** The rows in the order of display; what the parts of a target leave stands after the last of them. */
export function linesOf(nodes: readonly TargetNode[]): TargetLine[] {
  const lines: TargetLine[] = [];
  const open: TargetNode[] = [];
  const close = (level: number): void => {
    for (let last = open.at(-1); last && last.level >= level; last = open.at(-1)) {
      open.pop();
      if (hasRest(last)) {
        lines.push({ kind: 'rest', key: `rest ${last.id}`, of: last });
      }
    }
  };
  for (const node of nodes) {
    close(node.level);
    lines.push({ kind: 'node', key: String(node.id), node });
    if (node.unassigned !== null) open.push(node);
  }
  close(0);
  return lines;
}

/** Money of other columns than the target follows from elsewhere. */
export function targetColumns(planner: boolean): GridColumn[] {
  const read = (key: string, heading: string, fixed: string, more = {}): GridColumn => ({
    key,
    heading,
    size: 92,
    ...(planner ? { fixed } : {}),
    ...more,
  });
  return [
    { key: 'target', heading: 'Target', size: 100 },
    { key: 'share', heading: 'Share', size: 76 },
    read('lastYear', 'Last year', 'Last year is actual sales', { closed: true }),
    read('outlook', 'Forecast', 'The forecast is calculated; change it in Drivers or Forecast'),
    read('actual', 'Actual', 'Actual sales come from Actuals', { closed: true }),
    read('mark', 'Actual | to date', 'Calculated from actual and target', {
      size: 150,
      align: 'left',
      means: `The tick is the ${TERMS.targetToDate.name.toLowerCase()}. ${TERMS.targetToDate.says}`,
    }),
    read('attained', 'Attained', 'Calculated from actual and target', {
      means: TERMS.attainment.says,
    }),
    read('toDate', 'To date', 'Calculated from actual and the target to date', {
      means: `Actual over the target to date. ${TERMS.targetToDate.says}`,
    }),
  ];
}

/** A line's number in a column, by which rows are put in order; what the parts leave stands last. */
export function sizeIn(line: TargetLine, column: string): number | null {
  if (line.kind === 'rest') return null;
  const { node } = line;
  switch (column) {
    case 'target':
      return node.amount;
    case 'share':
      return shareOf(node);
    case 'lastYear':
      return node.lastYear;
    case 'outlook':
      return node.outlook;
    case 'actual':
      return node.actual;
    case 'toDate':
      return node.toDate;
    default:
      return node.attained;
  }
}

/** Under this part of what the season says, a holder counts as behind. */
const BEHIND = 0.97;

/** How the table shows its numbers. */
export interface TargetLook {
  readonly formats: Formats;
  readonly unit: Unit;
  readonly minor: number;
}

/** A line as a row of the grid, in the order of the columns. */
export function targetRow(line: TargetLine, look: TargetLook): Omit<GridRow, 'folded'> {
  const { formats, unit, minor } = look;
  const money = (cents: number, dress: Dress): GridCell => ({
    text: formats.show(cents / minor, 'money', unit),
    ...typedCell(cents / minor, 'money', unit, formats),
    dress,
    title: formats.full(cents / minor, 'money'),
  });
  const percent = (share: number | null, dress: Dress): GridCell => ({
    text: formats.show(share, 'percent'),
    ...typedCell(share, 'percent', 1, formats),
    dress,
  });
  const none: GridCell = { text: '', typed: '', dress: 'plain' };
  if (line.kind === 'rest') {
    const { of } = line;
    const over = (of.overAssigned ?? 0) > 0;
    const rest = over ? of.overAssigned : of.unassigned;
    const fixed = 'It follows from the parts; change one of them';
    const added =
      of.percentsBelow > 100
        ? `the percents add up to ${formats.show(of.percentsBelow / 100, 'percent')}`
        : undefined;
    return {
      key: line.key,
      label: over ? 'Over-assigned' : (of.unassigned ?? 0) > 0 ? 'Unassigned' : 'Others',
      ...(added ? { tail: added } : {}),
      level: of.level + 1,
      parent: false,
      strong: true,
      waits: true,
      cells: [
        { ...money(rest ?? 0, 'missing'), fixed },
        { ...percent(ratio(rest ?? 0, of.amount), 'missing'), fixed },
        money(of.others?.lastYear ?? 0, 'books'),
        money(of.others?.outlook ?? 0, 'forecast'),
        money(of.others?.actual ?? 0, 'books'),
        ...Array.from({ length: 3 }, () => none),
      ],
    };
  }
  const { node } = line;
  const typed = (kind: TargetNode['part']['kind']): Dress =>
    node.part.kind === kind ? 'typed' : 'plain';
  const behind = node.toDate !== null && node.toDate < BEHIND;
  const cells: GridCell[] = [
    money(node.amount, typed('amount')),
    node.parent === null
      ? { ...none, text: DASH, fixed: 'The target of the whole company is an amount' }
      : percent(shareOf(node), typed('percent')),
    money(node.lastYear, 'books'),
    money(node.outlook, 'forecast'),
    money(node.actual, 'books'),
    {
      ...none,
      mark: { kind: 'bar' as const, is: node.attained ?? 0, should: node.due, full: 1 },
    },
    percent(node.attained, 'plain'),
    { ...percent(node.toDate, 'plain'), judgement: behind ? 'bad' : 'even' },
  ];
  return {
    key: line.key,
    label: node.name,
    ...(node.until === null ? {} : { tail: `to ${shortMonth(monthFrom(node.until), true)}` }),
    level: node.level,
    parent: node.unassigned !== null,
    strong: node.level < 2,
    cells,
  };
}
