import type {
  Conflict,
  EntriesResult,
  TypedEntries,
  TypedEntry,
  VersionEntries,
} from '@dravex/contract';
import {
  budgetTotal,
  DivisionError,
  MEASURES,
  monthFrom,
  monthText,
  scopeIndex,
  typeBudget,
  type BudgetCell,
  type Calendar,
  type Figures,
  type MemberTree,
  type Scope,
} from '@dravex/core';
import { checkFrame, combinationsIn, windowOf } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import { changedSince } from '../journal/store.ts';
import { mustPlan, type Actor, type Right } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, changedMeanwhile, conflict, notFound } from '../platform/errors.ts';
import { pausesFor } from '../platform/pauses.ts';
import * as store from './store.ts';
import { insertSubscriberEntries } from './subscriber-store.ts';
import {
  SubscriptionsTyped,
  typedOf,
  type TypedOfCells,
  type TypedOfSubscriptions,
} from './subscriptions-typed.ts';
import {
  numbersOfCell,
  cellId,
  cellNames,
  subscriptionId,
  subscriptionNames,
  typedNumbers,
} from './thing.ts';

/** What cells of a version are made of. @throws HttpProblem 404 */
export async function listEntries(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  versionId: number,
  {
    scope,
    ...months
  }: { scope: readonly number[]; from: string; to: string; at?: string | undefined },
): Promise<VersionEntries> {
  const { workspaceId } = actor;
  const loaded = await plans.current(workspaceId);
  checkFrame(loaded, [], scope);
  const [version] = await store.versions(connections.db, workspaceId, versionId);
  if (!version) throw notFound('such version');
  const combinations = combinationsIn(loaded, scope);
  const minor = 10 ** loaded.plan.currency.minorDigits;
  return store.entriesOf(
    connections.db,
    workspaceId,
    versionId,
    { combinations, ...months },
    minor,
  );
}

/** Taking in a typed number, in cells. */
const NUMBER_IS_AS_LONG_AS = 20;
/** Of more numbers that others changed meanwhile it is not looked up who. */
const MOST_NAMED = 100;

/** A cell as it is now; one that is not planned has nothing. */
const cellAt = (
  now: ReadonlyMap<string, BudgetCell>,
  combination: number,
  month: number,
): BudgetCell =>
  now.get(`${combination} ${month}`) ?? { combination, month, units: 0, revenue: 0, cost: null };

/**
 * The cells that a number typed over a scope and a window lies on, as they are now.
 * @param within the combinations in a scope
 */
export function cellsUnder(
  { calendar, within }: { calendar: Calendar; within: (scope: Scope) => readonly number[] },
  typed: Pick<TypedEntry, 'scope' | 'from' | 'to'>,
  now: ReadonlyMap<string, BudgetCell>,
  planned: ReadonlySet<number>,
): BudgetCell[] {
  const inside = within(typed.scope);
  const span = windowOf(calendar, typed);
  // What the version plans; where it plans nothing of a scope, all that the scope holds.
  const plannedInside = inside.filter((id) => planned.has(id));
  const cells: BudgetCell[] = [];
  for (const combination of plannedInside.length > 0 ? plannedInside : inside) {
    for (let month = span.from; month <= span.to; month += 1) {
      cells.push(cellAt(now, combination, month));
    }
  }
  return cells;
}

/** By what a measure is divided like last year or the forecast. */
const WEIGHED_BY = {
  ...{ units: 'units', revenue: 'revenue', cost: 'revenue', averagePrice: 'revenue' },
  ...{ newSubscribers: 'units', recurringRevenue: 'revenue' },
} as const satisfies Record<TypedEntry['measure'], 'units' | 'revenue'>;

/** What weighs each cell on a basis from elsewhere: last year's sales or the forecast. */
function weightsOf(
  { actual, forecast }: LoadedPlan,
  { basis, measure }: TypedEntry,
  cells: readonly Pick<BudgetCell, 'combination' | 'month'>[],
): number[] | undefined {
  if (basis !== 'lastYear' && basis !== 'forecast') return undefined;
  const figures: Figures = basis === 'lastYear' ? actual : forecast;
  const back = basis === 'lastYear' ? 12 : 0;
  const of = WEIGHED_BY[measure];
  const position = new Map(figures.combinations.map(({ id }, index) => [id, index]));
  return cells.map(({ combination, month }) => {
    const t = month - back - figures.first;
    const index = position.get(combination);
    if (index === undefined || t < 0 || t >= figures.count) return 0;
    return Math.max(0, figures.measures[of][index * figures.count + t] || 0);
  });
}

/** Units that were added up in another order, and prices, are the same within a hair; money is exact. */
function same(a: number | null, b: number | null): boolean {
  if (a === null || b === null || (Number.isInteger(a) && Number.isInteger(b))) return a === b;
  return Math.abs(a - b) <= 1e-9 * Math.max(1, Math.abs(a), Math.abs(b));
}

/** A cell as it becomes, and as it was; undefined where nothing was planned. */
export interface ChangedCell {
  readonly cell: BudgetCell;
  readonly old: BudgetCell | undefined;
}

/** Writes changed cells as entries, and down in the journal. */
export async function writeCells(
  tx: Database,
  workspaceId: number,
  versionId: number,
  changed: readonly ChangedCell[],
  {
    name,
    tree,
    members,
  }: {
    readonly name: string;
    readonly tree: MemberTree;
    readonly members: ReadonlyMap<number, readonly number[]>;
  },
  record: Recorder,
): Promise<void> {
  await store.insertEntries(
    tx,
    workspaceId,
    record.journalId,
    changed.map(({ cell, old }) => ({
      ...cell,
      versionId,
      units: Number((cell.units - (old?.units ?? 0)).toFixed(3)),
      revenue: cell.revenue - (old?.revenue ?? 0),
      cost: cell.cost === null ? null : cell.cost - (old?.cost ?? 0),
    })),
  );
  const pause = pausesFor();
  for (const { cell, old } of changed) {
    await pause(4);
    const of = members.get(cell.combination) ?? [];
    const names = cellNames(name, of, monthText(cell.month), tree);
    const before = numbersOfCell(old ?? { units: 0, revenue: 0, cost: null });
    record.changed('cell', cellId(versionId, cell), before, numbersOfCell(cell), names);
  }
}

/** What was typed, in a sentence. */
function inWords(loaded: LoadedPlan, name: string, { typed }: TypedEntries): string {
  const [first] = typed;
  if (!first || typed.length > 1) return `Typed ${typed.length} numbers into ${name}`;
  const months = first.from === first.to ? first.from : `${first.from} to ${first.to}`;
  const { name: measure } = MEASURES[first.measure];
  return `Typed ${measure.toLowerCase()} of ${loaded.model.tree.label(first.scope)}, ${months}, in ${name}`;
}

/** Who may type where, if it is not whoever plans. */
interface TypingRight {
  readonly may: Right;
  /** Asked once nothing can change any more. @throws HttpProblem */
  readonly still: (tx: Database, record: Recorder) => Promise<void>;
  /** What was done, in a sentence. */
  readonly what: string;
}

/**
 * Takes numbers typed over cells and totals of an open version, all or none: each becomes entries
 * of the cells below it, so that they add up to what was typed, to the cent and the unit.
 * @param right of somebody who types into a part of it
 * @throws HttpProblem 409 with both values where somebody else typed meanwhile, or when it is sealed
 */
export async function typeInto(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  versionId: number,
  input: TypedEntries,
  right?: TypingRight,
): Promise<EntriesResult> {
  const may = right?.may ?? mustPlan;
  may(actor);
  const { workspaceId } = actor;
  const loaded = await plans.current(workspaceId);
  for (const { scope } of input.typed) checkFrame(loaded, [], scope);
  const type = async (tx: Database, record: Recorder): Promise<EntriesResult> => {
    await right?.still(tx, record);
    const version = await openVersion(tx, workspaceId, versionId, input.typed);
    const before: BudgetCell[] = await store.cellsNow(tx, workspaceId, versionId);
    const now = new Map(before.map((cell) => [`${cell.combination} ${cell.month}`, cell]));
    const planned = new Set(before.map(({ combination }) => combination));
    const start = new Map(now);
    const subscriptions = await SubscriptionsTyped.of(
      tx,
      workspaceId,
      versionId,
      loaded,
      input.typed,
    );
    const pause = pausesFor();
    const conflicts: Conflict[] = [];
    const { combinations, calendar } = loaded.plan;
    const inScopes = scopeIndex(loaded.model.tree, combinations);
    const within = (scope: Scope): number[] =>
      inScopes.within(scope).flatMap((place) => combinations[place]?.id ?? []);
    const under = (typed: TypedEntry, cells: typeof now): BudgetCell[] =>
      cellsUnder({ calendar, within }, typed, cells, planned);
    for (const [index, typed] of input.typed.entries()) {
      const one = typedOf(typed);
      const lying = under(typed, start);
      await pause(lying.length + NUMBER_IS_AS_LONG_AS);
      const standing =
        'cells' in one
          ? budgetTotal(lying, one.cells.measure)
          : subscriptions.totalAtFirst(one.subscriptions);
      if (!same(standing, typed.saw) && !same(standing, typed.total)) {
        const who =
          conflicts.length < MOST_NAMED
            ? await lastTyped(tx, workspaceId, versionId, under(typed, now))
            : { by: '', at: '' };
        conflicts.push({ path: `typed.${index}`, saw: typed.saw, now: standing, ...who });
        continue;
      }
      const changed =
        'cells' in one
          ? spread(loaded, one.cells, under(typed, now), index)
          : spreadSubscribers(loaded, version, one.subscriptions, subscriptions, now, index);
      for (const cell of changed) now.set(`${cell.combination} ${cell.month}`, cell);
    }
    if (conflicts.length > 0) throw changedMeanwhile(conflicts);
    const members = new Map(loaded.plan.combinations.map((c) => [c.id, c.members]));
    const labelled = { name: version.name, tree: loaded.model.tree, members };
    const changed = [...now].flatMap(([key, cell]): ChangedCell[] => {
      const old = start.get(key);
      return cell === old ? [] : [{ cell, old }];
    });
    await writeCells(tx, workspaceId, versionId, changed, labelled, record);
    const moved = subscriptions.changes();
    await insertSubscriberEntries(
      tx,
      workspaceId,
      record.journalId,
      moved.map(({ before: was, now: is }) => ({
        ...is,
        versionId,
        starters: is.starters - was.starters,
        price: is.price - was.price,
      })),
    );
    for (const { before: was, now: is } of moved) {
      const { combination, month } = is;
      const names = subscriptionNames(
        version.name,
        members.get(combination) ?? [],
        month,
        loaded.model.tree,
      );
      const id = subscriptionId(versionId, is);
      record.changed('subscription', id, typedNumbers(was), typedNumbers(is), names);
    }
    record.say(right?.what ?? inWords(loaded, version.name, input), input.why);
    const [kept] = await store.versions(tx, workspaceId, versionId);
    return {
      // Where subscriptions were typed, what follows of units and revenue is not what was spread.
      cells: moved.length > 0 ? moved.length : changed.length,
      lastEntry: kept?.lastEntry ?? 0,
      revision: record.revision,
      journal: record.changes.length > 0 ? record.journalId : null,
    };
  };
  return journaled(connections, actor, 'budget', type, { may });
}

/**
 * A version that takes entries in some months, locked.
 * @throws HttpProblem 400 at what was typed outside of its months, 404, 409
 */
export async function openVersion(
  tx: Database,
  workspaceId: number,
  versionId: number,
  typed: readonly Pick<TypedEntry, 'from' | 'to'>[],
): Promise<store.VersionRow> {
  const version = await store.lockVersion(tx, workspaceId, versionId);
  if (!version || version.removed) throw notFound('such version');
  if (version.state !== 'open') {
    throw conflict(`${version.name} is locked; copy it to make changes`);
  }
  checkMonths(version, typed);
  return version;
}

function checkMonths(
  version: store.VersionRow,
  typed: readonly Pick<TypedEntry, 'from' | 'to'>[],
): void {
  const first = version.fromMonth.slice(0, 7);
  const last = version.toMonth.slice(0, 7);
  typed.forEach(({ from, to }, index) => {
    if (from >= first && to <= last) return;
    const message = `${version.name} covers ${first} to ${last}; ${from < first ? from : to} is outside`;
    throw badRequest(message, [{ path: `typed.${index}`, message }]);
  });
}

/** Money that is typed whole: prices have decimals. */
const WHOLE: ReadonlySet<string> = new Set(['revenue', 'cost', 'recurringRevenue']);

/**
 * Spreads what was typed over what lies below it.
 * @throws HttpProblem 400 at what was typed, where there is nothing or it cannot be divided
 */
function spreadOver<T>(
  { measure, total }: TypedEntry,
  index: number,
  below: readonly T[],
  nothing: string,
  divide: () => BudgetCell[],
): BudgetCell[] {
  const refuse = (message: string): never => {
    throw badRequest(message, [{ path: `typed.${index}.total`, message }]);
  };
  if (WHOLE.has(measure) && !Number.isSafeInteger(total)) {
    refuse('Money is a whole number of minor units');
  }
  if (below.length === 0) refuse(nothing);
  try {
    return divide();
  } catch (error) {
    if (error instanceof DivisionError) return refuse(error.message);
    throw error;
  }
}

function spread(
  loaded: LoadedPlan,
  typed: TypedOfCells,
  cells: readonly BudgetCell[],
  index: number,
): BudgetCell[] {
  const { measure, total, basis, keeps } = typed;
  return spreadOver(typed, index, cells, 'There is nothing below this to spread it over', () => {
    const weights = weightsOf(loaded, typed, cells);
    return typeBudget(cells, { measure, total, basis, keeps, ...(weights ? { weights } : {}) });
  });
}

/** @returns the cells that follow from what was typed into subscriptions */
function spreadSubscribers(
  loaded: LoadedPlan,
  { name }: store.VersionRow,
  typed: TypedOfSubscriptions,
  subscriptions: SubscriptionsTyped,
  now: ReadonlyMap<string, BudgetCell>,
  index: number,
): BudgetCell[] {
  const rows = subscriptions.under(typed);
  const nothing = `${name} holds no subscriptions here; save the forecast as a version to have them`;
  return spreadOver(typed, index, rows, nothing, () => {
    const places = rows.map((row) => ({ ...row, month: monthFrom(row.month) }));
    const weights =
      typed.basis === 'forecast'
        ? subscriptions.forecastWeights(typed)
        : weightsOf(loaded, typed, places);
    return subscriptions.type(typed, weights, (combination, month) =>
      cellAt(now, combination, month),
    );
  });
}

/** Who typed last into any of some cells. */
export async function lastTyped(
  tx: Database,
  workspaceId: number,
  versionId: number,
  cells: readonly BudgetCell[],
): Promise<{ by: string; at: string }> {
  const thingId = cells.slice(0, 500).map((cell) => cellId(versionId, cell));
  const last = await changedSince(tx, { workspaceId, thing: 'cell', thingId, cell: '' }, 0);
  return { by: last?.by ?? '', at: last?.at.toISOString() ?? '' };
}
