import { monthFrom, monthText, parseMonth, type MonthText } from '../calendar/month.ts';
import type { Dimension, Scope } from '../dimensions/dimension.ts';
import { treeOf, type MemberTree } from '../dimensions/member-tree.ts';
import type { Calendar } from '../forecast/plan.ts';
import type { Problem } from '../problem.ts';
import { eachMonth, monthsOf, valuesOf, type Assumption, type Profile } from './assumption.ts';
import { refuseValue, type Driver } from './driver.ts';

/**
 * So many assumptions of a driver stand at one scope at most: the later hide the earlier, and each
 * is looked at for every stream below.
 */
export const MOST_AT_SCOPE = 50;

/** Why one more assumption is too many at its scope. */
export function crowded(driver: string, label: string): Problem {
  return {
    code: 'crowded-scope',
    message: `${label} has ${MOST_AT_SCOPE} inputs of ${driver} already; change one of them, or remove some`,
    where: { field: 'scope' },
  };
}

/** What an assumption is checked against. */
export interface AssumptionRules {
  readonly drivers: readonly Driver[];
  readonly dimensions: readonly Dimension[];
  readonly calendar: Calendar;
  /**
   * Whether months after the horizon are let be: what was set there before the horizon was
   * shortened rests until it is longer again. What is set now has to lie within.
   */
  readonly restsBeyond?: boolean;
}

/** Why a scope cannot pin an assumption: an unknown member, or two of one dimension. */
function scopeProblems(scope: Scope, tree: MemberTree): Problem[] {
  const problems: Problem[] = [];
  const pinned = new Map<number, number>();
  scope.forEach((member, place) => {
    if (!tree.has(member)) {
      problems.push({
        code: 'unknown-member',
        message: `There is no member ${member}`,
        where: { field: `scope.${place}` },
      });
      return;
    }
    const dimension = tree.dimensionOf(member);
    if (pinned.has(dimension)) {
      problems.push({
        code: 'two-members',
        message: `A scope names one member a dimension; ${tree.dimensions[dimension]?.name ?? ''} has two`,
        where: { field: `scope.${place}` },
      });
    }
    pinned.set(dimension, member);
  });
  return problems;
}

/** Why a month cannot be used, or nothing. */
function monthProblem(
  text: MonthText,
  { calendar, restsBeyond = false }: AssumptionRules,
): string | undefined {
  const month = parseMonth(text);
  if (month === undefined) return `"${text}" is not a month; write it as 2026-04`;
  const beyond = month > monthFrom(calendar.last) && !restsBeyond;
  if (month < monthFrom(calendar.first) || beyond) {
    return `${text} is outside the horizon, ${calendar.first} to ${calendar.last}`;
  }
  return undefined;
}

/** What is wrong with the shape of a profile: weights, indices, steps, rates. */
function profileProblems(profile: Profile): Problem[] {
  const problem = (code: string, message: string, field: string): Problem[] => [
    { code, message, where: { field } },
  ];
  const twelve = (values: readonly number[], name: string, field: string): Problem[] => {
    if (values.length !== 12) {
      return problem(
        'not-twelve',
        `${name} are twelve, one a month; there are ${values.length}`,
        field,
      );
    }
    if (values.some((value) => !Number.isFinite(value) || value < 0)) {
      return problem('negative-weight', `${name} are numbers from 0 on`, field);
    }
    return values.every((value) => value === 0)
      ? problem('all-zero', `${name} are all zero: nothing can be divided by them`, field)
      : [];
  };
  switch (profile.kind) {
    case 'annual':
      return twelve(profile.weights, 'Seasonal weights', 'weights');
    case 'level':
      return twelve(profile.indices, 'Seasonal indices', 'indices');
    case 'lastYear':
      return profile.growth >= -1 && Number.isFinite(profile.growth)
        ? []
        : problem('value-refused', 'Growth is -100 % or more', 'growth');
    case 'growth': {
      const { by, rate, stepMonth } = profile;
      const problems: Problem[] = [];
      if (by !== 'yearAmount' && !(rate >= -1)) {
        problems.push(...problem('value-refused', 'Growth is -100 % or more', 'rate'));
      }
      if (!Number.isInteger(stepMonth) || stepMonth < 1 || stepMonth > 12) {
        problems.push(
          ...problem('not-a-month', 'The month of a yearly step is 1 to 12', 'stepMonth'),
        );
      }
      return problems;
    }
    default:
      return [];
  }
}

/** Where a profile that is computed month by month leaves the driver's bounds, its first such month. */
function boundProblems(
  driver: Driver,
  assumption: Omit<Assumption, 'id'>,
  { first, last }: Calendar,
): Problem[] {
  const { profile } = assumption;
  if (profile.kind !== 'growth' && profile.kind !== 'annual' && profile.kind !== 'level') return [];
  const start = monthFrom(first);
  const count = monthFrom(last) - start + 1;
  let firstProblem: Problem | undefined;
  eachMonth({ ...assumption, id: 0 }, start, count, (t, value) => {
    const refusal = firstProblem ? undefined : refuseValue(driver, value);
    if (!refusal) return;
    const month = monthText(start + t);
    firstProblem = {
      ...refusal,
      message: `${refusal.message} (in ${month})`,
      where: { ...refusal.where, field: 'profile', month },
    };
  });
  return firstProblem ? [firstProblem] : [];
}

/** Everything that is wrong with an assumption, each with its place; empty when it can be kept. */
export function checkAssumption(
  assumption: Omit<Assumption, 'id'>,
  rules: AssumptionRules,
): Problem[] {
  const driver = rules.drivers.find(({ code }) => code === assumption.driver);
  if (!driver) {
    return [
      {
        code: 'unknown-driver',
        message: `There is no driver "${assumption.driver}"`,
        where: { field: 'driver' },
      },
    ];
  }
  const problems = [
    ...scopeProblems(assumption.scope, treeOf(rules.dimensions)),
    ...profileProblems(assumption.profile),
  ];
  for (const month of new Set(monthsOf(assumption))) {
    const message = monthProblem(month, rules);
    if (message)
      problems.push({ code: 'month-outside', message, where: { field: 'month', month } });
  }
  for (const value of valuesOf(assumption.profile)) {
    const refusal = refuseValue(driver, value);
    if (refusal) problems.push({ ...refusal, where: { ...refusal.where, field: 'value' } });
  }
  if (problems.length === 0) problems.push(...boundProblems(driver, assumption, rules.calendar));
  if (assumption.from !== null && assumption.to !== null && assumption.from > assumption.to) {
    problems.push({
      code: 'ends-before-start',
      message: `It ends (${assumption.to}) before it starts (${assumption.from})`,
      where: { field: 'to' },
    });
  }
  return problems;
}
