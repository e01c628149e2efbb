/** What a plan file has to be before anything of it is kept. */
import type { PlanFile } from '@dravex/contract';
import { checkPlan } from '@dravex/core';
import { badPlan, badRequest } from '../platform/errors.ts';

/** What a plan may have and still be taken in: numbers that are not there yet. */
const UNFINISHED: ReadonlySet<string> = new Set([
  'missing-input',
  'no-value',
  'no-history',
  'method',
]);

/** @throws HttpProblem 400 for versions that name what is not there */
function checkVersions({ versions: kept, plan }: PlanFile): void {
  const combinationIds = new Set(plan.combinations.map(({ id }) => id));
  kept.forEach(({ name, cells }, index) => {
    const { touched: _, typedSubscribers: __, subscribers, ...own } = cells;
    for (const columns of [own, ...(subscribers ? [subscribers] : [])]) {
      const { combination, month } = columns;
      const lengths = new Set(Object.values(columns).map((column) => column.length));
      const strange = combination.find((id) => !combinationIds.has(id));
      const keys = new Set(combination.map((id, row) => `${id} ${month[row] ?? ''}`));
      if (lengths.size === 1 && strange === undefined && keys.size === combination.length) continue;
      const message =
        lengths.size !== 1
          ? `The columns of ${name} are of unequal length`
          : strange === undefined
            ? `${name} has a month of a combination twice`
            : `${name} names combination ${strange}, which is not there`;
      throw badRequest(message, [{ path: `versions.${index}.cells`, message }]);
    }
  });
}

/** @throws HttpProblem 400 with everything that is wrong with the plan */
export function checkPlanFile(file: PlanFile): void {
  // What has no value yet is no reason to refuse a plan; what does not hold together is.
  const problems = checkPlan(file.plan).filter(({ code }) => !UNFINISHED.has(code));
  if (problems.length > 0) throw badPlan(problems);
  checkVersions(file);
}
