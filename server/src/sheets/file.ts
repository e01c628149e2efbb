/** A sheet by file: saved to be filled in anywhere, and brought back with a look at every row. */
import type { Brought, FilledFile, FilledSheet } from '@dravex/contract';
import { writtenAs, type BesideColumn, type FilledTable } from '../exchange/filled-form.ts';
import { lookAtFilled, readFilled, takenOf, toldOf } from '../exchange/filled-table.ts';
import type { Actor } from '../people/actor.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { mustFillIn } from './rights.ts';
import { readSheet, seenSheet, typeIntoSheet } from './service.ts';

const PLAN = 'Plan';
const LAST_YEAR = 'Last year';
const BESIDE: readonly BesideColumn[] = [
  { head: LAST_YEAR, kind: 'number' },
  {
    head: 'Change',
    kind: 'percent',
    formula: (cell) => `IF(N(${cell(LAST_YEAR)})=0,"",${cell(PLAN)}/${cell(LAST_YEAR)}-1)`,
  },
  { head: 'Last 12', kind: 'number' },
  { head: 'Forecast', kind: 'number' },
  { head: 'Target', kind: 'number' },
  { head: 'Comment', kind: 'text' },
];

/** A sheet as a table that is filled in. */
export function tableOfSheet({ sheet, lines, minorDigits }: FilledSheet): FilledTable {
  const { id, title, versionName, from, to } = sheet;
  return {
    title,
    about: `${versionName}, ${from} to ${to}, ${sheet.measure}; fill in the marked cells, save, and import the file`,
    of: id,
    heads: [PLAN],
    columns: BESIDE,
    ...writtenAs(sheet.measure, minorDigits),
    rows: lines.map((line) => ({
      ...line,
      key: `${id}:${line.key === '' ? 'total' : line.key}`,
      locked: line.locked ? 'it is locked; unlock it first' : undefined,
      values: [line.plan],
      beside: [
        line.lastYear,
        line.lastYear ? Number((line.plan / line.lastYear - 1).toFixed(6)) : null,
        ...[line.lastTwelve, line.forecast, line.target, line.comment],
      ],
    })),
  };
}

/**
 * Brings a sheet's file back: what is changed in it becomes entries, as one act. Rows that cannot be
 * taken in keep all of them out.
 * @throws HttpProblem 400 for what is no such file, or while rows cannot be imported; 403, 404; 409
 */
export async function bringSheet(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  id: string,
  bytes: Buffer,
  { apply, meanwhile }: Brought,
): Promise<FilledFile> {
  mustFillIn(await seenSheet(connections.db, actor, id), actor);
  const filled = await readSheet(connections, plans, actor, id);
  const { locale } = await plans.current(actor.workspaceId);
  const look = await lookAtFilled(tableOfSheet(filled), await readFilled(bytes, locale, [PLAN]));
  if (apply === 'no') return toldOf(look, false);
  const scopes = new Map(filled.lines.map((line) => [`${id}:${line.key}`, line.scope]));
  const typed = takenOf(look, meanwhile).map((change) => ({
    ...{ total: change.file, saw: change.now ?? 0 },
    scope: scopes.get(look.places.get(change)?.row.key ?? '') ?? [],
  }));
  if (typed.length > 0) await typeIntoSheet(connections, plans, actor, id, { typed, why: '' });
  return toldOf(look, true);
}
