import { badRequest } from '../platform/errors.ts';
import type { LoadedPlan } from './plans.ts';

/** @throws HttpProblem 400 for a dimension or member that the workspace does not have */
export function checkFrame(
  { plan, model }: Pick<LoadedPlan, 'plan' | 'model'>,
  rows: readonly string[],
  scope: readonly number[],
  columns = 'time',
): void {
  const known = plan.dimensions.map(({ code }) => code);
  const errors: { path: string; message: string }[] = [];
  for (const code of rows) {
    if (!known.includes(code))
      errors.push({ path: 'rows', message: `There is no dimension "${code}"` });
  }
  if (new Set(rows).size !== rows.length) {
    errors.push({ path: 'rows', message: 'A dimension stands on the rows once' });
  }
  if (columns !== 'time' && !known.includes(columns)) {
    errors.push({ path: 'columns', message: `There is no dimension "${columns}"` });
  }
  for (const member of scope) {
    if (!model.tree.has(member))
      errors.push({ path: 'scope', message: `There is no member ${member}` });
  }
  if (errors.length > 0) throw badRequest(errors[0]?.message ?? '', errors);
}
