/** Sales and measured facts of a plan file, taken in as if files had brought them. */
import type { PlanFile } from '@dravex/contract';
import { CombinationIds } from '../dimensions/store.ts';
import { handBatch, insertLine } from './hand-line-thing.ts';
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

type Line = Omit<CheckedLine, 'row' | 'lineNumber'>;

/**
 * One line for each combination and month, and one for what of it was entered by hand; what came
 * back is a line of its own.
 */
function linesOf(
  { actuals, combinations }: PlanFile['plan'],
  members: (ids: readonly number[]) => number[],
): { books: CheckedLine[]; byHand: Line[] } {
  const byId = new Map(combinations.map((one) => [one.id, members(one.members)]));
  const line = (
    index: number,
    units: number,
    money: { netAmount: number; cost: number },
  ): Line => ({
    date: `${actuals.month[index] ?? ''}-01`,
    members: byId.get(actuals.combination[index] ?? 0) ?? [],
    quantity: Math.round(units * 1000),
    ...money,
    document: 'plan file',
    customer: '',
    seller: '',
  });
  const { byHand } = actuals;
  const handOf = new Map(byHand?.row.map((row, place) => [row, place]));
  const made: { readonly hand: boolean; readonly line: Line }[] = actuals.combination.flatMap(
    (_, index) => {
      const place = handOf.get(index);
      const only = place !== undefined && byHand?.only[place] === true;
      const part = (column: 'units' | 'revenue' | 'cost'): number =>
        place === undefined || only ? 0 : (byHand?.[column][place] ?? 0);
      const back = actuals.returned?.[index] ?? 0;
      const money = {
        netAmount: (actuals.revenue[index] ?? 0) - part('revenue'),
        cost: (actuals.cost[index] ?? 0) - part('cost'),
      };
      // The net units stay what they are.
      const sold = line(index, (actuals.units[index] ?? 0) - part('units') + back, money);
      const none = { netAmount: 0, cost: 0 };
      const hand = { netAmount: part('revenue'), cost: part('cost') };
      return [
        { hand: only, line: sold },
        ...(back === 0 ? [] : [{ hand: only, line: line(index, -back, none) }]),
        ...(place === undefined || only
          ? []
          : [{ hand: true, line: line(index, part('units'), hand) }]),
      ];
    },
  );
  const which = (hand: boolean): Line[] =>
    made.flatMap((one) => (one.hand === hand ? one.line : []));
  return {
    books: which(false).map((one, place) => ({ ...one, row: place + 2, lineNumber: place + 1 })),
    byHand: which(true),
  };
}

/** What was entered by hand stays so; why it was stays where it came from. */
async function takeByHand(
  { tx, workspaceId, personId }: Incoming,
  lines: readonly Line[],
): Promise<void> {
  if (lines.length === 0) return;
  const combinations = await new CombinationIds(tx, workspaceId).of(
    lines.map(({ members }) => members),
  );
  const batchId = await handBatch(tx, workspaceId, personId);
  for (const [place, { date, quantity, netAmount, cost }] of lines.entries()) {
    await insertLine(tx, workspaceId, batchId, place + 1, {
      date,
      combinationId: combinations[place] ?? 0,
      quantity: String(quantity / 1000),
      netAmount,
      cost,
      customer: null,
      seller: null,
      note: 'from a plan file',
    });
  }
}

export const actualsInPlanFile: FilePart = {
  async take(incoming) {
    const { tx, client, workspaceId, file, members } = incoming;
    const { books: lines, byHand } = linesOf(file.plan, members);
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
    await takeByHand(incoming, byHand);
    const facts = file.plan.facts.map((fact) => ({ ...fact, scope: members(fact.scope) }));
    if (facts.length === 0) return;
    const rows = facts.reduce((sum, { months }) => sum + months.length, 0);
    const batchId = await insertPlanFileBatch(incoming, 'facts', rows);
    await insertFacts(tx, workspaceId, batchId, facts);
  },
};
