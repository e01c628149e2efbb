import type { JournalRecord, JournalRoom, JournalUnit } from '@dravex/contract';
import { and, asc, desc, eq, gt, inArray, lt, sql } from 'drizzle-orm';
import { person } from '../people/tables.ts';
import { one, type Database } from '../platform/database.ts';
import { answeredRequest, journal, journalChange, type Json } from './tables.ts';

export type JournalRow = typeof journal.$inferSelect;
export type ChangeRow = typeof journalChange.$inferSelect;
/** A change of a cell as a record collects it. */
export type Change = Omit<ChangeRow, 'workspaceId' | 'journalId' | 'place'>;

/** Changes of a record that are listed with it; the rest are counted. */
const LISTED = 40;

export async function insertRecord(
  db: Database,
  row: typeof journal.$inferInsert,
): Promise<number> {
  return one(await db.insert(journal).values(row).returning({ id: journal.id })).id;
}

export async function setRecord(
  db: Database,
  workspaceId: number,
  id: number,
  change: Partial<typeof journal.$inferInsert>,
): Promise<void> {
  await db
    .update(journal)
    .set(change)
    .where(and(eq(journal.workspaceId, workspaceId), eq(journal.id, id)));
}

/**
 * Says what a write came to, marks what the plan computes by its revision, and tells everybody who
 * looks: the end of every write, in one go.
 * @param planRevision 0 where the plan computes what it did; of two in one write the later holds
 */
export async function finishRecord(
  db: Database,
  { workspaceId, id, what, why, undoable }: Finished,
  planRevision: number,
  [channel, notice]: readonly [string, string],
): Promise<void> {
  await db.execute(sql`
    with record as (
      update journal set what = ${what}, why = ${why}, undoable = ${undoable}
      where workspace_id = ${workspaceId} and id = ${id}),
    plan as (
      update workspace set plan_revision = greatest(plan_revision, ${planRevision})
      where id = ${workspaceId} and ${planRevision} > 0)
    select pg_notify(${channel}, ${notice})`);
}
type Finished = Required<
  Pick<typeof journal.$inferInsert, 'workspaceId' | 'what' | 'why' | 'undoable'>
> & { readonly id: number };

export async function deleteRecord(db: Database, workspaceId: number, id: number): Promise<void> {
  await db.delete(journal).where(and(eq(journal.workspaceId, workspaceId), eq(journal.id, id)));
}

/** So many changes go to the database at once: their text stays far below what it takes. */
const PORTION = 5000;

/**
 * Writes the changes of a record in their order. As one JSON text they take an eighth of the time
 * that they take as values of their own, and whoever makes many forecast lines waits for them.
 * @param written hears how far it is, from 0 to 1
 */
export async function insertChanges(
  db: Database,
  workspaceId: number,
  journalId: number,
  changes: readonly Change[],
  written: (share: number) => void,
): Promise<void> {
  for (let start = 0; start < changes.length; start += PORTION) {
    const portion = JSON.stringify(changes.slice(start, start + PORTION));
    await db.execute(sql`
      insert into ${journalChange}
        (workspace_id, journal_id, place, thing, thing_id, cell, label, unit, before, after)
      select ${workspaceId}::int, ${journalId}::int, ${start}::int + place - 1,
        one ->> 'thing', one ->> 'thingId', one ->> 'cell', one ->> 'label', one ->> 'unit',
        nullif(one -> 'before', 'null'), nullif(one -> 'after', 'null')
      from jsonb_array_elements(${portion}::jsonb) with ordinality as changes (one, place)`);
    written(Math.min(1, (start + PORTION) / changes.length));
  }
}

export async function recordById(
  db: Database,
  workspaceId: number,
  id: number,
): Promise<JournalRow | undefined> {
  const [row] = await db
    .select()
    .from(journal)
    .where(and(eq(journal.workspaceId, workspaceId), eq(journal.id, id)));
  return row;
}

export function changesOf(
  db: Database,
  workspaceId: number,
  journalId: number,
): Promise<ChangeRow[]> {
  return db
    .select()
    .from(journalChange)
    .where(and(eq(journalChange.workspaceId, workspaceId), eq(journalChange.journalId, journalId)))
    .orderBy(asc(journalChange.place));
}

/** A write that nobody did by hand: what a connected source brought by its timetable. */
const byItself = sql`exists (select from journal_change c
  where c.workspace_id = ${journal.workspaceId} and c.journal_id = ${journal.id}
    and c.thing in ('feed', 'workspace'))`;

/** A person's last write that is not taken back, whether it can be or not. */
export async function lastDone(
  db: Database,
  workspaceId: number,
  personId: number,
): Promise<JournalRow | undefined> {
  const [row] = await db
    .select()
    .from(journal)
    .where(
      and(
        eq(journal.workspaceId, workspaceId),
        eq(journal.personId, personId),
        eq(journal.kind, 'do'),
        eq(journal.undone, false),
        sql`not ${byItself}`,
      ),
    )
    .orderBy(desc(journal.id))
    .limit(1);
  return row;
}

/** What a person took back last and has not written over since: the first to be done again. */
export async function lastUndone(
  db: Database,
  workspaceId: number,
  personId: number,
): Promise<JournalRow | undefined> {
  const rows = await db
    .select()
    .from(journal)
    .where(
      and(
        eq(journal.workspaceId, workspaceId),
        eq(journal.personId, personId),
        eq(journal.kind, 'do'),
        eq(journal.undone, true),
        sql`not exists (select from journal newer
          where newer.workspace_id = ${journal.workspaceId}
            and newer.person_id = ${journal.personId}
            and newer.kind = 'do' and newer.undoable and newer.id > ${journal.undoneBy})`,
      ),
    )
    .orderBy(desc(journal.undoneBy))
    .limit(1);
  return rows[0];
}

/** A change belongs to its record. */
const ofItsRecord = and(
  eq(journal.workspaceId, journalChange.workspaceId),
  eq(journal.id, journalChange.journalId),
);

/** Who changed a cell last, after a record; of several things whichever it was. */
export async function changedSince(
  db: Database,
  {
    workspaceId,
    thing,
    thingId,
    cell,
  }: Pick<ChangeRow, 'workspaceId' | 'thing' | 'cell'> & {
    readonly thingId: string | readonly string[];
  },
  after: number,
): Promise<{ by: string; at: Date } | undefined> {
  const [row] = await db
    .select({ by: person.name, at: journal.at })
    .from(journalChange)
    .innerJoin(journal, ofItsRecord)
    .innerJoin(person, eq(person.id, journal.personId))
    .where(
      and(
        eq(journalChange.workspaceId, workspaceId),
        eq(journalChange.thing, thing),
        inArray(journalChange.thingId, [thingId].flat()),
        cell === '' ? undefined : eq(journalChange.cell, cell),
        gt(journalChange.journalId, after),
      ),
    )
    .orderBy(desc(journalChange.journalId))
    .limit(1);
  return row;
}

/** Who changed things of a kind last, and when, by their ids. */
export async function lastChanges(
  db: Database,
  workspaceId: number,
  thing: string,
): Promise<ReadonlyMap<string, { by: string; at: Date }>> {
  const rows = await db
    .selectDistinctOn([journalChange.thingId], {
      id: journalChange.thingId,
      by: person.name,
      at: journal.at,
    })
    .from(journalChange)
    .innerJoin(journal, ofItsRecord)
    .innerJoin(person, eq(person.id, journal.personId))
    .where(and(eq(journalChange.workspaceId, workspaceId), eq(journalChange.thing, thing)))
    .orderBy(journalChange.thingId, desc(journalChange.journalId));
  return new Map(rows.map(({ id, by, at }) => [id, { by, at }]));
}

function shown(value: Json, unit: JournalUnit): number | string | null {
  if (value === null || typeof value === 'number' || typeof value === 'string') return value;
  return unit === 'text' ? 'as it was' : null;
}

/** Records of a workspace, newest first, each with its first changes. */
export async function recordsOf(
  db: Database,
  workspaceId: number,
  asks: number,
  which: {
    room?: JournalRoom | undefined;
    before?: number | undefined;
    id?: number;
    limit: number;
  },
): Promise<JournalRecord[]> {
  const rows = await db
    .select({ row: journal, by: person.name })
    .from(journal)
    .innerJoin(person, eq(person.id, journal.personId))
    .where(
      and(
        eq(journal.workspaceId, workspaceId),
        which.room === undefined ? undefined : eq(journal.room, which.room),
        which.before === undefined ? undefined : lt(journal.id, which.before),
        which.id === undefined ? undefined : eq(journal.id, which.id),
      ),
    )
    .orderBy(desc(journal.id))
    .limit(which.limit);
  const ids = rows.map(({ row }) => row.id);
  if (ids.length === 0) return [];
  const of = and(eq(journalChange.workspaceId, workspaceId), inArray(journalChange.journalId, ids));
  const [changes, counts] = await Promise.all([
    db
      .select()
      .from(journalChange)
      .where(and(of, lt(journalChange.place, LISTED)))
      .orderBy(asc(journalChange.journalId), asc(journalChange.place)),
    db
      .select({ id: journalChange.journalId, count: sql<number>`count(*)::int` })
      .from(journalChange)
      .where(of)
      .groupBy(journalChange.journalId),
  ]);
  return rows.map(({ row, by }) => ({
    id: row.id,
    at: row.at.toISOString(),
    by,
    own: row.personId === asks,
    room: row.room,
    what: row.what,
    why: row.why,
    kind: row.kind,
    undone: row.undone,
    undoable: row.personId === asks && row.kind === 'do' && row.undoable && !row.undone,
    count: counts.find(({ id }) => id === row.id)?.count ?? 0,
    changes: changes
      .filter(({ journalId }) => journalId === row.id)
      .map(({ label, unit, before, after }) => ({
        label,
        unit,
        before: shown(before, unit),
        after: shown(after, unit),
      })),
  }));
}

/** Which things were changed after a revision. */
export async function thingsSince(
  db: Database,
  workspaceId: number,
  since: number,
): Promise<{ thing: string; thingId: string }[]> {
  return db
    .selectDistinct({ thing: journalChange.thing, thingId: journalChange.thingId })
    .from(journalChange)
    .innerJoin(journal, ofItsRecord)
    .where(and(eq(journal.workspaceId, workspaceId), gt(journal.revision, since)));
}

export async function answerTo(db: Database, personId: number, key: string) {
  const [row] = await db
    .select()
    .from(answeredRequest)
    .where(and(eq(answeredRequest.personId, personId), eq(answeredRequest.key, key)));
  return row;
}

export async function insertAnswer(
  db: Database,
  row: typeof answeredRequest.$inferInsert,
): Promise<void> {
  await db.insert(answeredRequest).values(row);
}

/** Forgets answers that nobody will ask for again. */
export async function dropOldAnswers(db: Database): Promise<void> {
  await db.delete(answeredRequest).where(lt(answeredRequest.at, sql`now() - interval '7 days'`));
}
