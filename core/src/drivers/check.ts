import { monthFrom, parseMonth, type MonthText } from '../calendar/month.ts';
import type { Dimension, Scope } from '../dimensions/dimension.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import type { Calendar } from '../forecast/plan.ts';
import type { Problem } from '../problem.ts';
import { monthsOf, valuesOf, type Assumption } from './assumption.ts';
import { refuseValue, type Driver } from './driver.ts';

/** What an assumption is checked against. */
export interface AssumptionRules {
  readonly drivers: readonly Driver[];
  readonly dimensions: readonly Dimension[];
  readonly calendar: Calendar;
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
function monthProblem(text: MonthText, calendar: Calendar): string | undefined {
  const month = parseMonth(text);
  if (month === undefined) return `"${text}" is not a month; write it as 2026-04`;
  if (month < monthFrom(calendar.first) || month > monthFrom(calendar.last)) {
    return `${text} is outside the horizon, ${calendar.first} to ${calendar.last}`;
  }
  return undefined;
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
  const problems = scopeProblems(assumption.scope, new MemberTree(rules.dimensions));
  for (const month of new Set(monthsOf(assumption))) {
    const message = monthProblem(month, rules.calendar);
    if (message)
      problems.push({ code: 'month-outside', message, where: { field: 'month', month } });
  }
  for (const value of valuesOf(assumption.profile)) {
    const refusal = refuseValue(driver, value);
    if (refusal) problems.push({ ...refusal, where: { ...refusal.where, field: 'value' } });
  }
  if (assumption.from !== null && assumption.to !== null && assumption.from > assumption.to) {
    problems.push({
      code: 'ends-before-start',
      message: `It ends (${assumption.to}) before it starts (${assumption.from})`,
      where: { field: 'to' },
    });
  }
  return problems;
}
