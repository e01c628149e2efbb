import type { TargetNode } from '@dravex/contract';
import { monthFrom, ratio, type Display } from '@dravex/core';
import { shortMonth } from '../format/periods.ts';
import { DASH, type Formats, type Unit } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import {
  cellsOnDemand,
  type Dress,
  type GridCell,
  type GridCells,
  type GridColumn,
  type GridRow,
} from '../grid/plan-grid.ts';
import { TERMS } from '../kit/terms.ts';
import { typedCell } from '../grid/table-rows.ts';
import { shareOf } from './read-part.ts';
import { TEXTS } from './texts.ts';

/** A row of the table: somebody's target, or what the parts of one leave or exceed. */
export type TargetLine =
  | { readonly kind: 'node'; readonly key: string; readonly node: TargetNode }
  | { readonly kind: 'rest'; readonly key: string; readonly of: TargetNode };

/** Whether anything is left beside the parts of a node: of its target, or of what is sold in it. */
function hasRest({ unassigned, overAssigned, cushionUsed, others }: TargetNode): boolean {
  const { lastYear = 0, actual = 0, outlook = 0 } = others ?? {};
  const left = [unassigned, overAssigned, cushionUsed, lastYear, actual, outlook];
  return left.some((value) => (value ?? 0) !== 0);
}

/** Whether a node has parts. */
export const isDivided = ({ others }: TargetNode): boolean => others !== null;

/**
 * The people of a node's own part of the tree: itself, where it is one.
 * @param nodes all nodes, parents before what is below them
 */
export function peopleOf(
  { id }: Pick<TargetNode, 'id'>,
  nodes: readonly TargetNode[],
): TargetNode[] {
  const within = new Set([id]);
  return nodes.filter((node) => {
    if (node.parent !== null && within.has(node.parent)) within.add(node.id);
    return within.has(node.id) && node.kind === 'person';
  });
}

/** People and teams without parts, without the tree: to be put in order by any column. */
export function rankedLines(nodes: readonly TargetNode[]): TargetLine[] {
  return nodes
    .filter(
      ({ kind, others, counts }) =>
        kind === 'person' || (others === null && counts?.seller === null),
    )
    .map((node) => ({ kind: 'node', key: String(node.id), node }));
}

/** Actual less the target to date; null where no target is due. */
export function gapOf({ actual, amount, due, known }: TargetNode): number | null {
  return due === null || !known ? null : actual - Math.round(amount * due);
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
    if (isDivided(node)) open.push(node);
  }
  close(0);
  return lines;
}

/**
 * Money of other columns than the target follows from elsewhere.
 * @param capacity whether anybody has said what people can sell
 */
export function targetColumns(planner: boolean, capacity: boolean): GridColumn[] {
  const read = (key: string, heading: string, fixed: string, more = {}): GridColumn => ({
    key,
    heading,
    size: 78,
    ...(planner ? { fixed } : {}),
    ...more,
  });
  return [
    { key: 'target', heading: TEXTS.target, size: 86 },
    { key: 'share', heading: TEXTS.share, size: 72 },
    read('lastYear', WORDS.lastYear, TEXTS.lastYearIsActualSales, { closed: true }),
    read('outlook', WORDS.forecast, TEXTS.forecastIsCalculatedChangeIt),
    ...(capacity
      ? [
          read('capacity', TEXTS.capacity, TEXTS.itFollowsFromPeopleEdit, {
            means: TERMS.capacity.says,
          }),
        ]
      : []),
    read('actual', WORDS.actual, TEXTS.actualSalesComeFromActuals, { closed: true }),
    read('mark', TEXTS.actualToDate, TEXTS.calculatedFromActualAndTarget, {
      size: 122,
      align: 'left',
      means: TEXTS.tickIs(TERMS.targetToDate.name.toLowerCase(), TERMS.targetToDate.says),
    }),
    read('attained', TEXTS.attained, TEXTS.calculatedFromActualAndTarget, {
      size: 74,
      means: TERMS.attainment.says,
    }),
    read('toDate', TEXTS.toDate, TEXTS.calculatedFromActualAndTargetTo, {
      size: 72,
      means: TEXTS.actualOverTargetToDate(TERMS.targetToDate.says),
    }),
    read('gap', TEXTS.gap, TEXTS.calculatedFromActualAndTargetTo, {
      means: TEXTS.actualLessTargetToDate(TERMS.targetToDate.says),
    }),
    read('pace', TEXTS.pace, TEXTS.calculatedFromTargetAndActual, { means: TERMS.pace.says }),
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
    case 'gap':
      return gapOf(node);
    case 'capacity':
      return node.capacity;
    case 'pace':
      return node.pace;
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
  readonly display: Display;
  /** How many of the whole numbers in which targets are kept make one. */
  readonly wholes: number;
  readonly capacity: boolean;
  /** Whether the target at the top is set here; it is not by whoever it was handed out to. */
  readonly setsTop?: boolean;
}

/** What is said of a node behind its name. */
function tailOf({ from, until, locked, state, cushion, account, name }: TargetNode): string {
  const month = (text: string): string => shortMonth(monthFrom(text), true);
  const parts = [
    ...(account !== null && account !== name ? [account] : []),
    ...(from === null ? [] : [TEXTS.from(month(from))]),
    ...(until === null ? [] : [TEXTS.toOf(month(until))]),
    ...(cushion > 0 ? [TEXTS.cushionPercent(cushion)] : []),
    ...(locked ? ['locked'] : []),
    ...(state === 'draft' ? [] : [STATES[state]]),
  ];
  return parts.join(' · ');
}
/** How far a target is agreed, in words. */
export const STATES: Readonly<Record<TargetNode['state'], string>> = {
  draft: 'draft',
  handedOut: TEXTS.handedOut,
  agreed: 'agreed',
  questioned: 'question',
};

/** A line as a row of the grid, in the order of the columns. */
export function targetRow(line: TargetLine, look: TargetLook): Omit<GridRow, 'folded'> {
  const { formats, unit, wholes, display, capacity } = look;
  const none: GridCell = { text: '', typed: '', dress: 'plain' };
  const amount = (value: number | null, dress: Dress): GridCell => {
    if (value === null) return { ...none, text: DASH, dress };
    return {
      text: formats.show(value / wholes, display, unit),
      ...typedCell(value / wholes, display, unit, formats),
      dress,
      title: formats.full(value / wholes, display),
    };
  };
  const percent = (share: number | null, dress: Dress): GridCell => ({
    text: formats.show(share, 'percent'),
    ...typedCell(share, 'percent', 1, formats),
    dress,
  });
  if (line.kind === 'rest') return restRow(line.of, { amount, percent, none, look });
  const { node } = line;
  const typed = (kind: TargetNode['part']['kind']): Dress =>
    node.part.kind === kind ? 'typed' : 'plain';
  const behind = node.toDate !== null && node.toDate < BEHIND;
  const known = (value: number): number | null => (node.known ? value : null);
  const gap = gapOf(node);
  const tail = tailOf(node);
  const make = (): GridCell[] => [
    {
      ...amount(node.amount, typed('amount')),
      ...(node.parent === null && look.setsTop === false
        ? { fixed: TEXTS.yourOwnTargetIsSet }
        : {}),
    },
    node.parent === null
      ? { ...none, text: DASH, fixed: TEXTS.targetOfWholeCompanyIs }
      : display === 'score'
        ? { ...none, text: DASH, fixed: TEXTS.scoreDoesNotAddUp }
        : percent(shareOf(node), typed('percent')),
    amount(known(node.lastYear), 'books'),
    amount(known(node.outlook), 'forecast'),
    ...(capacity ? [amount(node.capacity, 'plain')] : []),
    amount(known(node.actual), 'books'),
    node.known
      ? { ...none, mark: { kind: 'bar', is: node.attained ?? 0, should: node.due, full: 1 } }
      : none,
    percent(node.attained, 'plain'),
    { ...percent(node.toDate, 'plain'), judgement: behind ? 'bad' : 'even' },
    {
      ...amount(gap, 'plain'),
      ...(gap === null ? {} : { text: formats.signed(gap / wholes, display, unit) }),
      judgement: behind ? 'bad' : 'even',
    },
    amount(node.pace === null ? null : Math.round(node.pace), 'plain'),
  ];
  return {
    key: line.key,
    label: node.name,
    ...(tail === '' ? {} : { tail }),
    level: node.level,
    parent: isDivided(node),
    strong: node.level < 2,
    cells: onDemand(capacity, make),
  };
}

/** Columns of a row. */
const COLUMNS = 10;
/** Cells that are made when their row comes into sight: of thousands of rows only some do. */
function onDemand(capacity: boolean, make: () => GridCell[]): GridCells {
  let made: GridCell[] | undefined;
  return cellsOnDemand(COLUMNS + (capacity ? 1 : 0), (at) => {
    made ??= make();
    return made[at] ?? { text: '', typed: '', dress: 'plain' };
  });
}

/** What the parts of a node leave of its target, or exceed it by, and what none of them sells. */
function restRow(
  of: TargetNode,
  show: {
    readonly amount: (value: number | null, dress: Dress) => GridCell;
    readonly percent: (share: number | null, dress: Dress) => GridCell;
    readonly none: GridCell;
    readonly look: TargetLook;
  },
): Omit<GridRow, 'folded'> {
  const { amount, percent, none, look } = show;
  const over = (of.overAssigned ?? 0) > 0;
  const within = !over && of.cushionUsed > 0;
  const rest = over ? of.overAssigned : within ? of.cushionUsed : of.unassigned;
  const fixed = TEXTS.itFollowsFromPartsChange;
  const added =
    of.percentsBelow > 100
      ? TEXTS.inAll(look.formats.show(of.percentsBelow / 100, 'percent'))
      : undefined;
  const left = (of.unassigned ?? 0) > 0;
  return {
    key: `rest ${of.id}`,
    label: over
      ? 'Over-assigned'
      : within
        ? TEXTS.withinTheCushion
        : left
          ? TEXTS.unassigned
          : TEXTS.others,
    ...(added ? { tail: added } : {}),
    level: of.level + 1,
    parent: false,
    strong: true,
    waits: true,
    cells: [
      { ...amount(rest, 'missing'), fixed },
      { ...percent(rest === null ? null : ratio(rest, of.amount), 'missing'), fixed },
      amount(of.others?.lastYear ?? null, 'books'),
      amount(of.others?.outlook ?? null, 'forecast'),
      ...(look.capacity ? [none] : []),
      amount(of.others?.actual ?? null, 'books'),
      ...Array.from({ length: 5 }, () => none),
    ],
  };
}
