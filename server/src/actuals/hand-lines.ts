/** Sales that are not in the books: entered one by one, with a reason, marked as such. */
import type { HandLine } from '@dravex/contract';
import { readSellers } from '@dravex/core';
import { sql } from 'drizzle-orm';
import { MemberCodes } from '../dimensions/codes.ts';
import { CombinationIds, dimensionsOf } from '../dimensions/store.ts';
import { calendarOf } from '../plan/calendar.ts';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import { one, type Connections } from '../platform/database.ts';
import { badRequest, notFound } from '../platform/errors.ts';
import { workspaceById } from '../workspaces/store.ts';
import {
  deleteLine,
  handBatch,
  handLineCells,
  handLineName,
  insertLine,
  linesOf,
  type KeptLine,
} from './hand-line-thing.ts';

/** Enters a sale that is not in the books. */
export function enterLine(
  connections: Connections,
  actor: Actor,
  input: HandLine,
): Promise<{ id: number }> {
  const { workspaceId, personId } = actor;
  return journaled(connections, actor, 'actuals', async (tx, record) => {
    const workspace = await workspaceById(tx, workspaceId);
    if (!workspace) throw notFound('such workspace');
    const calendar = calendarOf(workspace);
    if (input.date < `${calendar.first}-01` || input.date > calendar.asOf) {
      throw badRequest(
        `${input.date} lies outside ${calendar.first} to ${calendar.asOf}, the days that have happened`,
        [{ path: 'date', message: 'outside the calendar' }],
      );
    }
    const dimensions = await dimensionsOf(tx, workspaceId);
    const { members, problems } = new MemberCodes(dimensions).leaves((code) => input.members[code]);
    if (problems.length > 0) {
      throw badRequest(
        problems[0]?.message ?? '',
        problems.map(({ dimension, message }) => ({ path: `members.${dimension}`, message })),
      );
    }
    const [combinationId = 0] = await new CombinationIds(tx, workspaceId).of([members]);
    const batchId = await handBatch(tx, workspaceId, personId);
    const { rows } = await tx.execute<{ id: number }>(sql`
      select coalesce(max(row), 0)::int + 1 as id from sales_line
      where workspace_id = ${workspaceId} and batch_id = ${batchId}`);
    const { id } = one(rows);
    const line: KeptLine = {
      date: input.date,
      combinationId,
      quantity: String(Math.round(input.quantity * 1000) / 1000),
      netAmount: input.netAmount,
      cost: input.cost,
      customer: input.customer || null,
      seller: sellerIn(input.seller) || null,
      note: input.why,
    };
    await insertLine(tx, workspaceId, batchId, id, line);
    record.say('Added a sale by hand', input.why);
    // As it is read again, so that undo finds what was written.
    const [kept] = await linesOf(tx, workspaceId, [id]);
    record.changed('handLine', id, null, handLineCells(kept), handLineName(input.why));
    return { id };
  });
}

export async function dropLine(connections: Connections, actor: Actor, id: number): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'actuals', async (tx, record) => {
    const [line] = await linesOf(tx, workspaceId, [id]);
    if (!line) throw notFound('such line');
    await deleteLine(tx, workspaceId, id);
    record.say(`Deleted a sale entered by hand: ${line.note}`);
    record.changed('handLine', id, handLineCells(line), null, handLineName(line.note));
    return {};
  });
}

/** Who sold a line, as it is kept. @throws HttpProblem 400 at `seller` */
function sellerIn(text: string): string {
  const read = readSellers(text);
  if ('kept' in read) return read.kept;
  throw badRequest(read.wrong, [{ path: 'seller', message: read.wrong }]);
}
