import type { CopiedAddress, CopyLook, VersionCopy } from '@dravex/contract';
import {
  changesForCopy,
  copyWithUplifts,
  keepForecast,
  keepSubscribers,
  monthFrom,
  monthText,
  movementColumns,
  movementRows,
  movementsWithUplift,
  narrowestOf,
  ScopesCross,
  sourceNamed,
  type BudgetCell,
  type KeptSubscribers,
  type Scope,
  type Span,
} from '@dravex/core';
import { mustPlan, type Actor } from '../people/actor.ts';
import { checkFrame } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { checkMonths, keep } from './service.ts';
import { cellsNow } from './store.ts';
import { subscribersOf } from './subscriber-store.ts';
import { versionAt } from './versions.ts';

/** What is copied: its name, its months, its cells and its subscriptions. */
interface Copied {
  readonly name: string;
  readonly span: Span;
  readonly cells: readonly BudgetCell[];
  readonly subscribers: KeptSubscribers | undefined;
}

/** @throws HttpProblem 400 for months without numbers, 404 */
async function copiedFrom(
  db: Database,
  loaded: LoadedPlan,
  { workspaceId }: Actor,
  { of, from, to }: CopiedAddress,
): Promise<Copied> {
  const source = sourceNamed(of);
  const { plan, model } = loaded;
  if (source?.kind === 'version') {
    const { name, ...months } = await versionAt(db, workspaceId, source);
    const all = { from: monthFrom(months.from), to: monthFrom(months.to) };
    const span = {
      from: from === undefined ? all.from : Math.max(all.from, monthFrom(from)),
      to: to === undefined ? all.to : Math.min(all.to, monthFrom(to)),
    };
    if (span.from > span.to) {
      const message = `${name} covers ${months.from} to ${months.to}`;
      throw badRequest(message, [{ path: 'from', message }]);
    }
    const cells = await cellsNow(db, workspaceId, source.id, { ...span, at: source.at });
    return {
      name,
      span,
      cells,
      subscribers: await subscribersOf(db, workspaceId, source.id, source.at),
    };
  }
  const span = { from: monthFrom(from ?? ''), to: monthFrom(to ?? '') };
  checkMonths(loaded, { from: monthText(span.from), to: monthText(span.to) });
  const { closedThrough } = plan.calendar;
  const sold = source?.kind === 'actual';
  if (sold && span.to > monthFrom(closedThrough)) {
    const message = `Sales are known through ${closedThrough}; end there, or copy the forecast`;
    throw badRequest(message, [{ path: 'to', message }]);
  }
  const { rows } = keepForecast(
    sold ? loaded.actual : loaded.forecast,
    span,
    plan.currency.minorDigits,
  );
  if (rows.length === 0) {
    const message = 'Nothing was sold and nothing is forecast in these months';
    throw badRequest(message, [{ path: 'from', message }]);
  }
  return {
    ...{ name: sold ? 'actual sales' : 'the forecast', span, cells: rows },
    subscribers: sold ? undefined : keepSubscribers(model, span),
  };
}

/** What has ended of what is copied, or is missing in it; and the months of the copy. */
function changesOf({ plan, actual, forecast }: LoadedPlan, { cells, span }: Copied, shift: number) {
  const months = { from: span.from + shift, to: span.to + shift };
  const changes = changesForCopy(
    cells,
    { actual, forecast },
    {
      closedThrough: monthFrom(plan.calendar.closedThrough),
      span: months,
      minorDigits: plan.currency.minorDigits,
    },
  );
  return { ...changes, from: monthText(months.from), to: monthText(months.to) };
}

/** So many of what has ended or is new are named. */
const NAMED = 12;

const revenueOf = (cells: readonly BudgetCell[]): number =>
  cells.reduce((sum, { revenue }) => sum + revenue, 0);

/** What a copy would carry on, or lack. @throws HttpProblem 400, 404 */
export async function lookAtCopy(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  address: CopiedAddress,
): Promise<CopyLook> {
  const loaded = await plans.current(actor.workspaceId);
  const copied = await copiedFrom(connections.db, loaded, actor, address);
  const { discontinued, added, from, to } = changesOf(loaded, copied, address.shift);
  const members = new Map(loaded.plan.combinations.map((one) => [one.id, one.members]));
  const told = (cells: readonly BudgetCell[]): CopyLook['added'] => {
    const byCombination = new Map<number, number>();
    for (const { combination, revenue } of cells) {
      byCombination.set(combination, (byCombination.get(combination) ?? 0) + revenue);
    }
    const largest = [...byCombination].sort(([, a], [, b]) => b - a);
    return {
      combinations: largest.length,
      revenue: revenueOf(cells),
      members: largest.slice(0, NAMED).map(([id]) => [...(members.get(id) ?? [])]),
    };
  };
  const revenue = revenueOf(copied.cells);
  return { from, to, revenue, discontinued: told(discontinued), added: told(added) };
}

/** @throws HttpProblem 400 that names the two uplifts that hold the same sales */
function refuseCrossing(
  { model }: LoadedPlan,
  error: unknown,
  uplifts: readonly { scope: Scope }[],
): never {
  if (!(error instanceof ScopesCross)) throw error;
  // The first is the uplift of everything, which crosses none.
  const [one, other] = error.places.map((place) => model.tree.label(uplifts[place]?.scope ?? []));
  const message = `${one} and ${other} both hold some sales; add one for both together, or leave one out`;
  throw badRequest(message, [{ path: `uplifts.${error.places[1] - 1}.scope`, message }]);
}

/**
 * Makes a version as a copy with uplifts, some months later, its totals exact; what has ended is left
 * out and what is new comes in from the forecast, where that is wanted.
 * @throws HttpProblem 400 for months outside the plan and uplifts that cross; 404, 409
 */
export async function copyVersion(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  copy: VersionCopy,
): Promise<{ id: number }> {
  mustPlan(actor);
  const { name, note, volume, price, shift, discontinued, added } = copy;
  const loaded = await plans.current(actor.workspaceId);
  for (const { scope } of copy.uplifts) checkFrame(loaded, [], scope);
  const copied = await copiedFrom(connections.db, loaded, actor, copy);
  const changes = changesOf(loaded, copied, shift);
  const input = { name, note, from: changes.from, to: changes.to };
  checkMonths(loaded, input);
  const ended = new Set(
    discontinued === 'leaveOut' ? changes.discontinued.map(({ combination }) => combination) : [],
  );
  const { tree } = loaded.model;
  const uplifts = [{ scope: [], volume, price }, ...copy.uplifts];
  const members = new Map(loaded.plan.combinations.map((one) => [one.id, one.members]));
  const membersOf = (combination: number): Scope => members.get(combination) ?? [];
  const uplifted = (): BudgetCell[] => {
    const held = copied.cells.filter(({ combination }) => !ended.has(combination));
    try {
      return copyWithUplifts(tree, membersOf, held, uplifts, shift);
    } catch (error) {
      return refuseCrossing(loaded, error, uplifts);
    }
  };
  const cells = [...uplifted(), ...(added === 'forecast' ? changes.added : [])];
  const inMonths = ({ month }: { month: string }): boolean =>
    monthFrom(month) >= copied.span.from && monthFrom(month) <= copied.span.to;
  const rows = (copied.subscribers ? movementRows(copied.subscribers) : []).filter(
    (row) => !ended.has(row.combination) && inMonths(row),
  );
  const moved = rows.flatMap((row) => {
    const place = narrowestOf(tree, membersOf(row.combination), uplifts) ?? 0;
    return movementsWithUplift([row], uplifts[place] ?? { volume, price }, shift);
  });
  return keep(
    connections,
    loaded,
    actor,
    input,
    `Copied ${copied.name} to ${name}`,
    () => Promise.resolve({ cells, subscribers: movementColumns(moved) }),
    (id) => ({ id }),
  );
}
