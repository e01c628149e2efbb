import type { AccessToken, MadeToken, SavedView, ViewQuery } from '@dravex/contract';
import type { Response } from 'express';
import type { Plans } from '../plan/plans.ts';
import { journaled } from '../journal/service.ts';
import type { Actor } from '../people/actor.ts';
import type { Connections } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { windowOf } from '../plan/frame.ts';
import { supplyTable } from './report.ts';
import { newSecret } from '../platform/secrets.ts';
import * as store from './store.ts';
import { makeView } from './view.ts';
import { sendTable, type TableFormat } from '../platform/table-file.ts';
import { aboutTable } from '../plan/file-numbers.ts';

export async function listTokens(
  { db }: Connections,
  { workspaceId, personId }: Actor,
): Promise<AccessToken[]> {
  const rows = await store.tokensOf(db, workspaceId, personId);
  return rows.map((row) => ({
    ...row,
    createdAt: row.createdAt.toISOString(),
    lastUsedAt: row.lastUsedAt?.toISOString() ?? null,
  }));
}

/** Makes a token for whoever asks. Its secret is in the answer and nowhere else. */
export async function makeToken(
  { db }: Connections,
  { workspaceId, personId }: Actor,
  name: string,
): Promise<MadeToken> {
  const { text, start, hash } = newSecret('drx');
  const id = await store.insertToken(db, { workspaceId, name, start, hash, createdBy: personId });
  return { id, token: text };
}

export async function withdrawToken(
  { db }: Connections,
  { workspaceId, personId }: Actor,
  id: number,
): Promise<void> {
  if (!(await store.withdrawToken(db, workspaceId, personId, id))) throw notFound('such token');
}

export async function listViews({ db }: Connections, { workspaceId }: Actor): Promise<SavedView[]> {
  const rows = await store.viewsOf(db, workspaceId);
  return rows.map((row) => ({ ...row, createdAt: row.createdAt.toISOString() }));
}

/** Saves a table or chart under an address of its own. */
export async function saveView(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  name: string,
  query: ViewQuery,
): Promise<MadeToken> {
  // What cannot be shown is refused now rather than in somebody else's page.
  await makeView(connections, plans, actor.workspaceId, query);
  const { text, start, hash } = newSecret('view');
  // The kept answer of a repeated request must not hold the secret, so there is none.
  const { requestKey: _, ...once } = actor;
  const { id } = await journaled(connections, once, 'workspace', async (tx, record) => {
    const { workspaceId, personId } = actor;
    const row = { workspaceId, name, start, hash, createdBy: personId, query };
    const made = await store.insertView(tx, row);
    record.undoable = false;
    record.say(`Created the embedded view ${name}`);
    record.changed('view', made, null, { name }, () => ({ label: name, unit: 'text' }));
    return { id: made };
  });
  return { id, token: text };
}

export async function withdrawView(
  connections: Connections,
  actor: Actor,
  id: number,
): Promise<void> {
  await journaled(connections, actor, 'workspace', async (tx, record) => {
    const name = await store.withdrawView(tx, actor.workspaceId, id);
    if (name === undefined) throw notFound('such view');
    record.undoable = false;
    record.say(`Withdrew the embedded view ${name}`);
    record.changed('view', id, { name }, null, () => ({ label: name, unit: 'text' }));
    return {};
  });
}

/** Writes demand for supply planning as a file. */
export async function writeSupply(
  plans: Plans,
  actor: Actor,
  { from, to, grain }: { from: string; to: string; grain: 'week' | 'month' | 'quarter' },
  format: TableFormat,
  response: Response,
): Promise<void> {
  const loaded = await plans.current(actor.workspaceId);
  const span = windowOf(loaded.plan.calendar, { from, to });
  const { columns, rows } = supplyTable(loaded, [], span, grain);
  // A file stands by itself: it says which units these are.
  const heads = columns.map((column) => (column === 'units' ? 'units, forecast' : column));
  const about = aboutTable(loaded, { what: 'forecast of units', scope: [], from, to });
  const name = `Units by item and ${grain}, ${from} to ${to}`;
  await sendTable(response, format, name, about, [heads, ...rows]);
}
