import { monthFrom, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { valueIn, type Assumption, type AssumptionChange } from './assumption.ts';
import { FRESH_ID, type AssumptionSet } from './assumption-set.ts';
import { scopeKey } from './scope-key.ts';

/** A value typed into one month of a driver at a scope; null takes back what was typed there. */
export interface TypedValue {
  readonly scope: Scope;
  readonly month: MonthText;
  readonly value: number | null;
}

/**
 * What is typed at exactly a scope for a month: the value, or null where nothing at that scope
 * gives one. It is what a second person who types there would overwrite.
 */
export function typedAt(
  driver: string,
  assumptions: AssumptionSet,
  scope: Scope,
  month: MonthText,
): { readonly assumption: Assumption; readonly value: number } | null {
  const at = monthFrom(month);
  const giving = [...assumptions.at(driver, scope)].filter((a) => valueIn(a, at) !== undefined);
  const assumption = latest(giving);
  const value = assumption && valueIn(assumption, at);
  return assumption && value !== undefined ? { assumption, value } : null;
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
  assumptions: AssumptionSet,
  typed: readonly TypedValue[],
): AssumptionChange {
  const atScope = new Map<string, readonly Assumption[]>();
  const put = new Map<number, Assumption>();
  const replace = (key: string, next: Assumption): void => {
    const others = (atScope.get(key) ?? []).filter(({ id }) => id !== next.id);
    atScope.set(key, [...others, next]);
    put.set(next.id, next);
  };
  let { fresh } = assumptions;
  for (const { scope, month, value } of typed) {
    const key = scopeKey(scope);
    const here = atScope.get(key) ?? [...assumptions.at(driver, scope)];
    atScope.set(key, here);
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
