import { monthFrom, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { valueIn, type Assumption } from './assumption.ts';
import { scopeKey } from './holding.ts';

/** A value typed into one month of a driver at a scope; null takes back what was typed there. */
export interface TypedValue {
  readonly scope: Scope;
  readonly month: MonthText;
  readonly value: number | null;
}

/** Ids from here on stand for new assumptions until they are kept; they are later than any kept one. */
export const FRESH_ID = 1_500_000_000;

/** What typing does to the assumptions: rows to put (new ones from `FRESH_ID` on), rows to drop. */
export interface AssumptionChange {
  readonly put: Assumption[];
  readonly drop: number[];
}

/** The later created of the assumptions at exactly this scope, or `undefined`. */
function latest(assumptions: readonly Assumption[]): Assumption | undefined {
  return assumptions.reduce<Assumption | undefined>(
    (last, next) => (last === undefined || next.id > last.id ? next : last),
    undefined,
  );
}

/**
 * Turns typed values into changed assumptions. A month typed at a scope whose latest assumption
 * is a value per month goes into it in place; over any other profile a new assumption is laid on
 * top. Taking back removes the month from the value-per-month assumption that gives it.
 * @param assumptions all of the plan, so that a new one gets an id that nothing else has
 * @returns only the assumptions that differ afterwards
 */
export function typeValues(
  driver: string,
  assumptions: readonly Assumption[],
  typed: readonly TypedValue[],
): AssumptionChange {
  const atScope = new Map<string, Assumption[]>();
  for (const assumption of assumptions) {
    if (assumption.driver !== driver) continue;
    const key = scopeKey(assumption.scope);
    atScope.set(key, [...(atScope.get(key) ?? []), assumption]);
  }
  const put = new Map<number, Assumption>();
  const replace = (key: string, next: Assumption): void => {
    const others = (atScope.get(key) ?? []).filter(({ id }) => id !== next.id);
    atScope.set(key, [...others, next]);
    put.set(next.id, next);
  };
  let fresh = assumptions.reduce((next, { id }) => Math.max(next, id + 1), FRESH_ID);
  for (const { scope, month, value } of typed) {
    const key = scopeKey(scope);
    const here = atScope.get(key) ?? [];
    if (value === null) {
      const giving = latest(here.filter((a) => valueIn(a, monthFrom(month)) !== undefined));
      if (giving?.profile.kind === 'months') {
        const kept = Object.entries(giving.profile.values).filter(([at]) => at !== month);
        const values = Object.fromEntries(kept);
        replace(key, { ...giving, profile: { kind: 'months', values } });
      }
      continue;
    }
    const top = latest(here);
    if (top?.profile.kind === 'months' && top.from === null && top.to === null) {
      const values = { ...top.profile.values, [month]: value };
      replace(key, { ...top, profile: { kind: 'months', values } });
    } else {
      replace(key, {
        id: fresh++,
        driver,
        scope: [...scope],
        from: null,
        to: null,
        profile: { kind: 'months', values: { [month]: value } },
        note: '',
      });
    }
  }
  const rows = [...put.values()];
  const empty = (row: Assumption): boolean =>
    row.profile.kind === 'months' && Object.keys(row.profile.values).length === 0;
  return {
    put: rows.filter((row) => !empty(row)),
    drop: rows.filter((row) => empty(row) && row.id < FRESH_ID).map(({ id }) => id),
  };
}
