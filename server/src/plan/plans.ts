import type {
  KeptAdjustment,
  KeptAdjustmentChange,
  KeptAssumption,
  WorkspacePlan,
} from '@dravex/contract';
import {
  actualFigures,
  change,
  compile,
  evaluating,
  forecastFigures,
  marketOf,
  type Driver,
  type FactColumns,
  type Figures,
  type Market,
  type Model,
  type OverrideChange,
} from '@dravex/core';
import { actualColumns } from '../actuals/read-lines.ts';
import { rulesOf } from '../closing/store.ts';
import { measures, observations } from '../facts/store.ts';
import { combinationsOf, dimensionsOf } from '../dimensions/store.ts';
import { driversOf } from '../drivers/driver-store.ts';
import { adjustmentsOf, assumptionsOf } from '../drivers/store.ts';
import { thingsSince } from '../journal/store.ts';
import type { Affects } from '../journal/thing.ts';
import { changesPlan, kindOf } from '../journal/things.ts';
import { atOneMoment, type Connections, type Database } from '../platform/database.ts';
import { notFound } from '../platform/errors.ts';
import { inTurns } from '../platform/pauses.ts';
import { workspaceById } from '../workspaces/store.ts';
import { calendarOf } from './calendar.ts';
import { overridesOf, streamsOf } from '../forecast/store.ts';
import { overrideCell, overrideId } from '../forecast/thing.ts';

/** Reads everything the core needs, as one moment of the database. */
export async function readPlan(db: Database, workspaceId: number): Promise<WorkspacePlan> {
  const workspace = await workspaceById(db, workspaceId);
  if (!workspace) throw notFound('such workspace');
  const dimensions = await dimensionsOf(db, workspaceId);
  const combinations = await combinationsOf(db, workspaceId);
  const assumptions = await assumptionsOf(db, workspaceId);
  const adjustments = await adjustmentsOf(db, workspaceId);
  const streams = await streamsOf(db, workspaceId);
  const forecast = new Set(streams.map(({ combination }) => combination));
  // What is typed over a stream that is gone rests until the stream is back.
  const overrides = (await overridesOf(db, workspaceId)).filter(({ combination }) =>
    forecast.has(combination),
  );
  const drivers = await driversOf(db, workspaceId);
  const actuals = await actualColumns(db, workspaceId);
  const facts = await historyFacts(db, workspaceId, drivers, workspace);
  return {
    name: workspace.name,
    locale: workspace.locale,
    revision: workspace.revision,
    closedMonths: (await rulesOf(db, workspaceId)).closed,
    plan: {
      calendar: calendarOf(workspace),
      currency: { code: workspace.currencyCode, minorDigits: workspace.minorDigits },
      dimensions,
      combinations,
      drivers,
      assumptions,
      adjustments,
      streams,
      actuals,
      overrides,
      facts,
    },
  };
}

/** The measured facts that drivers take their history from, over the closed months. */
async function historyFacts(
  db: Database,
  workspaceId: number,
  drivers: readonly Driver[],
  { firstMonth, closedThrough }: { firstMonth: string; closedThrough: string },
): Promise<FactColumns[]> {
  const wanted = new Set(
    drivers.flatMap(({ history }) => (history ? [history.measure, history.per] : [])),
  );
  if (wanted.size === 0) return [];
  const natures = new Map(
    (await measures(db, workspaceId)).map(({ code, nature }) => [code, nature]),
  );
  const rows = await observations(db, workspaceId, firstMonth, closedThrough);
  const rowsByAssumption = new Map<
    string,
    { months: string[]; values: number[]; row: (typeof rows)[0] }
  >();
  for (const row of rows) {
    if (!wanted.has(row.measure)) continue;
    const key = JSON.stringify([row.measure, row.members]);
    const assumptionOfKey = rowsByAssumption.get(key) ?? { months: [], values: [], row };
    rowsByAssumption.set(key, assumptionOfKey);
    assumptionOfKey.months.push(row.month);
    assumptionOfKey.values.push(row.value);
  }
  return [...rowsByAssumption.values()].map(({ months, values, row: { measure, members } }) => ({
    measure,
    nature: natures.get(measure) ?? 'flow',
    scope: members,
    months,
    values,
  }));
}

/** Rows in the order in which they were made. */
function inOrder<Row extends { readonly id: number }>(rows: ReadonlyMap<number, Row>): Row[] {
  return [...rows.values()].sort((a, b) => a.id - b.id);
}

/** A workspace's plan with its computed model, as it is at a revision. */
export class LoadedPlan {
  /** The revision it stands for, and the one of the last write that changed it. */
  revision: number;
  planRevision: number;
  readonly model: Model;
  /** The plan's sales by combination and month. */
  readonly actual: Figures;
  #forecast: Figures | undefined;
  #market: Market | undefined;
  #plan: WorkspacePlan['plan'] | undefined;
  readonly #assumptions: Map<number, KeptAssumption>;
  readonly #adjustments: Map<number, KeptAdjustment>;

  /** Computes a plan; others have their turn meanwhile. */
  static async of(loaded: WorkspacePlan, planRevision: number): Promise<LoadedPlan> {
    const model = compile(loaded.plan);
    await inTurns(evaluating(model));
    return new LoadedPlan(loaded, planRevision, model);
  }

  private constructor(
    readonly loaded: WorkspacePlan,
    planRevision: number,
    model: Model,
  ) {
    this.revision = loaded.revision;
    this.planRevision = planRevision;
    this.model = model;
    this.actual = actualFigures(loaded.plan);
    this.#assumptions = new Map(loaded.plan.assumptions.map((row) => [row.id, row]));
    this.#adjustments = new Map(loaded.plan.adjustments.map((row) => [row.id, row]));
  }

  get name(): string {
    return this.loaded.name;
  }
  get locale(): string {
    return this.loaded.locale;
  }

  /** The plan as it is now, with every edit it has taken in. */
  get plan(): WorkspacePlan['plan'] {
    this.#plan ??= {
      ...this.loaded.plan,
      assumptions: inOrder(this.#assumptions),
      adjustments: inOrder(this.#adjustments),
      overrides: this.model.plan.overrides,
    };
    return this.#plan;
  }

  assumption(id: number): KeptAssumption | undefined {
    return this.#assumptions.get(id);
  }
  adjustment(id: number): KeptAdjustment | undefined {
    return this.#adjustments.get(id);
  }

  /** Actuals of closed months and the forecast of open ones. */
  get forecast(): Figures {
    this.#forecast ??= forecastFigures(this.model, this.actual);
    return this.#forecast;
  }

  /**
   * Sales, and the forecast line, of everything or of what is in the books only. The latter is laid
   * out anew each time: few ask for it.
   */
  figures(kind: 'actual' | 'forecast', origin: 'all' | 'books'): Figures {
    if (origin === 'all' || !this.loaded.plan.actuals.byHand) return this[kind];
    const inBooks = actualFigures(this.loaded.plan, true);
    return kind === 'actual' ? inBooks : forecastFigures(this.model, inBooks);
  }

  /** The sizes of markets behind combinations. */
  get market(): Market {
    this.#market ??= marketOf(this.model);
    return this.#market;
  }

  /** Takes in what was typed since: the model computes what it touches, and nothing else. */
  take(edit: KeptEdit): void {
    const { put, drop, adjustments } = edit;
    change(this.model, edit);
    for (const id of drop) this.#assumptions.delete(id);
    for (const row of put) this.#assumptions.set(row.id, row);
    for (const id of adjustments.drop) this.#adjustments.delete(id);
    for (const row of adjustments.put) this.#adjustments.set(row.id, row);
    this.#forecast = undefined;
    this.#market = undefined;
    this.#plan = undefined;
  }
}

/** Assumptions, adjustments and overrides as they are kept now, and those that are gone. */
export interface KeptEdit {
  readonly put: readonly KeptAssumption[];
  readonly drop: readonly number[];
  readonly adjustments: KeptAdjustmentChange;
  readonly overrides: OverrideChange;
}

/** What changed after a revision, by what has to be read anew. */
export interface ChangedSince {
  readonly affected: ReadonlySet<Affects>;
  readonly edit: KeptEdit;
  /** The ids of versions and of their cells that changed. */
  readonly versions: readonly number[];
}

/** Reads what changed after a revision: what was typed as it is now, everything else by its kind. */
export async function changedSince(
  db: Database,
  workspaceId: number,
  since: number,
): Promise<ChangedSince> {
  const things = await thingsSince(db, workspaceId, since);
  const affected = new Set(things.map(({ thing }) => kindOf(thing).affects));
  const idsOf = (affects: Affects): string[] => [
    ...new Set(
      things.filter(({ thing }) => kindOf(thing).affects === affects).map(({ thingId }) => thingId),
    ),
  ];
  const gone = (ids: readonly number[], rows: readonly { id: number }[]): number[] => {
    const there = new Set(rows.map(({ id }) => id));
    return ids.filter((id) => !there.has(id));
  };
  const ids = idsOf('assumption').map(Number);
  const put = await assumptionsOf(db, workspaceId, { ids });
  const adjusted = idsOf('adjustment').map(Number);
  const rows = await adjustmentsOf(db, workspaceId, { ids: adjusted });
  const overridden = idsOf('override').map(overrideCell);
  const lost = new Set(overridden.map(overrideId));
  const overrides = (
    await overridesOf(db, workspaceId, [...new Set(overridden.map((cell) => cell.combination))])
  ).filter((override) => lost.has(overrideId(override)));
  for (const override of overrides) lost.delete(overrideId(override));
  return {
    affected,
    edit: {
      put,
      drop: gone(ids, put),
      adjustments: { put: rows, drop: gone(adjusted, rows) },
      overrides: {
        put: overrides,
        drop: overridden.filter((cell) => lost.has(overrideId(cell))),
      },
    },
    versions: [...new Set(idsOf('version').map((id) => Number(id.split(':')[0])))],
  };
}

/** The most workspaces whose plan is kept in memory. */
const KEPT = 8;

/**
 * Plans by workspace, kept while nothing changes what they compute; what was typed since is taken in
 * without reading the rest anew.
 */
export class Plans {
  readonly #kept = new Map<number, LoadedPlan>();

  constructor(private readonly connections: Connections) {}

  /**
   * The plan as it is now.
   * @param tx a transaction that sees it; nothing of it may have been written yet
   * @throws HttpProblem 404
   */
  async current(workspaceId: number, tx?: Database): Promise<LoadedPlan> {
    const db = tx ?? this.connections.db;
    for (;;) {
      const workspace = await workspaceById(db, workspaceId);
      if (!workspace) throw notFound('such workspace');
      const held = this.#kept.get(workspaceId);
      if (held?.planRevision === workspace.planRevision) {
        // In a transaction that writes it is not kept yet.
        if (!tx) held.revision = workspace.revision;
        return held;
      }
      if (!held || held.planRevision > workspace.planRevision) {
        return this.#load(workspaceId, tx);
      }
      const from = held.planRevision;
      const { affected, edit } = await changedSince(db, workspaceId, from);
      // What nobody wrote down could be anything.
      const told = [...affected].some(changesPlan);
      if (affected.has('plan') || !told) return this.#load(workspaceId, tx);
      // Somebody else may have taken it in while it was read; then it is looked at again.
      if (this.#kept.get(workspaceId) !== held || held.planRevision !== from) continue;
      held.take(edit);
      held.planRevision = workspace.planRevision;
      held.revision = tx ? workspace.planRevision : workspace.revision;
      return held;
    }
  }

  async #load(workspaceId: number, tx: Database | undefined): Promise<LoadedPlan> {
    const read = async (db: Database): Promise<LoadedPlan> => {
      const loaded = await readPlan(db, workspaceId);
      const workspace = await workspaceById(db, workspaceId);
      const { planRevision = 0 } = workspace ?? {};
      const revision = tx ? planRevision : loaded.revision;
      return LoadedPlan.of({ ...loaded, revision }, planRevision);
    };
    const plan = tx ? await read(tx) : await atOneMoment(this.connections, read);
    this.#kept.delete(workspaceId);
    this.#kept.set(workspaceId, plan);
    const [oldest] = this.#kept.keys();
    if (this.#kept.size > KEPT && oldest !== undefined) this.#kept.delete(oldest);
    return plan;
  }
}
