/** A plan that was made elsewhere, in whatever table: read by a mapping, looked at, and taken into a version. */
import {
  figureColumn,
  figureNamed,
  type FilledChange,
  type FilledFile,
  type PlannedAddress,
  type TableKind,
  type TypedEntry,
  type Version,
} from '@dravex/contract';
import {
  budgetTotal,
  FILLED_MEASURES,
  monthFrom,
  scopeIndex,
  UNIT_PARTS,
  type BudgetCell,
  type FilledMeasure,
} from '@dravex/core';
import { rulesFor, toReplacements, withTable } from '../actuals/sent-table.ts';
import { remember, remembered } from '../actuals/store-memory.ts';
import { nameCombinations } from '../dimensions/made.ts';
import { mustBeTakable, toldOf, type WholeLook } from '../exchange/filled-table.ts';
import { namedMembers } from '../exchange/named-members.ts';
import { RowReader } from '../exchange/row-reader.ts';
import type { Recorder } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict } from '../platform/errors.ts';
import { pausesFor } from '../platform/pauses.ts';
import { cellsUnder, typeInto, writeCells } from './entries.ts';
import { cellsNow } from './store.ts';
import { versionById } from './versions.ts';

/** What a row can plan: the fields of a table that hold it. */
const FIELDS = { units: 'quantity', revenue: 'net amount', cost: 'cost' } as const;

/** What a file plans of a scope in a month: its rows added up. */
interface Planned {
  /** The first of them. */
  readonly row: number;
  readonly scope: readonly number[];
  readonly month: string;
  /** In units and minor units; what no row states is not there. */
  readonly numbers: Map<FilledMeasure, number>;
}

interface ReadPlan {
  readonly planned: readonly Planned[];
  readonly problems: FilledFile['problems'];
  readonly leftOut: readonly string[];
}

const countOf = (count: number, one: string, many: string): string[] =>
  count === 0 ? [] : [count === 1 ? `1 ${one}` : `${count} ${many}`];

/** The numbers that a row states. */
function numbersOf(reader: RowReader): [FilledMeasure, number][] {
  const { reading, minorDigits } = reader.rules;
  const number = (measure: FilledMeasure): [FilledMeasure, number] => {
    const digits = measure === 'units' ? Math.log10(UNIT_PARTS) : minorDigits;
    const parts = reader.number(FIELDS[measure], digits, false);
    return [measure, measure === 'units' ? parts / UNIT_PARTS : parts];
  };
  if (figureColumn(reading) !== undefined) {
    reader.mustNameFigure();
    const named = figureNamed(reader.text('figure'));
    return FILLED_MEASURES.filter((measure) => FIELDS[measure] === named).map(number);
  }
  const stated = (measure: FilledMeasure): boolean =>
    reader.text(FIELDS[measure]) !== '' || (measure === 'revenue' && reader.text('debit') !== '');
  return FILLED_MEASURES.filter(stated).map(number);
}

/** A plan has no more rows; all of them are in memory while they are compared with what stands. */
const MOST_ROWS = 300_000;
/** Of a file with more faults than this something else is wrong. */
const MOST_PROBLEMS = 5000;

/**
 * Reads a file whole.
 * @throws HttpProblem 400 for what is no table, or where no column holds the month or any number
 */
async function readPlan(
  { db }: Connections,
  actor: Actor,
  { name, from: first, to: last }: Version,
  { fileName, reading: choice, replace }: Pick<PlannedAddress, 'fileName' | 'reading' | 'replace'>,
  chunks: AsyncIterable<Buffer>,
): Promise<ReadPlan> {
  const rules = await rulesFor(db, actor.workspaceId, 'plan');
  // What a value stands for in sales it stands for in plans, where nothing else is said.
  const known = await remembered(db, actor.workspaceId);
  const of = (kind: TableKind) => known.filter((one) => one.kind === kind);
  const meant = toReplacements([...of('sales'), ...of('plan'), ...replace]);
  const sent = { fileName, kind: 'plan', reading: choice, chunks, mostRows: MOST_ROWS } as const;
  return withTable(db, actor, sent, async ({ reading, missing, rows }) => {
    const lacks = missing.filter(({ need }) => need !== 'maybe').map(({ label }) => label);
    if (lacks.length > 0) {
      throw badRequest(
        `No column holds ${lacks.join(' or ').toLowerCase()}; say which one does, or add it`,
        lacks.map((label) => ({ path: label.toLowerCase(), message: 'no column holds this' })),
      );
    }
    const reader = new RowReader({ ...rules, reading, ...meant });
    const planned = new Map<string, Planned>();
    const problems: FilledFile['problems'] = [];
    let [totals, outside, added, count] = [0, 0, 0, 0];
    const take = (): void => {
      if (reader.isTotal()) {
        totals += 1;
        return;
      }
      const month = reader.fits() ? reader.day('date').slice(0, 7) : '';
      const scope = month === '' ? [] : namedMembers(reader);
      const numbers = month === '' ? [] : numbersOf(reader);
      const found = reader.problems.length > 0 ? reader.explained() : [];
      if (found.some(({ code }) => code === 'header-again')) return;
      const beyond = found.length > 0 && found.every(({ code }) => code === 'outside-calendar');
      if (beyond || (found.length === 0 && (month < first || month > last))) {
        outside += 1;
        return;
      }
      for (const { row, message, code, field, value } of found) {
        if (problems.length >= MOST_PROBLEMS) {
          throw badRequest(
            `More than ${MOST_PROBLEMS.toLocaleString('en')} rows cannot be imported; the first: row ${problems[0]?.row ?? row}: ${problems[0]?.message ?? message}. Look at which column holds what`,
          );
        }
        // What is wrong with a row is told once, not for each of its months.
        const last = problems.at(-1);
        if (last?.row === row && last.message === message) continue;
        const unknown = code === 'unknown-code' ? { unknown: { field, value } } : {};
        problems.push({ row, message, ...unknown });
      }
      if (found.length > 0 || numbers.length === 0) return;
      const key = `${scope.join()} ${month}`;
      const before = planned.get(key);
      const sums = before?.numbers ?? new Map<FilledMeasure, number>();
      for (const [measure, value] of numbers) {
        const there = sums.get(measure);
        if (there !== undefined) added += 1;
        sums.set(measure, (there ?? 0) + value);
      }
      if (!before) planned.set(key, { row: reader.row, scope, month, numbers: sums });
    };
    for await (const batch of rows) {
      for (const { row, cells } of batch) {
        if (reader.isBlank(cells)) continue;
        count += 1;
        for (const part of reader.partsOf(cells)) {
          reader.begin(cells, row, part);
          take();
        }
      }
    }
    if (count === 0) throw badRequest('The file has a header and no rows; nothing was imported');
    const leftOut = [
      ...countOf(totals, 'row is a total of others', 'rows are totals of others'),
      ...countOf(added, 'number is', 'numbers are').map(
        (said) => `${said} added to others of the same place and month`,
      ),
      ...countOf(outside, 'number lies', 'numbers lie').map(
        (said) => `${said} outside of ${name}, ${first} to ${last}`,
      ),
    ];
    return { planned: [...planned.values()], problems, leftOut };
  });
}

/** A combination that was never seen, with what a file plans of it in a month. */
interface NewCell {
  readonly members: readonly number[];
  readonly month: string;
  readonly numbers: ReadonlyMap<FilledMeasure, number>;
}

interface PlannedLook extends WholeLook {
  readonly typed: readonly TypedEntry[];
  readonly fresh: readonly NewCell[];
}

/** Looking at a row, in cells of a table. */
const ROW_IS_AS_LONG_AS = 4;

/** What a file would do to a version as it is now. */
async function lookAtPlan(
  loaded: LoadedPlan,
  cells: readonly BudgetCell[],
  { planned, problems: unread, leftOut }: ReadPlan,
): Promise<PlannedLook> {
  const { tree } = loaded.model;
  const { combinations, dimensions, calendar } = loaded.plan;
  const known = new Set(combinations.map(({ members }) => members.join()));
  const names = (scope: readonly number[]): boolean =>
    scope.length === dimensions.length && scope.every((member) => tree.isLeaf(member));
  const isNew = ({ scope }: Planned): boolean => names(scope) && !known.has(scope.join());
  const fresh = new Map(planned.filter(isNew).map(({ scope }) => [scope.join(), scope]));
  const all = [...combinations, ...[...fresh.values()].map((members) => ({ id: -1, members }))];
  const index = scopeIndex(tree, all);
  const within = (scope: readonly number[]): number[] =>
    index.within(scope).flatMap((at) => combinations[at]?.id ?? []);
  const now = new Map(cells.map((cell) => [`${cell.combination} ${cell.month}`, cell]));
  const plannedNow = new Set(cells.map(({ combination }) => combination));

  const pause = pausesFor();
  const problems = [...unread];
  const changed: FilledChange[] = [];
  const typed: TypedEntry[] = [];
  const freshCells: NewCell[] = [];
  let same = 0;
  /** Which row plans a combination in a month; 0 for none. */
  const by = new Map<string, Int32Array>();
  for (const one of planned) {
    await pause(ROW_IS_AS_LONG_AS);
    const { row, scope, month, numbers } = one;
    const name = tree.label(scope);
    const held = index.within(scope);
    const inMonth = by.get(month) ?? new Int32Array(all.length);
    by.set(month, inMonth);
    const other = held.find((at) => inMonth[at] !== 0);
    if (other !== undefined) {
      const message = `${name}, ${month}: row ${inMonth[other]} plans some of it already; a line and what lies below it are not both imported`;
      problems.push({ row, message });
      continue;
    }
    if (held.length === 0) {
      const message = `${name}: nothing was sold or planned there; name one member of each dimension to plan it`;
      problems.push({ row, message });
      continue;
    }
    for (const at of held) inMonth[at] = row;
    const at = { scope: [...scope], from: month, to: month };
    const isFresh = isNew(one);
    const under = isFresh ? [] : cellsUnder({ calendar, within }, at, now, plannedNow);
    const isPlanned = under.some(({ combination }) => plannedNow.has(combination));
    const differing = [...numbers].filter(([measure, file]) => {
      const saw = budgetTotal(under, measure);
      if (isPlanned && saw === file) same += 1;
      else {
        const told = { row, name, column: month, measure, was: null };
        changed.push({ ...told, now: isPlanned ? saw : null, file });
        return true;
      }
      return false;
    });
    if (differing.length === 0) continue;
    if (isFresh) freshCells.push({ members: scope, month, numbers });
    else {
      // Revenue follows where units are typed: what the file states of both is typed then, units
      // first, whichever row of the file came first.
      for (const measure of FILLED_MEASURES) {
        const total = numbers.get(measure);
        if (total === undefined) continue;
        const saw = budgetTotal(under, measure);
        typed.push({ ...at, measure, total, saw, basis: 'standing', keeps: 'units' });
      }
    }
  }
  const added = [...new Set(freshCells.map(({ members }) => tree.label(members)))];
  return {
    ...{ changed, meanwhile: [], same, lacking: [], problems, added, leftOut: [...leftOut] },
    ...{ typed, fresh: freshCells },
  };
}

/** Plans combinations that were never seen. @throws HttpProblem 409 where somebody was faster */
async function planFresh(
  tx: Database,
  { workspaceId }: Actor,
  { id, name }: Version,
  { model: { tree } }: LoadedPlan,
  fresh: readonly NewCell[],
  record: Recorder,
): Promise<void> {
  if (fresh.length === 0) return;
  const wanted = [...new Map(fresh.map(({ members }) => [members.join(), members])).values()];
  const ids = await nameCombinations(tx, workspaceId, wanted, tree, record);
  if ((await cellsNow(tx, workspaceId, id, { combinations: ids })).length > 0) {
    throw conflict('Somebody else planned a new line of the file meanwhile; import it again');
  }
  const idOf = new Map(wanted.map((members, place) => [members.join(), ids[place] ?? 0]));
  const changed = fresh.map(({ members, month, numbers }) => ({
    cell: {
      ...{ combination: idOf.get(members.join()) ?? 0, month: monthFrom(month) },
      ...{ units: numbers.get('units') ?? 0, revenue: numbers.get('revenue') ?? 0 },
      cost: numbers.get('cost') ?? null,
    },
    old: undefined,
  }));
  const members = new Map(wanted.map((one) => [idOf.get(one.join()) ?? 0, one]));
  await writeCells(tx, workspaceId, id, changed, { name, tree, members }, record);
}

/**
 * Takes a plan from any table into an open version: what differs becomes entries, as one act. What
 * the file does not name stays as it is; a row that names a channel only is spread over what lies
 * below it as it stands.
 * @throws HttpProblem 400 for what is no table, or while rows cannot be imported; 404; 409 for a
 *   version that is sealed, or where somebody was faster
 */
export async function bringPlanned(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  versionId: number,
  { apply, faulty, ...read }: PlannedAddress,
  chunks: AsyncIterable<Buffer>,
): Promise<FilledFile> {
  mustPlan(actor);
  const { workspaceId } = actor;
  const version = await versionById(connections.db, workspaceId, versionId);
  if (version.state !== 'open')
    throw conflict(`${version.name} is locked; copy it to make changes`);
  const file = await readPlan(connections, actor, version, read, chunks);
  const loaded = await plans.current(workspaceId);
  const cells = await cellsNow(connections.db, workspaceId, versionId);
  const look = await lookAtPlan(loaded, cells, file);
  if (apply === 'no') return toldOf(look, false);
  if (faulty === 'refuse') mustBeTakable(look);
  const { typed, fresh, changed } = look;
  if (changed.length > 0) {
    await typeInto(
      ...([connections, plans, actor, versionId] as const),
      { typed: [...typed], why: '' },
      {
        may: mustPlan,
        still: async (tx, record) => {
          for (const { remember: lasts, ...one } of read.replace) {
            if (lasts) await remember(tx, workspaceId, { kind: 'plan', ...one });
          }
          await planFresh(tx, actor, version, loaded, fresh, record);
        },
        what: `Imported ${changed.length} numbers of ${read.fileName} into ${version.name}`,
      },
    );
  }
  return toldOf(look, true);
}
