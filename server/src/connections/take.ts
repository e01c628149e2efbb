/** One run of a connection: names, groups and pages of documents taken in. */
import { assignedMembers, insertBatch, remembered, validities } from '../actuals/store.ts';
import { MemberCodes } from '../dimensions/codes.ts';
import { CombinationIds, dimensionsOf } from '../dimensions/store.ts';
import { calendarOf } from '../plan/calendar.ts';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections, Database } from '../platform/database.ts';
import { workspaceById } from '../workspaces/store.ts';
import { nameOf, revenueOf, type Checks, check } from './documents.ts';
import { FeedFailure, type Feed, type FeedDocument } from './feed.ts';
import * as store from './store.ts';

/** What became of the documents of a page or a run; revenue in minor units. */
export interface Tally {
  added: number;
  replaced: number;
  same: number;
  held: number;
  revenue: number;
}

export const emptyTally = (): Tally => ({ added: 0, replaced: 0, same: 0, held: 0, revenue: 0 });

/** Reads what the service says of its items and customers since it was last asked. */
async function takeNames(
  { db }: Connections,
  { workspaceId, id, itemCursor, customerCursor }: store.ConnectionRow,
  feed: Feed,
): Promise<void> {
  for (const kind of ['item', 'customer'] as const) {
    let after = kind === 'item' ? itemCursor : customerCursor;
    for (let pages = 1; ; pages += 1) {
      mustEnd(pages);
      const { names, next, more } = await feed.names(kind, after);
      await store.keepNames(db, workspaceId, id, kind, names);
      // After the names: a server that ends in between reads them again, which changes nothing.
      const cursor = kind === 'item' ? { itemCursor: next } : { customerCursor: next };
      if (next !== after) await store.setConnection(db, workspaceId, id, cursor);
      if (next < after || (more && next === after)) throw new FeedFailure(REPEATS, false);
      after = next;
      if (!more) break;
    }
  }
}

/** Assigns customers as the service groups them, for the dimensions that are read so. */
async function assignGroups(
  connections: Connections,
  actor: Actor,
  { workspaceId, id, name, fields }: store.ConnectionRow,
): Promise<void> {
  const assigned = Object.keys(fields).filter((code) => fields[code] === 'assigned');
  if (assigned.length === 0) return;
  await journaled(connections, actor, 'dimensions', async (tx, record) => {
    record.undoable = false;
    for (const code of assigned) {
      const customers = await store.assignByGroup(tx, workspaceId, id, code);
      if (customers === 0) continue;
      record.say(`${name}: ${customers} customers assigned as the order book groups them`);
      record.changed('assignment', code, null, { customers }, () => ({
        label: name,
        unit: 'text',
      }));
    }
    return {};
  });
}

/** A run reads no more pages of a kind; what comes after them comes with the next run. */
const MOST_PAGES = 20_000;

/** @throws FeedFailure when there seems to be no end of pages */
function mustEnd(pages: number): void {
  if (pages <= MOST_PAGES) return;
  throw new FeedFailure(
    `The service gave ${MOST_PAGES.toLocaleString('en')} pages and more; what came is kept, and the next run goes on`,
    false,
  );
}

/** Pages in a row without anything in them; more are no pages. */
const MOST_EMPTY = 100;
const EMPTY = `The service gave ${MOST_EMPTY} pages without documents, one after the other`;

const REPEATS = 'The service gives the same page again and again';

/** Takes pages until there is no more; documents that wait are tried first. */
export async function takeAll(
  connections: Connections,
  actor: Actor,
  connection: store.ConnectionRow,
  runId: number,
  tally: Tally,
  feed: Feed,
): Promise<void> {
  const { db } = connections;
  const { workspaceId, id, name } = connection;
  let batchId: number | undefined;
  const take = async (documents: readonly FeedDocument[], next: number | undefined) => {
    const page = await journaled(connections, actor, 'actuals', async (tx, record) => {
      const taken = await takePage(tx, actor, connection, documents, batchId);
      if (next !== undefined) await store.setConnection(tx, workspaceId, id, { cursor: next });
      const changed = taken.tally.added + taken.tally.replaced;
      record.undoable = false;
      record.say(
        `${name}: ${taken.tally.added} new documents, ${taken.tally.replaced} corrected, ${taken.tally.held} on hold`,
      );
      if (changed > 0) {
        record.changed('feed', runId, null, { documents: changed }, () => ({
          label: name,
          unit: 'text',
        }));
      }
      return taken;
    });
    batchId = page.batchId ?? batchId;
    for (const part of Object.keys(tally) as (keyof Tally)[]) tally[part] += page.tally[part];
    await store.setRun(db, workspaceId, runId, { ...tally, batchId: batchId ?? null });
  };
  await takeNames(connections, connection, feed);
  await assignGroups(connections, actor, connection);
  const waiting = await store.waitingDocuments(db, workspaceId, id);
  if (waiting.length > 0) await take(waiting, undefined);
  tally.held = 0;
  let { cursor } = connection;
  let empty = 0;
  for (let pages = 1; ; pages += 1) {
    mustEnd(pages);
    const { documents, next, more } = await feed.page(cursor);
    empty = documents.length === 0 ? empty + 1 : 0;
    if (empty > MOST_EMPTY) throw new FeedFailure(EMPTY, false);
    if (documents.length > 0) await take(documents, next);
    if (next < cursor || (more && next === cursor)) throw new FeedFailure(REPEATS, false);
    cursor = next;
    if (!more) return;
  }
}

/** Keeps the documents of a page: lines of new ones, those of corrected ones in place of the old. */
async function takePage(
  tx: Database,
  { workspaceId, personId }: Actor,
  connection: store.ConnectionRow,
  documents: readonly FeedDocument[],
  openBatch: number | undefined,
): Promise<{ batchId: number | undefined; tally: Tally }> {
  const workspace = await workspaceById(tx, workspaceId);
  if (!workspace) throw new FeedFailure('The workspace is gone', false);
  const dimensions = await dimensionsOf(tx, workspaceId);
  const rules: Checks = {
    fields: connection.fields,
    assigned: await assignedMembers(tx, workspaceId),
    validity: await validities(tx, workspaceId),
    codes: new MemberCodes(dimensions),
    calendar: calendarOf(workspace),
    replace: new Map(
      (await remembered(tx, workspaceId))
        .filter(({ kind }) => kind === 'sales')
        .map(({ field, from, to }) => [`${field} ${from}`, to]),
    ),
  };
  // The last revision of a page is the one that holds.
  const newest = new Map<string, FeedDocument>();
  for (const document of documents) {
    const other = newest.get(document.number);
    if (!other || other.revision <= document.revision) newest.set(document.number, document);
  }
  const documentsBefore = await store.knownDocuments(tx, workspaceId, connection.id, [
    ...newest.keys(),
  ]);
  const waits = new Set(
    (await store.waitingDocuments(tx, workspaceId, connection.id)).map(({ number }) => number),
  );
  const tally = emptyTally();
  const good: { document: FeedDocument; members: number[][] }[] = [];
  const rows: Parameters<typeof store.keepDocuments>[1][number][] = [];
  for (const document of newest.values()) {
    const { number, revision } = document;
    const before = documentsBefore.get(number);
    if (before !== undefined && before >= revision && !waits.has(number)) {
      tally.same += 1;
      continue;
    }
    const documentKey = { workspaceId, connectionId: connection.id, number, revision };
    const checked = check(document, rules);
    if ('reason' in checked) {
      tally.held += 1;
      rows.push({ ...documentKey, waiting: document, ...checked });
      continue;
    }
    if (before === undefined || waits.has(number)) tally.added += 1;
    else tally.replaced += 1;
    good.push({ document, members: checked.members });
    rows.push({ ...documentKey, waiting: null, reason: '', dimension: null, value: '' });
  }
  const names = good.map(({ document }) => nameOf(connection.id, document.number));
  const revenueBefore = await revenueOf(tx, workspaceId, names);
  await store.dropDocumentLines(tx, workspaceId, names);
  await store.keepDocuments(tx, rows);
  if (good.length === 0) return { batchId: openBatch, tally };
  const batchId =
    openBatch ??
    (await insertBatch(tx, {
      workspaceId,
      source: 'connection',
      fileName: connection.name,
      state: 'applied',
      rows: 0,
      good: 0,
      faulty: 0,
      createdBy: personId,
      appliedAt: new Date(),
    }));
  const combinations = new CombinationIds(tx, workspaceId);
  const ids = await combinations.of(good.flatMap(({ members }) => members));
  let at = 0;
  const lines = good.flatMap(({ document }) =>
    document.lines.map((line) => ({
      row: document.sequence,
      date: document.date,
      combinationId: ids[at++] ?? 0,
      quantity: Math.round(line.quantity * 1000) / 1000,
      netAmount: line.net,
      cost: line.cost,
      document: nameOf(connection.id, document.number),
      lineNumber: line.line,
      customer: document.customer === '' ? null : document.customer,
    })),
  );
  await store.addLines(tx, workspaceId, batchId, lines);
  tally.revenue = lines.reduce((sum, { netAmount }) => sum + netAmount, 0) - revenueBefore;
  return { batchId, tally };
}
