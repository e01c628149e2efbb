/** Sales and measured facts of a plan file, taken in as if files had brought them. */
import type { PlanFile } from '@dravex/contract';
import { CombinationIds } from '../dimensions/store.ts';
import { insertFacts } from '../facts/store.ts';
import type { FilePart, Incoming } from '../journal/file-part.ts';
import type { CheckedLine } from './sales-check.ts';
import { Staging } from './staging.ts';
import { addSums, insertBatch } from './store.ts';

/** A file that counts already, for what comes from a plan file. */
function insertPlanFileBatch(
  { tx, file, workspaceId, personId }: Incoming,
  kind: 'sales' | 'facts',
  rows: number,
): Promise<number> {
  return insertBatch(tx, {
    workspaceId,
    kind,
    fileName: `${file.name}, plan file`,
    state: 'applied',
    rows,
    good: rows,
    faulty: 0,
    createdBy: personId,
    appliedAt: new Date(),
  });
}

/** One line for each combination and month; what came back is a line of its own. */
function linesOf(
  { actuals, combinations }: PlanFile['plan'],
  members: (ids: readonly number[]) => number[],
): CheckedLine[] {
  const byId = new Map(combinations.map((one) => [one.id, members(one.members)]));
  const line = (
    index: number,
    units: number,
    money: { netAmount: number; cost: number },
  ): Omit<CheckedLine, 'row' | 'lineNumber'> => ({
    date: `${actuals.month[index] ?? ''}-01`,
    members: byId.get(actuals.combination[index] ?? 0) ?? [],
    quantity: Math.round(units * 1000),
    ...money,
    document: 'plan file',
    customer: '',
    seller: '',
  });
  return actuals.combination
    .flatMap((_, index) => {
      const back = actuals.returned?.[index] ?? 0;
      const netAmount = actuals.revenue[index] ?? 0;
      const cost = actuals.cost[index] ?? 0;
      // The net units stay what they are.
      const sold = line(index, (actuals.units[index] ?? 0) + back, { netAmount, cost });
      return back === 0 ? [sold] : [sold, line(index, -back, { netAmount: 0, cost: 0 })];
    })
    .map((line, place): CheckedLine => ({ ...line, row: place + 2, lineNumber: place + 1 }));
}

export const actualsInPlanFile: FilePart = {
  async take(incoming) {
    const { tx, client, workspaceId, file, members } = incoming;
    const lines = linesOf(file.plan, members);
    if (lines.length > 0) {
      const batchId = await insertPlanFileBatch(incoming, 'sales', lines.length);
      // The combinations are this very transaction's, so they are asked for in it.
      const combinations = new CombinationIds(tx, workspaceId);
      const staging = new Staging(client, workspaceId, batchId, combinations);
      await staging.take(lines);
      await staging.finish();
      await staging.keepSums(tx);
      await addSums(tx, workspaceId, batchId, 'books');
    }
    const facts = file.plan.facts.map((fact) => ({ ...fact, scope: members(fact.scope) }));
    if (facts.length === 0) return;
    const rows = facts.reduce((sum, { months }) => sum + months.length, 0);
    const batchId = await insertPlanFileBatch(incoming, 'facts', rows);
    await insertFacts(tx, workspaceId, batchId, facts);
  },
};
