/** What typing into a driver's grid does to its assumptions and adjustments. */
import { monthFrom, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { liesWithin } from '../dimensions/scopes.ts';
import { adjusted, coversMonth, type Adjustment } from '../drivers/adjustment.ts';
import { FRESH_ID } from '../drivers/assumption-set.ts';
import { refuseValue } from '../drivers/driver.ts';
import { inOrderOfPrecedence } from '../drivers/precedence.ts';
import { scopeKey } from '../drivers/scope-key.ts';
import { typedAt, typeValues, type TypedValue } from '../drivers/typing.ts';
import type { PlanEdit } from '../forecast/change.ts';
import { seriesOfDriver, type Model } from '../forecast/run.ts';
import { streamsIn } from '../forecast/structure.ts';
import type { Problem } from '../problem.ts';
import { driverNamed } from './driver-table.ts';
import { streamsOfDriver } from './rolled.ts';
import { spreadTyped, type TypedTotal } from './spread-typed.ts';
import { toEnd } from '../to-end.ts';

/** A change typed over whatever holds below a scope in one month: each value below changes by it. */
export interface TypedChange {
  readonly scope: Scope;
  readonly month: MonthText;
  readonly kind: 'times' | 'plus';
  /** In the core's form: 1.04 for 4 % more, 0.01 for a point of a percent driver. */
  readonly by: number;
}

/** Everything that is typed at once. */
export interface TypedInput {
  /** A value for all of a scope; null takes back what was typed at exactly that scope. */
  readonly values: readonly TypedValue[];
  /** Totals, which are spread over the streams below. */
  readonly totals: readonly TypedTotal[];
  readonly changes: readonly TypedChange[];
}

/** The streams of a scope that a driver is shown for. */
export function streamsBelow(model: Model, code: string, scope: Scope): readonly number[] {
  return belowOf(model, code)(scope);
}

/** The streams below each scope that is asked for; those of a scope are looked for once. */
type Below = (scope: Scope) => readonly number[];

function belowOf(model: Model, code: string): Below {
  const shown = new Set(streamsOfDriver(model, code));
  const known = new Map<string, readonly number[]>();
  return (scope) => {
    const key = scopeKey(scope);
    const before = known.get(key);
    if (before) return before;
    const found = streamsIn(model, scope).filter((index) => shown.has(index));
    known.set(key, found);
    return found;
  };
}

/** Whether an assumption can be set for a scope: at most one member of a dimension. */
function pinsOnce(model: Model, scope: Scope): boolean {
  return new Set(scope.map((member) => model.tree.dimensionOf(member))).size === scope.length;
}

/** Whether a value typed at a scope as an assumption would hold in every stream below. */
function wouldHold(
  model: Model,
  code: string,
  { scope, month }: Pick<TypedValue, 'scope' | 'month'>,
  further: readonly Adjustment[],
  below: Below,
): boolean {
  if (!pinsOnce(model, scope)) return false;
  const t = monthFrom(month);
  const at = [...model.assumptions.at(code, scope)].toSorted((a, b) => b.id - a.id)[0];
  const inPlace = at?.profile.kind === 'months' && at.from === null && at.to === null;
  const typed = { id: inPlace ? at.id : model.assumptions.fresh, scope };
  return below(scope).every((index) => {
    const members = model.streams[index]?.combination.members ?? [];
    const over = [
      ...model.drivers.adjustments.covering(code, members),
      ...further.filter((one) => model.tree.covers(one.scope, members)),
    ];
    if (over.some((one) => coversMonth(one, t))) return false;
    const holder = seriesOfDriver(model, index, code)?.holders[t - model.first] ?? 0;
    const holding = model.assumptions.get(holder);
    if (!holding || holding.id === typed.id) return true;
    return inOrderOfPrecedence(model.tree, [holding, { ...holding, ...typed }])[0] !== holding;
  });
}

/** Whether nothing is laid over an adjustment in any stream below it. */
function isOnTop(
  model: Model,
  code: string,
  { id, scope, from }: Adjustment,
  below: Below,
): boolean {
  const t = monthFrom(from ?? '');
  return below(scope).every((index) => {
    const members = model.streams[index]?.combination.members ?? [];
    const over = model.drivers.adjustments.covering(code, members);
    return over.filter((one) => coversMonth(one, t)).at(-1)?.id === id;
  });
}

/** Changes of one month that lie within another of the same kind: nothing is changed twice. */
function* onlyOnce(
  model: Model,
  changes: readonly TypedChange[],
): Generator<void, readonly TypedChange[]> {
  const ofMonth = new Map<MonthText, { change: TypedChange; place: number }[]>();
  for (const [place, change] of changes.entries()) {
    const beside = ofMonth.get(change.month);
    if (beside) beside.push({ change, place });
    else ofMonth.set(change.month, [{ change, place }]);
  }
  const kept: TypedChange[] = [];
  for (const [place, inner] of changes.entries()) {
    const within = ofMonth
      .get(inner.month)
      ?.some(
        ({ change: outer, place: other }) =>
          other !== place &&
          liesWithin(model.tree, inner.scope, outer.scope) &&
          (!liesWithin(model.tree, outer.scope, inner.scope) || other < place),
      );
    if (!within) kept.push(inner);
    yield;
  }
  return kept;
}

/**
 * Turns what is typed into changed assumptions and adjustments. A change becomes an adjustment over
 * whatever holds. A value becomes an assumption where that holds in every stream below, else an
 * adjustment that sets them all; a total is spread over the streams below as they stand.
 * @param model evaluated
 * @returns new rows have ids from `FRESH_ID` on
 */
export function typeInto(model: Model, code: string, input: TypedInput): PlanEdit {
  return toEnd(typingInto(model, code, input));
}

/** The same, value by value: whoever runs it can do something else in between. */
export function* typingInto(
  model: Model,
  code: string,
  input: TypedInput,
): Generator<void, PlanEdit> {
  const { adjustments } = model.drivers;
  const below = belowOf(model, code);
  const put: Adjustment[] = [];
  const drop = new Set<number>();
  let fresh = Math.max(FRESH_ID, adjustments.fresh);
  const lay = (scope: Scope, month: MonthText, kind: Adjustment['kind'], value: number): void => {
    const row = { driver: code, scope: [...scope], from: month, to: month, kind, value, note: '' };
    put.push({ id: fresh, ...row });
    fresh += 1;
  };
  for (const { scope, month, kind, by } of yield* onlyOnce(model, input.changes)) {
    lay(scope, month, kind, by);
  }
  const changes = put.slice();
  const spread: TypedValue[] = [];
  for (const total of input.totals) {
    for (const value of spreadTyped(model, code, total)) spread.push(value);
    yield;
  }
  const assumed: TypedValue[] = [];
  for (const typed of [...input.values, ...spread]) {
    yield;
    const { scope, month, value } = typed;
    const here = adjustments.at(code, scope, monthFrom(month));
    if (value === null) {
      for (const { id } of here) drop.add(id);
      if (pinsOnce(model, scope)) assumed.push(typed);
    } else if (wouldHold(model, code, typed, changes, below)) assumed.push(typed);
    else {
      const last = here.at(-1);
      const lastIsThisMonth = last?.kind === 'set' && last.from === month && last.to === month;
      if (lastIsThisMonth && changes.length === 0 && isOnTop(model, code, last, below)) {
        // What was set here is set to something else, in its place.
        if (last.value !== value) put.push({ ...last, value });
        continue;
      }
      // What was set here before is covered by what is set now.
      for (const { id, from, to } of here) if (from === month && to === month) drop.add(id);
      lay(scope, month, 'set', value);
    }
  }
  const edit = typeValues(code, model.assumptions, assumed);
  return put.length > 0 || drop.size > 0
    ? { ...edit, adjustments: { put, drop: [...drop] } }
    : edit;
}

/** What typed changes would leave outside the driver's bounds, the first of each. */
export function changeProblems(
  model: Model,
  code: string,
  changes: readonly TypedChange[],
): (Problem & { readonly place: number })[] {
  const driver = driverNamed(model, code);
  const below = belowOf(model, code);
  return changes.flatMap(({ scope, month, kind, by }, place) => {
    const t = monthFrom(month) - model.first;
    for (const index of below(scope)) {
      const value = seriesOfDriver(model, index, code)?.values[t] ?? Number.NaN;
      if (Number.isNaN(value)) continue;
      const after = adjusted(value, { kind, value: by }, driver);
      const refusal = refuseValue(driver, after);
      if (!refusal) continue;
      const where = model.tree.label(model.streams[index]?.combination.members ?? []);
      const stream = model.streams[index]?.stream.id ?? 0;
      return [
        {
          ...refusal,
          message: `${refusal.message}, for ${where} in ${month}`,
          where: { ...refusal.where, stream, month },
          place,
        },
      ];
    }
    return [];
  });
}

/** What one value typed over a row would make equal. */
export interface Flattened {
  /** How many streams lie below, and how many different values they have. */
  readonly streams: number;
  readonly values: number;
}

/** How many different values of a driver lie below a scope in a month. */
export function flattened(model: Model, code: string, scope: Scope, month: MonthText): Flattened {
  const t = monthFrom(month) - model.first;
  const streams = streamsBelow(model, code, scope);
  const values = new Set(
    streams.flatMap((index) => {
      const value = seriesOfDriver(model, index, code)?.values[t] ?? Number.NaN;
      return Number.isNaN(value) ? [] : [value];
    }),
  );
  return { streams: streams.length, values: values.size };
}

/** What is typed at exactly a scope for a month, as an assumption or over it; null for nothing. */
export function typedThere(
  model: Model,
  code: string,
  scope: Scope,
  month: MonthText,
): { readonly value: number; readonly assumption?: number; readonly adjustment?: number } | null {
  const over = model.drivers.adjustments.at(code, scope, monthFrom(month)).at(-1);
  if (over) return { value: over.value, adjustment: over.id };
  const typed = typedAt(code, model.assumptions, scope, month);
  return typed ? { value: typed.value, assumption: typed.assumption.id } : null;
}
