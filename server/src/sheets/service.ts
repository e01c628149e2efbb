import type {
  Conflict,
  EntriesResult,
  FilledSheet,
  keptSheetLineSchema,
  newSheetSchema,
  Sheet,
  SheetChange,
  SheetLine,
  SheetLineChange,
  sheetStepSchema,
  typedLinesSchema,
  TypedEntry,
} from '@dravex/contract';
import { holdsPart, plansIn, readsAllOf } from '@dravex/contract';
import {
  divideOverLines,
  DivisionError,
  figuresFromRows,
  fiscalYearOf,
  fiscalYearSpan,
  monthFrom,
  planRows,
  sheetLines,
  summedIn,
  targetsByScope,
  TargetScopes,
  type Scope,
} from '@dravex/core';
import { randomUUID } from 'node:crypto';
import { z } from 'zod';
import { lastTyped, typeInto } from '../budgets/entries.ts';
import { cellsNow } from '../budgets/store.ts';
import { versionById } from '../budgets/versions.ts';
import type { Cells } from '../journal/cells.ts';
import { deleteNamed, putNamed, type Named } from '../journal/named.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import { mustWrite, type Actor } from '../people/actor.ts';
import { membershipOf, personById } from '../people/store.ts';
import { checkFrame } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, changedMeanwhile, HttpProblem, notFound } from '../platform/errors.ts';
import { layOut } from '../targets/reading.ts';
import { told } from '../targets/tree.ts';
import { canFillIn, mustFillIn, mustSeeSheet, mustStep, seesSheet } from './rights.ts';
import { linesOf, sheetsOf, type LineRow, type SheetRow } from './store.ts';
import { SHEET, SHEET_LINE } from './thing.ts';

function sheetTold(row: SheetRow, actor: Actor): Sheet {
  const { id, kept, personName, versionName, from, to } = row;
  return { ...kept, id, personName, versionName, from, to, open: canFillIn(row, actor) };
}

/** The sheets that an actor sees. */
export async function listSheets({ db }: Connections, actor: Actor): Promise<Sheet[]> {
  const rows = await sheetsOf(
    db,
    actor.workspaceId,
    readsAllOf(actor.role) ? {} : { person: actor.personId },
  );
  return rows.filter((row) => seesSheet(row, actor)).map((row) => sheetTold(row, actor));
}

/** @throws HttpProblem 404 */
async function sheetById(db: Database, workspaceId: number, id: string): Promise<SheetRow> {
  const [row] = await sheetsOf(db, workspaceId, { id });
  if (!row) throw notFound('such sheet');
  return row;
}

/** A sheet that an actor sees. @throws HttpProblem 403, 404 */
export async function seenSheet(db: Database, actor: Actor, id: string): Promise<SheetRow> {
  const row = await sheetById(db, actor.workspaceId, id);
  mustSeeSheet(row, actor);
  return row;
}

/** @throws HttpProblem 400 for somebody who cannot fill in a sheet, or what is not there */
async function checkSaid(
  db: Database,
  plans: Plans,
  { workspaceId }: Actor,
  { person, scope, rows }: { person: number; scope: Scope; rows: readonly string[] },
): Promise<void> {
  checkFrame(await plans.current(workspaceId), rows, scope);
  const role = (await membershipOf(db, workspaceId, person))?.role;
  if (holdsPart(role) || plansIn(role)) return;
  const message = role
    ? 'Whoever only reads cannot fill in a sheet; make them a contributor under Settings, People'
    : 'There is no such person in this workspace';
  throw badRequest(message, [{ path: 'person', message }]);
}

const cellsOf = (of: Named, value: object): Cells =>
  z.record(z.string(), z.json()).parse(of.value.strip().parse(value));

async function keep(
  tx: Database,
  actor: Actor,
  of: Named<'sheet' | 'sheetLine'>,
  id: string,
  before: object | undefined,
  next: object,
  record: Recorder,
  label: string,
): Promise<void> {
  await putNamed(tx, of, actor, id, { ...next });
  const was = before ? cellsOf(of, before) : null;
  record.changed(of.kind, id, was, cellsOf(of, next), (cell) => ({
    label: `${label}, ${cell}`,
    unit: 'text',
  }));
}

/** Makes a sheet, in draft. @throws HttpProblem 400, 404 */
export async function addSheet(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  said: z.output<typeof newSheetSchema>,
): Promise<Sheet> {
  await checkSaid(connections.db, plans, actor, said);
  await versionById(connections.db, actor.workspaceId, said.version);
  return journaled(connections, actor, 'budget', async (tx, record) => {
    const id = randomUUID();
    const step = await stepNow(tx, actor, 'draft', '');
    const next = { ...said, state: 'draft', steps: [step] };
    await keep(tx, actor, SHEET, id, undefined, next, record, said.title);
    record.say(`Added the sheet ${said.title}`);
    return sheetTold(await sheetById(tx, actor.workspaceId, id), actor);
  });
}

async function stepNow<S extends Sheet['state']>(
  tx: Database,
  { personId }: Actor,
  state: S,
  text: string,
) {
  const who = await personById(tx, personId);
  return { state, text, by: who?.name ?? '', at: new Date().toISOString() };
}

/** Says anew of what a sheet is, whose and by when. @throws HttpProblem 400, 404 */
export async function changeSheet(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  id: string,
  change: SheetChange,
): Promise<Sheet> {
  const given = Object.fromEntries(
    Object.entries(change).filter(([, value]) => value !== undefined),
  );
  const before = await sheetById(connections.db, actor.workspaceId, id);
  await checkSaid(connections.db, plans, actor, { ...before.kept, ...given });
  return journaled(connections, actor, 'budget', async (tx, record) => {
    const { kept } = await sheetById(tx, actor.workspaceId, id);
    await keep(tx, actor, SHEET, id, kept, { ...kept, ...given }, record, kept.title);
    record.say(`Changed the sheet ${kept.title}`);
    return sheetTold(await sheetById(tx, actor.workspaceId, id), actor);
  });
}

/** Removes a sheet with what was said of its lines. @throws HttpProblem 404 */
export async function removeSheet(
  connections: Connections,
  actor: Actor,
  id: string,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'budget', async (tx, record) => {
    const { kept } = await sheetById(tx, workspaceId, id);
    const named = (cell: string) => ({ label: `${kept.title}, ${cell}`, unit: 'text' as const });
    for (const line of await linesOf(tx, workspaceId, id)) {
      await deleteNamed(tx, SHEET_LINE, workspaceId, line.id);
      record.changed('sheetLine', line.id, cellsOf(SHEET_LINE, line.kept), null, named);
    }
    await deleteNamed(tx, SHEET, workspaceId, id);
    record.changed('sheet', id, cellsOf(SHEET, kept), null, named);
    record.say(`Removed the sheet ${kept.title}`);
    return {};
  });
}

const STEPS = {
  draft: 'Took back',
  handedOut: 'Handed out',
  handedIn: 'Handed in',
  questioned: 'Sent back',
  agreed: 'Agreed',
} as const satisfies Record<Sheet['state'], string>;

/** Takes a sheet one step on its way. @throws HttpProblem 400 for a question without words; 403, 404, 409 */
export async function stepSheet(
  connections: Connections,
  actor: Actor,
  id: string,
  { state, text }: z.output<typeof sheetStepSchema>,
): Promise<Sheet> {
  mustStep(await seenSheet(connections.db, actor, id), actor, state);
  if (state === 'questioned' && text === '') {
    const message = 'Say what is asked';
    throw badRequest(message, [{ path: 'text', message }]);
  }
  const step = async (tx: Database, record: Recorder): Promise<Sheet> => {
    const row = await seenSheet(tx, actor, id);
    mustStep(row, actor, state);
    const { kept } = row;
    const steps = [...kept.steps, await stepNow(tx, actor, state, text)];
    await keep(tx, actor, SHEET, id, kept, { ...kept, state, steps }, record, kept.title);
    record.say(`${STEPS[state]} ${kept.title}`, text);
    return sheetTold(await sheetById(tx, actor.workspaceId, id), actor);
  };
  return journaled(connections, actor, 'budget', step, { may: mustWrite });
}

/** A scope is a set: the order in which it is named tells no lines apart. */
const inOrder = (scope: Scope): number[] => scope.toSorted((a, b) => a - b);
const keyOf = (scope: Scope): string => inOrder(scope).join();

const PLAIN_LINE = { comment: '', basis: 'standing', locked: false } as const;

/** What the year's revenue or units target gives to scopes; nothing where the version is no year. */
async function targetScopes(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  loaded: LoadedPlan,
  { kept: { measure }, from, to }: SheetRow,
): Promise<TargetScopes | undefined> {
  const { plan, model } = loaded;
  const { fiscalStart } = plan.calendar;
  const fiscalYear = fiscalYearOf(monthFrom(to), fiscalStart);
  if (fiscalYearSpan(fiscalYear, fiscalStart).from > monthFrom(from)) return undefined;
  const { objectives } = await layOut(connections, plans, actor, { fiscalYear });
  const objective = objectives.find((one) => one.measure === measure);
  if (!objective) return undefined;
  const asked = { fiscalYear, objective: objective.id };
  const parts = targetsByScope(told(await layOut(connections, plans, actor, asked), new Map()));
  const { minorDigits } = plan.currency;
  return (
    parts && new TargetScopes(parts, model.tree, plan.combinations, { fiscalStart, minorDigits })
  );
}

async function filled(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  row: SheetRow,
): Promise<FilledSheet> {
  const { db } = connections;
  const { workspaceId } = actor;
  const loaded = await plans.current(workspaceId);
  const { plan, model, actual, forecast } = loaded;
  const { scope, rows, measure, version } = row.kept;
  const [cells, said, targets] = await Promise.all([
    cellsNow(db, workspaceId, version),
    linesOf(db, workspaceId, row.id),
    targetScopes(connections, plans, actor, loaded, row),
  ]);
  const span = { from: monthFrom(row.from), to: monthFrom(row.to) };
  const minor = 10 ** plan.currency.minorDigits;
  const closed = monthFrom(plan.calendar.closedThrough);
  const sources = { actual, forecast, version: figuresFromRows(plan, cells) };
  const saidOf = new Map(said.map(({ kept }) => [keyOf(kept.scope), kept]));
  const lines = sheetLines(model.tree, sources, { scope, rows, measure, span, closed }, minor).map(
    (line): SheetLine => {
      const { comment, basis, locked } = saidOf.get(keyOf(line.scope)) ?? PLAIN_LINE;
      const target = targets?.of(line.scope, span)?.value ?? null;
      const inParts =
        measure === 'revenue' && target !== null ? Math.round(target * minor) : target;
      return { ...line, scope: [...line.scope], comment, basis, locked, target: inParts };
    },
  );
  return {
    sheet: sheetTold(row, actor),
    lines,
    closedThrough: plan.calendar.closedThrough,
    minorDigits: plan.currency.minorDigits,
  };
}

/** A sheet with its lines. @throws HttpProblem 403, 404 */
export async function readSheet(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  id: string,
): Promise<FilledSheet> {
  return filled(connections, plans, actor, await seenSheet(connections.db, actor, id));
}

/** @throws HttpProblem 400 for a scope that is none of the sheet's lines */
function lineAt(lines: readonly SheetLine[], scope: Scope, path: string): SheetLine {
  const line = lines.find((one) => keyOf(one.scope) === keyOf(scope));
  if (line) return line;
  const message = 'This is no line of the sheet';
  throw badRequest(message, [{ path, message }]);
}

/** The lines that a total is made of; a line itself. */
function linesBelow(lines: readonly SheetLine[], total: SheetLine): SheetLine[] {
  const at = lines.indexOf(total);
  const end = lines.findIndex((line, place) => place > at && line.level <= total.level);
  const below = lines.slice(at, end < 0 ? undefined : end);
  return below.filter(({ parent }) => !parent);
}

/** Says something of a line. @throws HttpProblem 400, 403, 404, 409 */
export async function changeSheetLine(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  id: string,
  { scope, ...change }: SheetLineChange,
): Promise<FilledSheet> {
  const { db } = connections;
  const before = await readSheet(connections, plans, actor, id);
  const line = lineAt(before.lines, scope, 'scope');
  if (line.parent && change.locked !== undefined) {
    const message = 'A total is not locked; lock the lines below it';
    throw badRequest(message, [{ path: 'locked', message }]);
  }
  const given = Object.fromEntries(
    Object.entries(change).filter(([, value]) => value !== undefined),
  );
  const say = async (tx: Database, record: Recorder): Promise<Record<string, never>> => {
    const row = await sheetById(tx, actor.workspaceId, id);
    mustFillIn(row, actor);
    const all = await linesOf(tx, actor.workspaceId, id);
    const was: LineRow | undefined = all.find(({ kept }) => keyOf(kept.scope) === keyOf(scope));
    const next: z.output<typeof keptSheetLineSchema> = {
      ...(was?.kept ?? { ...PLAIN_LINE, sheet: id, scope: inOrder(scope) }),
      ...given,
    };
    const name = was?.id ?? randomUUID();
    await keep(tx, actor, SHEET_LINE, name, was?.kept, next, record, line.name);
    record.say(`Changed the line ${line.name} of ${row.kept.title}`);
    return {};
  };
  await journaled(connections, actor, 'budget', say, { may: mustWrite });
  return filled(connections, plans, actor, await seenSheet(db, actor, id));
}

/**
 * The totals that are no longer what was seen. They are asked once nothing can change any more: lines
 * that happen to become what somebody else made them would not tell.
 */
async function changedTotals(
  tx: Database,
  { plan, model }: LoadedPlan,
  { workspaceId }: Actor,
  { kept: { scope, rows, measure, version }, from, to }: SheetRow,
  typed: z.output<typeof typedLinesSchema>['typed'],
): Promise<Conflict[]> {
  const totals = planRows(model.tree, plan.combinations, scope, rows).filter((row) => row.parent);
  const byKey = new Map(totals.map((row) => [keyOf(row.scope), row]));
  if (!typed.some((one) => byKey.has(keyOf(one.scope)))) return [];
  const cells = await cellsNow(tx, workspaceId, version);
  const figures = figuresFromRows(plan, cells);
  const span = { from: monthFrom(from), to: monthFrom(to) };
  const minor = 10 ** plan.currency.minorDigits;
  const conflicts: Conflict[] = [];
  for (const [place, { scope: of, saw }] of typed.entries()) {
    const total = byKey.get(keyOf(of));
    const now = total && summedIn(figures, measure, total.parts, span, minor);
    if (now === undefined || now === saw) continue;
    const inside = new Set(total?.parts.map((part) => plan.combinations[part]?.id));
    const below = cells.filter(({ combination }) => inside.has(combination));
    const who = await lastTyped(tx, workspaceId, version, below);
    conflicts.push({ path: `typed.${place}`, saw, now, ...who });
  }
  return conflicts;
}

/**
 * Types numbers over lines and totals of a sheet: a total is divided over its lines, of which the
 * locked ones keep theirs; a line over its months and what lies below it, as the line says.
 * @throws HttpProblem 400 for what cannot be divided; 403, 404; 409 where something changed meanwhile
 */
export async function typeIntoSheet(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  id: string,
  { typed, why }: z.output<typeof typedLinesSchema>,
): Promise<EntriesResult> {
  const row = await seenSheet(connections.db, actor, id);
  mustFillIn(row, actor);
  const loaded = await plans.current(actor.workspaceId);
  const { lines } = await filled(connections, plans, actor, row);
  const { measure, version } = row.kept;
  const entries: TypedEntry[] = [];
  /** Of each entry, which of what was typed it comes from. */
  const origins: number[] = [];
  typed.forEach(({ scope, total, saw }, place) => {
    const add = (of: SheetLine, becomes: number, seen: number): void => {
      entries.push({
        ...{ scope: of.scope, from: row.from, to: row.to, measure },
        ...{ total: becomes, saw: seen, basis: of.basis, keeps: 'units' },
      });
      origins.push(place);
    };
    const refuse = (message: string): never => {
      throw badRequest(message, [{ path: `typed.${place}.total`, message }]);
    };
    if (measure === 'revenue' && !Number.isSafeInteger(total))
      refuse('Money is a whole number of minor units');
    const line = lineAt(lines, scope, `typed.${place}.scope`);
    if (!line.parent && line.locked) refuse(`${line.name} is locked; unlock it first`);
    // What was seen is no longer there: said of the total itself, it is refused by what it is now.
    if (!line.parent || line.plan !== saw) {
      add(line, total, saw);
      return;
    }
    const below = linesBelow(lines, line);
    try {
      const amounts = divideOverLines(total, below, measure);
      below.forEach((one, at) => {
        const becomes = amounts[at] ?? 0;
        if (becomes !== one.plan) add(one, becomes, one.plan);
      });
    } catch (error) {
      if (error instanceof DivisionError) refuse(error.message);
      throw error;
    }
  });
  if (entries.length === 0) {
    return { cells: 0, lastEntry: 0, revision: 0, journal: null };
  }
  const still = async (tx: Database): Promise<void> => {
    const now = await sheetById(tx, actor.workspaceId, id);
    mustFillIn(now, actor);
    const conflicts = await changedTotals(tx, loaded, actor, now, typed);
    if (conflicts.length > 0) throw changedMeanwhile(conflicts);
  };
  try {
    const [only] = typed.length === 1 ? typed : [];
    const name = only && lineAt(lines, only.scope, 'typed.0.scope').name;
    const what = `Typed ${name ?? `${typed.length} numbers`} in ${row.kept.title}`;
    const right = { may: mustWrite, still, what };
    return await typeInto(connections, plans, actor, version, { typed: entries, why }, right);
  } catch (error) {
    // A conflict names one of what was typed, not of what it became.
    if (!(error instanceof HttpProblem) || error.conflicts.length === 0) throw error;
    throw changedMeanwhile(
      error.conflicts.map((conflict) => ({
        ...conflict,
        path: `typed.${origins[Number(conflict.path.split('.')[1])] ?? 0}`,
      })),
    );
  }
}
