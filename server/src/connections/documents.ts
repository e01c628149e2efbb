/** What a feed's document must fulfil to count, and what it is called where it waits. */
import { sql } from 'drizzle-orm';
import { type validities, type AssignedMembers } from '../actuals/store.ts';
import { type MemberCodes } from '../dimensions/codes.ts';
import { type calendarOf } from '../plan/calendar.ts';
import { one, type Database } from '../platform/database.ts';
import type { FeedDocument } from './feed.ts';
import { fieldFor, namedBy } from './fields.ts';
import type * as store from './store.ts';

/** What a document is called among those of all sources. */
export function nameOf(connectionId: number, number: string): string {
  return `${number} (feed ${connectionId})`;
}

export async function revenueOf(
  db: Database,
  workspaceId: number,
  documents: readonly string[],
): Promise<number> {
  const { rows } = await db.execute<{ revenue: number }>(sql`
    select coalesce(sum(net_amount), 0)::float8 as revenue from sales_line
    where workspace_id = ${workspaceId} and document = any(${sql.param([...documents])}::text[])`);
  return one(rows).revenue;
}

export interface Checks {
  readonly fields: store.ConnectionRow['fields'];
  readonly assigned: AssignedMembers;
  readonly validity: Awaited<ReturnType<typeof validities>>;
  readonly codes: MemberCodes;
  readonly calendar: ReturnType<typeof calendarOf>;
  readonly replace: ReadonlyMap<string, string>;
}

/** Why a document waits; with the code that would have to be known, where it is one. */
interface Waits {
  readonly reason: string;
  readonly dimension: string | null;
  readonly value: string;
}

/** The members of every line of a document; or why it waits as a whole. */
export function check(document: FeedDocument, rules: Checks): { members: number[][] } | Waits {
  const { date } = document;
  const { calendar } = rules;
  if (date < `${calendar.first}-01` || date > calendar.asOf) {
    const reason = `${date} lies outside ${calendar.first} to ${calendar.asOf}`;
    return { reason, dimension: null, value: date };
  }
  const twice = new Set(document.lines.map(({ line }) => line)).size !== document.lines.length;
  if (twice) return { reason: 'It has a line number twice', dimension: null, value: '' };
  const members: number[][] = [];
  for (const { item } of document.lines) {
    const memberIds: number[] = [];
    for (const dimension of rules.codes.dimensions) {
      const memberOrProblem = memberOf(document, item, dimension, rules);
      if (typeof memberOrProblem === 'object') return memberOrProblem;
      memberIds.push(memberOrProblem);
    }
    members.push(memberIds);
  }
  return { members };
}

function memberOf(
  document: FeedDocument,
  item: string,
  dimension: { readonly code: string; readonly name: string },
  { fields, assigned, validity, codes, replace }: Checks,
): number | Waits {
  const { code, name } = dimension;
  const named = namedBy(fieldFor(fields, dimension), document, item, assigned.get(code));
  if ('id' in named) {
    if (named.id !== undefined) return named.id;
    const reason = `Customer "${document.customer}" belongs to no member of ${name} on ${document.date}`;
    return { reason, dimension: null, value: document.customer };
  }
  const { id, problem } = codes.leaf(code, replace.get(`${code} ${named.text}`) ?? named.text);
  if (problem) return { reason: problem.message, dimension: code, value: named.text };
  const bounds = validity.get(id);
  const early = bounds?.from && document.date < bounds.from;
  const late = bounds?.to && document.date > bounds.to;
  if (!early && !late) return id;
  const reason = `"${named.text}" of ${name} is not valid on ${document.date}`;
  return { reason, dimension: null, value: named.text };
}
