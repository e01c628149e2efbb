import type { Changes, Typing, TypingResult, VersionCells, WorkspacePlan } from '@dravex/contract';
import {
  actualFacts,
  change,
  checkDriver,
  compare,
  compile,
  copyScope,
  coversMonth,
  budgetTotal,
  driverFrames,
  driverNamed,
  DriverRollUp,
  driverNumbers,
  driverUses,
  explain,
  explainDriver,
  inScope,
  evaluate,
  factsFromRows,
  forecastFacts,
  forecastTotal,
  FRESH_ID,
  historyOf,
  lastSeason,
  league,
  missingInputs,
  modelProblems,
  monthFrom,
  monthText,
  movers,
  observedHistory,
  planOf,
  profilePreview,
  proposeStreams,
  referenceOf,
  marketOf,
  measuredTable,
  rollUp,
  streamsIn,
  typedThere,
  typeInto,
  seriesOfDriver,
  streamsBelow,
  flattened,
  runUnder,
  type Adjustment,
  type Assumption,
  type DriverEdit,
  type Comparison,
  type ComparisonQuery,
  type Driver,
  type DriverQuery,
  type DriverFrame,
  type DriverFrames,
  type DriverNumbers,
  type DriverUse,
  type Facts,
  type League,
  type MethodCode,
  type Model,
  type Month,
  bandOf,
  funnelTable,
  type FunnelTable,
  type Grain,
  partsOf,
  proposeMethod,
  stretchOf,
  type Interval,
  type ProposedMethod,
  type Market,
  type Parts,
  type PartsQuery,
  type MeasuredQuery,
  type Mover,
  type Override,
  type Problem,
  type Reference,
  type Scope,
  type Source,
  type Span,
  type Stream,
  type StreamSettings,
  type Table,
  type TableQuery,
  type TraceNode,
  type TraceQuestion,
  type Flattened,
  type ForecastResult,
  type TypedMeasure,
} from '@dravex/core';
import { transfer } from 'comlink';
import { packTable, type PackedTable } from './packed-table.ts';

/** What typed values would overwrite, as it is seen now; in the order of what is typed. */
export interface Seen {
  readonly values: readonly (number | null)[];
  readonly totals: readonly (number | null)[];
}

/** What typed values do, shown before they are kept. */
export interface Previewed {
  readonly problems: Problem[];
  readonly seen: Seen;
  /** Whether nothing became another number. */
  readonly unchanged: boolean;
}

/** A typed value that would make different values equal. */
export interface Flattening extends Flattened {
  readonly scope: Scope;
  readonly month: string;
}

/** What sales say of a driver for a scope. */
export interface SaidOfDriver {
  readonly reference: Reference | null;
  /** By closed month; empty where they say nothing. */
  readonly history: readonly (number | null)[];
  /** Twelve indices with mean 1, January first. */
  readonly season: readonly number[] | null;
  /** How many forecast lines of the scope have the driver. */
  readonly lines: number;
}

/** A driver's table as it is sent: its rows where they are new, and the numbers of all of them. */
export interface DriverAnswer {
  readonly structure: number;
  readonly frames: readonly DriverFrame[] | null;
  readonly numbers: DriverNumbers;
  /** What means are weighted by, in words; null where all weigh the same. */
  readonly weightedBy: string | null;
}

/** A combination that is sold and not forecast, with what it brought in the last twelve months. */
export interface SoldNotForecast {
  readonly combination: number;
  readonly label: string;
  readonly revenue: number;
  /** The last month with sales lines. */
  readonly last: string;
}

/** A stream in a list, with its method and what it lacks. */
export interface StreamLine {
  readonly stream: Stream;
  readonly label: string;
  readonly members: readonly number[];
  /** What its method found out from history. */
  readonly words: string;
  readonly problems: readonly string[];
}

/** What another method would make of streams, by month of the plan. */
export interface TriedMethod {
  readonly now: readonly (number | null)[];
  readonly then: readonly (number | null)[];
  /** Where it will probably lie in open months; of one stream by a baseline. */
  readonly band: readonly Interval[] | null;
  readonly problems: readonly string[];
}

export interface OverrideLine {
  readonly override: Override;
  readonly label: string;
  readonly members: readonly number[];
  readonly computed: number | null;
}

/**
 * The core around one plan, as the browser uses it: answers tables, and shows the effect of typed
 * values before the server has kept them. Runs in a worker; knows nothing of the page.
 */
export class Computation {
  #model: Model | undefined;
  /** Kept versions by id, each with the newest entry its cells have in them. */
  readonly #versions = new Map<number, { lastEntry: number; cells: VersionCells }>();
  readonly #facts = new Map<Source, Facts>();
  /** The rows of the driver's table that was asked last; an edit does not change them. */
  #driverFrames: { key: string; structure: number; frames: DriverFrames } | undefined;
  /** Sizes of markets, until an assumption changes. */
  #market: Market | undefined;

  #required(): Model {
    if (!this.#model) throw new Error('No plan is loaded yet');
    return this.#model;
  }

  /** Takes in a plan and computes it. */
  load({ plan }: Pick<WorkspacePlan, 'plan'>): Problem[] {
    this.#model = evaluate(compile(plan));
    this.#facts.clear();
    this.#market = undefined;
    // Other streams have other rows: the number goes on, the rows are made anew.
    if (this.#driverFrames) this.#driverFrames = { ...this.#driverFrames, key: '' };
    return missingInputs(this.#model);
  }

  /** Takes in a kept version's cells as they are with an entry. */
  setVersion(id: number, lastEntry: number, cells: VersionCells): void {
    this.#versions.set(id, { lastEntry, cells });
    this.#facts.delete(id);
  }

  hasVersion(id: number, lastEntry: number): boolean {
    return this.#versions.get(id)?.lastEntry === lastEntry;
  }

  #factsOf(source: Source): Facts {
    const known = this.#facts.get(source);
    if (known) return known;
    const model = this.#required();
    let facts: Facts;
    if (source === 'actual') facts = actualFacts(model.plan);
    else if (source === 'forecast') facts = forecastFacts(model, this.#factsOf('actual'));
    else facts = this.#version(model, source);
    this.#facts.set(source, facts);
    return facts;
  }

  #version({ plan }: Model, id: number): Facts {
    const cells = this.#versions.get(id)?.cells;
    if (!cells) throw new Error(`Version ${id} is not loaded`);
    const rows = cells.combination.map((combination, i) => ({
      combination,
      month: monthFrom(cells.month[i] ?? ''),
      units: cells.units[i] ?? 0,
      revenue: cells.revenue[i] ?? 0,
      cost: cells.cost[i] ?? null,
    }));
    return factsFromRows(plan, rows);
  }

  table(source: Source, query: TableQuery): Table {
    const model = this.#required();
    return rollUp(this.#factsOf(source), model.tree, query, model.plan.calendar.fiscalStart);
  }

  /** A table of several measures of the forecast. */
  measured(query: MeasuredQuery): PackedTable {
    const model = this.#required();
    this.#market ??= marketOf(model);
    const { fiscalStart } = model.plan.calendar;
    const facts = this.#factsOf('forecast');
    const table = measuredTable(facts, this.#market, model.tree, query, fiscalStart);
    const packed = packTable(table);
    return transfer(packed, [packed.values.buffer, packed.incomplete.buffer]);
  }

  /** What the forecast falls apart into, for charts. */
  parts(query: PartsQuery): Parts {
    const { tree, plan } = this.#required();
    return partsOf(this.#factsOf('forecast'), tree, query, plan.calendar.fiscalStart);
  }

  /** The funnels of a scope: what enters, passes, costs and brings. */
  funnels(scope: Scope, span: Span, grain: Grain): FunnelTable {
    return funnelTable(this.#required(), scope, span, grain);
  }

  compare(version: number, query: ComparisonQuery): Comparison {
    const model = this.#required();
    const closed = monthFrom(model.plan.calendar.closedThrough);
    return compare(this.#factsOf('actual'), this.#factsOf(version), model.tree, query, closed);
  }

  /** What was sold in the last twelve closed months and is not forecast. */
  notForecast(): SoldNotForecast[] {
    const { tree, first, open } = this.#required();
    const { measures, count, combinations } = this.#factsOf('actual');
    const places = new Map(combinations.map(({ id }, place) => [id, place]));
    return proposeStreams(planOf(this.#required())).map(({ combination }) => {
      const place = places.get(combination) ?? 0;
      const months = measures.revenue.subarray(place * count, place * count + open);
      const last = months.findLastIndex((value) => value !== 0);
      return {
        combination,
        label: tree.label(combinations[place]?.members ?? []),
        revenue: months.slice(-12).reduce((sum, value) => sum + value, 0),
        last: monthText(first + last),
      };
    });
  }

  /** The members of every stream. */
  streamMembers(): (readonly number[])[] {
    return this.#required().streams.map(({ combination }) => combination.members);
  }

  /** What each driver feeds, and what is missing of it. */
  driverUses(): DriverUse[] {
    return driverUses(this.#required());
  }

  /** What sales say of a driver for a scope: beside an input, and month by month. */
  said(driver: string, scope: Scope): SaidOfDriver {
    const model = this.#required();
    return {
      reference: referenceOf(model, driver, scope),
      history: observedHistory(model, driver, scope),
      season: lastSeason(model, driver, scope),
      lines: streamsBelow(model, driver, scope).length,
    };
  }

  /** What an assumption would give in every month of the plan; NaN where it does not cover. */
  profilePreview(assumption: Omit<Assumption, 'id'>): Float64Array {
    return profilePreview(this.#required(), assumption);
  }

  /** What is wrong with a driver as it is written, and what its formula comes to for a scope. */
  tryDriver(driver: Driver, scope: Scope): { problems: Problem[]; values: (number | null)[] } {
    const model = this.#required();
    const plan = planOf(model);
    const drivers = [...plan.drivers.filter(({ code }) => code !== driver.code), driver];
    const tried = compile({ ...plan, drivers });
    const problems = [
      ...checkDriver(driver),
      ...tried.drivers.problems.filter(({ where }) => where['driver'] === driver.code),
    ];
    const [index] = streamsIn(tried, scope);
    const members = index === undefined ? undefined : tried.streams[index]?.combination.members;
    if (problems.length > 0 || index === undefined || !members) return { problems, values: [] };
    const { values } = tried.drivers.series(driver.code, members, index);
    return {
      problems,
      values: Array.from(values.subarray(tried.open), (v) => (Number.isNaN(v) ? null : v)),
    };
  }

  /** The streams of a scope with their methods, and what each lacks. */
  streamsIn(scope: Scope): StreamLine[] {
    const model = this.#required();
    const problems = new Map<number, string[]>();
    for (const { message, where } of modelProblems(model)) {
      const id = Number(where['stream']);
      if (Number.isFinite(id)) problems.set(id, [...(problems.get(id) ?? []), message]);
    }
    return streamsIn(model, scope).flatMap((index) => {
      const found = model.streams[index];
      if (!found) return [];
      const { stream, combination, prepared } = found;
      return [
        {
          stream,
          label: model.tree.label(combination.members),
          members: combination.members,
          words: prepared?.words ?? '',
          problems: problems.get(stream.id) ?? [],
        },
      ];
    });
  }

  /** What streams would come to by another method: history and the months ahead, and what is wrong. */
  tryMethod(
    ids: readonly number[],
    method: MethodCode,
    settings: StreamSettings,
    measure: ForecastResult,
  ): TriedMethod {
    const model = this.#required();
    const wanted = new Set(ids);
    const chosen = model.streams.map(({ stream }) => stream).filter(({ id }) => wanted.has(id));
    const streams = chosen.map((one) => ({ ...one, method, settings }));
    const tried = runUnder(model, { streams });
    const sum = (of: Model): (number | null)[] =>
      Array.from({ length: of.count }, (_, t) => {
        let total = 0;
        of.streams.forEach(({ stream }, index) => {
          if (wanted.has(stream.id)) total += of.results[measure][index]?.[t] ?? 0;
        });
        return Number.isNaN(total) ? null : total;
      });
    const [only] = ids;
    const place = tried.streams.findIndex(({ stream }) => stream.id === only);
    const band = ids.length === 1 && place >= 0 ? bandOf(stretchOf(tried, place), measure) : null;
    return {
      now: sum(model),
      then: sum(tried),
      band,
      problems: modelProblems(tried)
        .filter(({ where }) => wanted.has(Number(where['stream'])))
        .map(({ message }) => message),
    };
  }

  /** A method for each of some streams, from its own closed months. */
  proposeMethods(ids: readonly number[]): ProposedMethod[] {
    const model = this.#required();
    return ids.map((id) => proposeMethod(model, id));
  }

  /** How each baseline would have done for a stream over the last twelve closed months. */
  league(id: number, measure: ForecastResult): League {
    const model = this.#required();
    const index = model.streams.findIndex(({ stream }) => stream.id === id);
    return league(historyOf([...(model.results[measure][index]?.subarray(0, model.open) ?? [])]));
  }

  /** What is typed over the forecast, with what was computed there. */
  overrides(): OverrideLine[] {
    const model = this.#required();
    const places = new Map(model.streams.map(({ combination }, index) => [combination.id, index]));
    return (model.plan.overrides ?? []).map((override) => {
      const index = places.get(override.combination) ?? -1;
      const t = monthFrom(override.month) - model.first;
      return {
        override,
        label: model.tree.label(model.streams[index]?.combination.members ?? []),
        members: model.streams[index]?.combination.members ?? [],
        computed: model.beforeOverride.get(index)?.get(t)?.[override.measure] ?? null,
      };
    });
  }

  /** How many cells are typed over below each number of a table. */
  overridesTable(query: TableQuery): Table {
    const { plan, tree } = this.#required();
    const rows = (plan.overrides ?? []).map(({ combination, month }) => ({
      combination,
      month: monthFrom(month),
      units: 1,
      revenue: 0,
      cost: null,
    }));
    const { fiscalStart } = plan.calendar;
    return rollUp(factsFromRows(plan, rows), tree, { ...query, measure: 'units' }, fiscalStart);
  }

  /** The forecast of a scope and a stretch of open months, as a person who types over it sees it. */
  forecastNow(scope: Scope, span: Span, measure: ForecastResult): number | null {
    const [from, to] = [monthText(span.from), monthText(span.to)];
    return forecastTotal(this.#required(), { scope, from, to, measure });
  }

  /** What would move a number of the forecast most. */
  movers(question: { measure: ForecastResult; scope: Scope; span: Span }): Mover[] {
    return movers(this.#required(), question);
  }

  /** How a number came about, one level down. */
  explain(question: TraceQuestion): TraceNode {
    return explain(this.#required(), question, (source) => this.#factsOf(source));
  }

  /** How many cells with entries lie below each number of a version's table. */
  entriesTable(id: number, query: TableQuery): Table {
    const model = this.#required();
    const kept = this.#versions.get(id)?.cells;
    const rows = (kept?.touched ?? []).map((place) => ({
      combination: kept?.combination[place] ?? -1,
      month: monthFrom(kept?.month[place] ?? ''),
      units: 1,
      revenue: 0,
      cost: null,
    }));
    const facts = factsFromRows(model.plan, rows);
    const { fiscalStart } = model.plan.calendar;
    return rollUp(facts, model.tree, { ...query, measure: 'units' }, fiscalStart);
  }

  /** What a version's cells come to, as a person who types over them sees it; money in minor units. */
  budgetNow(id: number, scope: Scope, span: Span, measure: TypedMeasure): number | null {
    const { plan, tree } = this.#required();
    const kept = this.#versions.get(id)?.cells;
    if (!kept) throw new Error(`Version ${id} is not loaded`);
    const held = new Set(
      [...inScope(tree, plan.combinations, scope)].map((index) => plan.combinations[index]?.id),
    );
    const cells = kept.combination.flatMap((combination, i) => {
      const month = monthFrom(kept.month[i] ?? '');
      if (!held.has(combination) || month < span.from || month > span.to) return [];
      const { units, revenue, cost } = kept;
      return [
        {
          combination,
          month,
          units: units[i] ?? 0,
          revenue: revenue[i] ?? 0,
          cost: cost[i] ?? null,
        },
      ];
    });
    return budgetTotal(cells, measure);
  }

  /** How much copying a scope's assumptions would write and replace; of all drivers, or of one. */
  copied(from: Scope, into: Scope, driver: string | undefined): { put: number; drop: number } {
    const { assumptions, tree, plan } = this.#required();
    const codes = driver === undefined ? plan.drivers.map(({ code }) => code) : [driver];
    const { put, drop } = copyScope(assumptions, tree, from, into, new Set(codes));
    return { put: put.length, drop: drop.length };
  }

  /**
   * A driver's table. Its rows are sent where whoever asks does not have them yet.
   * @param known the number of the rows that the page has
   */
  driverTable(query: DriverQuery, known: number): DriverAnswer {
    const model = this.#required();
    const key = JSON.stringify(query);
    const kept = this.#driverFrames;
    const made =
      kept?.key === key
        ? kept
        : { key, structure: (kept?.structure ?? 0) + 1, frames: driverFrames(model, query) };
    this.#driverFrames = made;
    const numbers = driverNumbers(model, made.frames);
    const { structure, frames } = made;
    const { values, totals, holders, mixed, own } = numbers;
    const { weightWords: weightedBy } = new DriverRollUp(model, driverNamed(model, query.driver));
    const sent = structure === known ? null : frames.frames;
    return transfer({ structure, frames: sent, numbers, weightedBy }, [
      values.buffer,
      totals.buffer,
      holders.buffer,
      mixed.buffer,
      own.buffer,
    ]);
  }

  /** The assumptions that cover a stream's month, the one that holds first. */
  covering(driver: string, scope: readonly number[], month: Month): Assumption[] {
    const model = this.#required();
    const t = month - model.first;
    const holdings = model.drivers.holdings.get(driver);
    if (!holdings) return [];
    const stream = model.streams.find(({ combination }) =>
      model.tree.covers(scope, combination.members),
    );
    if (!stream) return [];
    const { members } = stream.combination;
    const holder = holdings.series(members).holders[t];
    const order = holdings.covering(members);
    const first = order.findIndex(({ id }) => id === holder);
    return first < 0 ? order : order.slice(first);
  }

  /** The adjustments that change a driver in a month anywhere in a scope, in the order they are laid over. */
  adjusting(driver: string, scope: readonly number[], month: Month): Adjustment[] {
    const model = this.#required();
    const found = new Map<number, Adjustment>();
    for (const index of streamsBelow(model, driver, scope)) {
      const members = model.streams[index]?.combination.members ?? [];
      for (const one of model.drivers.adjustments.covering(driver, members)) {
        if (coversMonth(one, month)) found.set(one.id, one);
      }
    }
    return [...found.values()].sort((one, other) => one.id - other.id);
  }

  /** Which typed values would make different values equal: how many, and how different. */
  flattening(driver: string, { values }: Pick<Typing, 'values'>): Flattening[] {
    const model = this.#required();
    return values.flatMap(({ scope, month, value }) => {
      const found = value === null ? undefined : flattened(model, driver, scope, month);
      return found && found.values > 1 ? [{ ...found, scope, month }] : [];
    });
  }

  /**
   * Shows the effect of typed values at once.
   * @returns the problems that missing inputs leave, and what the typed values are laid over
   */
  preview(driver: string, typing: Pick<Typing, 'values' | 'totals' | 'changes'>): Previewed {
    const model = this.#required();
    const seen: Seen = {
      values: typing.values.map(
        ({ scope, month }) => typedThere(model, driver, scope, month)?.value ?? null,
      ),
      totals: typing.totals.map(
        ({ scope, month }) => explainDriver(model, { kind: 'driver', driver, scope, month }).value,
      ),
    };
    const cells = [...typing.values, ...typing.totals, ...typing.changes];
    const numbers = (): number[] =>
      cells.flatMap(({ scope, month }) =>
        streamsBelow(model, driver, scope).map(
          (index) =>
            seriesOfDriver(model, index, driver)?.values[monthFrom(month) - model.first] ??
            Number.NaN,
        ),
      );
    const before = numbers();
    const problems = this.#apply(typeInto(model, driver, typing));
    const unchanged = numbers().every((value, place) => Object.is(value, before[place]));
    return { problems, seen, unchanged };
  }

  /** Puts what the server has kept in place of what was previewed. */
  acceptKept(result: Pick<TypingResult, 'put' | 'drop' | 'adjustments'>): Problem[] {
    const { assumptions, drivers } = this.#required();
    const fresh = (rows: Iterable<{ readonly id: number }>): number[] =>
      [...rows].flatMap(({ id }) => (id >= FRESH_ID ? [id] : []));
    const { put, drop, adjustments } = result;
    return this.#apply({
      put,
      drop: [...drop, ...fresh(assumptions)],
      adjustments: {
        put: adjustments.put,
        drop: [...adjustments.drop, ...fresh(drivers.adjustments)],
      },
    });
  }

  /** Takes in what somebody else has changed. */
  merge(edit: Pick<Changes, 'put' | 'drop' | 'adjustments'>): Problem[] {
    return this.#apply(edit);
  }

  #apply(edit: DriverEdit): Problem[] {
    const model = this.#required();
    change(model, edit);
    this.#facts.delete('forecast');
    this.#market = undefined;
    return missingInputs(model);
  }
}
