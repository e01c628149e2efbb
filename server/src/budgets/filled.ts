/** A version as a table by line and month, filled in elsewhere and brought back. */
import type { Brought, FilledFile, TypedEntry } from '@dravex/contract';
import {
  figuresFromRows,
  FILLED_MEASURES,
  monthFrom,
  monthText,
  planRows,
  summedIn,
  type FilledMeasure,
  type PlanRow,
  type Scope,
} from '@dravex/core';
import { lookAtFilled, readFilled, takenOf, toldOf } from '../exchange/filled-table.ts';
import { writtenAs, type FilledTable } from '../exchange/filled-form.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { checkFrame } from '../plan/frame.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest, conflict } from '../platform/errors.ts';
import { typeInto } from './entries.ts';
import { cellsNow } from './store.ts';
import { versionById } from './versions.ts';

/** Of what a table is. */
interface AskedTable {
  readonly version: number;
  readonly measure: FilledMeasure;
  /** The dimensions of its lines, the outer one first. */
  readonly rows: readonly string[];
  readonly scope: Scope;
}

/** The months from one to another. */
function monthsOf({ from, to }: { readonly from: string; readonly to: string }): string[] {
  const first = monthFrom(from);
  return Array.from({ length: monthFrom(to) - first + 1 }, (_, place) => monthText(first + place));
}

/** What the keys of a table's rows begin with: they say of what it is when they come back. */
const markOf = ({ version, measure, rows, scope }: AskedTable): string =>
  `version ${version} ${measure} ${rows.join(',')} ${scope.join(',')}`;
const MARK = /^version (\d+) (\S+) ([^ :]+) ([\d,]*)$/;

/** @throws HttpProblem 400 for rows of which none bears a key of such a table */
function askedBy(keys: readonly string[]): AskedTable {
  for (const key of keys) {
    const found = MARK.exec(key.slice(0, key.lastIndexOf(':')));
    const [, version = '', named, rows = '', scope = ''] = found ?? [];
    const measure = FILLED_MEASURES.find((code) => code === named);
    if (!measure) continue;
    return {
      version: Number(version),
      measure,
      rows: rows.split(','),
      scope: scope === '' ? [] : scope.split(',').map(Number),
    };
  }
  throw badRequest('No row of the file bears a key; import a file that was saved from here');
}

interface Laid {
  readonly table: FilledTable;
  readonly rows: ReadonlyMap<string, PlanRow>;
  readonly months: readonly string[];
}

/** @throws HttpProblem 400 for members or dimensions that are not there; 404 */
async function layOut(
  { db }: Connections,
  plans: Plans,
  { workspaceId }: Actor,
  asked: AskedTable,
): Promise<Laid> {
  const loaded = await plans.current(workspaceId);
  const { measure, scope } = asked;
  const dimensions =
    asked.rows.length > 0 ? asked.rows : loaded.plan.dimensions.map(({ code }) => code);
  checkFrame(loaded, dimensions, scope);
  const version = await versionById(db, workspaceId, asked.version);
  const figures = figuresFromRows(loaded.plan, await cellsNow(db, workspaceId, version.id));
  const months = monthsOf(version);
  const { minorDigits } = loaded.plan.currency;
  const mark = markOf({ ...asked, rows: dimensions });
  const rows = planRows(loaded.model.tree, loaded.plan.combinations, scope, dimensions);
  const keyOf = ({ key }: PlanRow): string => `${mark}:${key === '' ? 'total' : key}`;
  const valuesOf = ({ parts }: PlanRow): (number | null)[] =>
    months.map((month) => {
      const span = { from: monthFrom(month), to: monthFrom(month) };
      return summedIn(figures, measure, parts, span, 10 ** minorDigits);
    });
  const [first = '', last = ''] = [months[0], months.at(-1)];
  return {
    months,
    rows: new Map(rows.map((row) => [keyOf(row), row])),
    table: {
      title: version.name,
      about: `${version.name}, ${measure}, ${first} to ${last}; fill in the marked cells, save, and import the file`,
      of: mark,
      heads: months,
      columns: [
        { head: 'Total', kind: 'number', formula: (cell) => `SUM(${cell(first)}:${cell(last)})` },
      ],
      ...writtenAs(measure, minorDigits),
      rows: rows.map((row) => {
        const values = valuesOf(row);
        const total = values.reduce<number>((sum, value) => sum + (value ?? 0), 0);
        const { name, level, parent } = row;
        const locked = version.state === 'open' ? undefined : `${version.name} is locked`;
        return { key: keyOf(row), name, level, parent, locked, values, beside: [total] };
      }),
    },
  };
}

/** A version as a table; by all dimensions where no rows are named. @throws HttpProblem 400, 404 */
export async function tableOfVersion(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  asked: AskedTable,
): Promise<FilledTable> {
  return (await layOut(connections, plans, actor, asked)).table;
}

/**
 * Brings such a table back: what is changed in it becomes entries, as one act. Rows that cannot be
 * taken in keep all of them out.
 * @throws HttpProblem 400 for what is no such file or is of another version, or while rows cannot be
 *   taken in; 404; 409 for a version that is locked, or where somebody was faster
 */
export async function bringFilled(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  versionId: number,
  bytes: Buffer,
  { apply, meanwhile }: Brought,
): Promise<FilledFile> {
  mustPlan(actor);
  const version = await versionById(connections.db, actor.workspaceId, versionId);
  if (version.state !== 'open')
    throw conflict(`${version.name} is locked; copy it to make changes`);
  const { locale } = await plans.current(actor.workspaceId);
  const read = await readFilled(bytes, locale, monthsOf(version));
  const asked = askedBy(read.rows.map(({ key }) => key));
  if (asked.version !== versionId) {
    throw badRequest(`The file is of another version, not of ${version.name}`);
  }
  const { table, rows, months } = await layOut(connections, plans, actor, asked);
  const look = await lookAtFilled(table, read);
  if (apply === 'no') return toldOf(look, false);
  const typed = takenOf(look, meanwhile).flatMap((change): TypedEntry[] => {
    const place = look.places.get(change);
    const month = months[place?.value ?? -1];
    const scope = rows.get(place?.row.key ?? '')?.scope;
    if (month === undefined || !scope) return [];
    return [
      {
        ...{ scope: [...scope], from: month, to: month, measure: asked.measure },
        ...{ total: change.file, saw: change.now, basis: 'standing', keeps: 'units' },
      },
    ];
  });
  if (typed.length > 0) {
    await typeInto(connections, plans, actor, versionId, { typed, why: '' });
  }
  return toldOf(look, true);
}
