/** Members of a dimension by file: added where they are not there, changed where they differ. */
import type { ImportField, MembersFile } from '@dravex/contract';
import { readDay } from '@dravex/core';
import { customsOf, understand } from '../exchange/reading.ts';
import { inPieces } from '../exchange/bytes.ts';
import { openTableFile } from '../exchange/table-file.ts';
import { journaled } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { inTransaction, type Connections, type Database } from '../platform/database.ts';
import { badRequest, HttpProblem, notFound } from '../platform/errors.ts';
import { pausesFor } from '../platform/pauses.ts';
import { Recorder } from '../journal/service.ts';
import { DimensionMembers } from './dimension-members.ts';
import { changeMemberRow, freshMember } from './members.ts';
import * as store from './store.ts';

const text = (key: string, names: string[], need: ImportField['need']): ImportField => ({
  key,
  label: key,
  names: [key, ...names],
  content: 'text',
  need,
});
const FIELDS: readonly ImportField[] = [
  text('code', ['member', 'item', 'number', 'id'], 'always'),
  text('name', ['description', 'title'], 'maybe'),
  text('parent', ['group', 'above', 'parent code'], 'maybe'),
  text('valid from', ['from', 'start'], 'maybe'),
  text('valid to', ['to', 'until', 'end'], 'maybe'),
  text('account', ['ledger account'], 'maybe'),
  text('replaces', ['in place of', 'predecessor'], 'maybe'),
];
const MOST_PROBLEMS = 200;
/** Taking in a member, in cells of a table. */
const ROW_IS_AS_LONG_AS = 20;
/** More members than any dimension has. */
const MOST_ROWS = 20_000;
/** Members lie below each other; deeper than this nobody divides anything. */
const DEEPEST = 50;
const CODE = /^[\p{L}\p{N}][\p{L}\p{N}._-]{0,59}$/u;

interface FileMember {
  readonly row: number;
  readonly code: string;
  readonly name: string | undefined;
  readonly parent: string | undefined;
  readonly validFrom: string | null | undefined;
  readonly validTo: string | null | undefined;
  readonly account: string | null | undefined;
  /** The code of the member that it came in place of; empty for none. */
  readonly replaces: string | undefined;
}

async function readMembers(bytes: Buffer, locale: string) {
  const file = await openTableFile(inPieces(bytes), {}, MOST_ROWS);
  const problems: MembersFile['problems'] = [];
  const members: FileMember[] = [];
  try {
    const table = await understand(file, '', FIELDS, { shape: 'long' }, customsOf(locale));
    const { columns, dates } = table.reading;
    if (columns['code'] === null) {
      throw badRequest('The header lacks "code"; members have a code, a name and a parent');
    }
    for await (const rows of table.rows) {
      for (const { row, cells } of rows) {
        const cell = (field: string): string | undefined => {
          const column = columns[field];
          return typeof column === 'number' ? String(cells[column] ?? '').trim() : undefined;
        };
        const refuse = (message: string): void => {
          problems.push({ row, message });
        };
        const code = cell('code') ?? '';
        if (!CODE.test(code)) {
          refuse(code === '' ? 'code is missing' : `"${code.slice(0, 40)}" is not a code`);
          continue;
        }
        const day = (field: string): string | null | undefined => {
          const text = cell(field);
          if (text === undefined || text === '') return text === '' ? null : undefined;
          const read = readDay(text, dates);
          if (read === undefined) refuse(`"${text.slice(0, 40)}" is not a day`);
          return read ?? null;
        };
        const account = cell('account');
        members.push({
          row,
          code,
          name: cell('name') || undefined,
          parent: cell('parent'),
          validFrom: day('valid from'),
          validTo: day('valid to'),
          account: account === '' ? null : account?.slice(0, 60),
          replaces: cell('replaces'),
        });
      }
    }
  } finally {
    await file.close();
  }
  return { members, problems };
}

/** Members whose parents stand before them, whatever the order of the file. */
function parentsFirst(members: readonly FileMember[]): FileMember[] {
  const byCode = new Map(members.map((member) => [member.code, member]));
  const placed = new Set<string>();
  const sorted: FileMember[] = [];
  const place = (member: FileMember, above: ReadonlySet<string>): void => {
    if (placed.has(member.code)) return;
    if (above.size > DEEPEST) {
      throw badRequest(`Row ${member.row}: members lie more than ${DEEPEST} levels deep`);
    }
    const parent = byCode.get(member.parent ?? '');
    if (parent && !above.has(parent.code)) place(parent, new Set([...above, member.code]));
    if (placed.has(member.code)) return;
    placed.add(member.code);
    sorted.push(member);
  };
  for (const member of members) place(member, new Set());
  return sorted;
}

class Undone extends Error {}

/** What a row says of a member, without what it leaves open. */
const given = <T extends object>(rest: T): { [Key in keyof T]?: Exclude<T[Key], undefined> } =>
  Object.fromEntries(Object.entries(rest).filter(([, value]) => value !== undefined)) as {
    [Key in keyof T]?: Exclude<T[Key], undefined>;
  };

async function bring(
  tx: Database,
  workspaceId: number,
  dimensionCode: string,
  record: Recorder,
  membersRead: Awaited<ReturnType<typeof readMembers>>,
): Promise<MembersFile> {
  const dimension = await store.dimensionRow(tx, workspaceId, dimensionCode);
  if (!dimension) throw notFound('such dimension');
  const problems = [...membersRead.problems];
  const done = new Map<string, 'added' | 'changed' | 'same'>();
  const members = await DimensionMembers.of(tx, workspaceId, dimension.id);
  const pause = pausesFor();
  /** Does what a row asks for, or notes why it cannot be done. */
  const attempt = async (row: number, work: () => Promise<void>): Promise<void> => {
    try {
      await work();
    } catch (error) {
      if (!(error instanceof HttpProblem)) throw error;
      problems.push({ row, message: error.message });
    }
    await pause(ROW_IS_AS_LONG_AS);
  };
  /** Which member a code names; null for none, undefined where there is no such member. */
  const idOf = (code: string): number | null | undefined =>
    code === '' ? null : members.withCode(code)?.id;
  const strange = (row: number, code: string): void => {
    problems.push({ row, message: `"${code}" is no member of ${dimension.name}` });
  };

  const sorted = parentsFirst(membersRead.members);
  const isKnown = new Set(members.rows.map(({ code }) => code));
  const added = sorted.filter(({ code }) => !isKnown.has(code));
  const ids = await store.nextMemberIds(tx, added.length);
  const rows: store.MemberRow[] = [];
  for (const [
    place,
    { row, code, name = code, parent = '', replaces: _, ...rest },
  ] of added.entries()) {
    const above = idOf(parent);
    if (above === undefined) strange(row, parent);
    else {
      const fresh = { code, name, parent: above, ...given(rest) };
      await attempt(row, async () => {
        rows.push(await freshMember(members, record, dimension, ids[place] ?? 0, fresh));
        done.set(code, 'added');
      });
    }
  }
  await store.insertMembers(tx, rows);

  for (const { row, code, name, parent, replaces: _, ...rest } of sorted) {
    if (!isKnown.has(code)) continue;
    const above = idOf(parent ?? '');
    if (above === undefined) strange(row, parent ?? '');
    else {
      const change = {
        ...(name === undefined ? {} : { name }),
        ...(parent === undefined ? {} : { parent: above }),
        ...given(rest),
      };
      await attempt(row, async () => {
        const id = idOf(code) ?? 0;
        const changed = await changeMemberRow(tx, members, record, dimension, id, change);
        done.set(code, changed ? 'changed' : 'same');
      });
    }
  }
  // What replaces what is known once all members are there.
  for (const { row, code, replaces } of membersRead.members) {
    if (replaces === undefined || !done.has(code)) continue;
    const replaced = idOf(replaces);
    if (replaced === undefined) strange(row, replaces);
    else {
      await attempt(row, async () => {
        const change = { replaces: replaced };
        const id = idOf(code) ?? 0;
        const changed = await changeMemberRow(tx, members, record, dimension, id, change);
        if (changed && done.get(code) === 'same') done.set(code, 'changed');
      });
    }
  }
  problems.sort((one, other) => one.row - other.row);
  const count = (outcome: string): number =>
    [...done.values()].filter((one) => one === outcome).length;
  return {
    ...{ added: count('added'), changed: count('changed'), same: count('same') },
    problems: problems.slice(0, MOST_PROBLEMS),
  };
}

/**
 * Brings members of a dimension by file; only looked at, or applied as one unit when no row is wrong.
 * @throws HttpProblem 400 when it is to be applied and a row is wrong
 */
export async function bringMembers(
  connections: Connections,
  actor: Actor,
  dimensionCode: string,
  bytes: Buffer,
  apply: boolean,
): Promise<MembersFile> {
  mustPlan(actor);
  const { workspaceId } = actor;
  const membersRead = await readMembers(bytes, 'en');
  if (membersRead.members.length === 0 && membersRead.problems.length === 0) {
    throw badRequest('The file has no rows; nothing was imported');
  }
  if (!apply) {
    let effect: MembersFile | undefined;
    await inTransaction(connections, async (tx) => {
      effect = await bring(tx, workspaceId, dimensionCode, new Recorder(0, 0), membersRead);
      throw new Undone();
    }).catch((error: unknown) => {
      if (!(error instanceof Undone)) throw error;
    });
    return effect ?? { added: 0, changed: 0, same: 0, problems: [] };
  }
  return journaled(connections, actor, 'dimensions', async (tx, record) => {
    const effect = await bring(tx, workspaceId, dimensionCode, record, membersRead);
    const [first] = effect.problems;
    if (first) {
      throw badRequest(
        `${effect.problems.length} rows cannot be imported; the first, row ${first.row}: ${first.message}. Nothing was changed`,
        effect.problems.map(({ row, message }) => ({ path: `row ${row}`, message })),
      );
    }
    record.say(`Imported members: ${effect.added} added, ${effect.changed} changed`);
    return effect;
  });
}
