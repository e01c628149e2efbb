import type { SalesWeeks, VersionCells, WorkspacePlan } from '@dravex/contract';
import {
  change,
  compile,
  evaluate,
  figuresFromRows,
  keptSubscriberFigures,
  marketOf,
  missingInputs,
  monthFrom,
  rollUp,
  Sources,
  weekParts,
  type PlanEdit,
  type DriverRowHeads,
  type Figures,
  type KeptMonths,
  type MadeNumbers,
  type Market,
  type Model,
  type Month,
  type Problem,
  type RecordedMonths,
  type Source,
  subscriberFigures,
  subscribersOfSource,
  type SubscriberFigures,
  type Span,
  type Table,
  sourceKey,
  versionSource,
  type VersionAt,
  type TableQuery,
  type WeekParts,
} from '@dravex/core';

const keyOf = ({ id, at }: VersionAt): string => sourceKey(versionSource(id, at));

/** One plan in the browser's worker: its run, kept versions, and what of them is laid out already. */
export class Session {
  #model: Model | undefined;
  #sources: Sources | undefined;
  /** Kept versions by what an address calls them, each with the newest entry its cells have in them. */
  readonly #versions = new Map<string, { lastEntry: number; cells: VersionCells }>();
  /** What was sold by week of some months, of everything and of the books. */
  readonly #weeks = new Map<boolean, { readonly span: Span; readonly parts: WeekParts }>();
  /** The forecasts of closed months as they were kept, where they were read. */
  #kept: KeptMonths | undefined;
  #recorded: RecordedMonths | undefined;
  /** Sizes of markets, until an assumption changes. */
  #market: Market | undefined;
  /** The rows of the driver's table that was asked last; an edit does not change them. */
  driverRowHeads:
    | { key: string; structure: number; heads: DriverRowHeads; made?: MadeNumbers | undefined }
    | undefined;

  /** @throws Error before a plan is loaded */
  get model(): Model {
    if (!this.#model) throw new Error('No plan is loaded yet');
    return this.#model;
  }

  /** Takes in a plan and computes it. @returns the inputs that are missing */
  load({ plan }: Pick<WorkspacePlan, 'plan'>): Problem[] {
    this.#model = evaluate(compile(plan));
    this.#weeks.clear();
    this.#kept = undefined;
    this.#recorded = undefined;
    this.#sources = new Sources(this.#model, (version) => this.cellsOf(version), {
      weeks: (books) => this.#weeks.get(books)?.parts,
      kept: () => this.#kept,
    });
    this.#market = undefined;
    // Other streams have other rows: the number goes on, the rows are made anew.
    if (this.driverRowHeads) this.driverRowHeads = { ...this.driverRowHeads, key: '' };
    return missingInputs(this.#model);
  }

  /** Whether the weeks of what was sold are there for some months. */
  hasWeeks(books: boolean, { from, to }: Span): boolean {
    const { span } = this.#weeks.get(books) ?? {};
    return span !== undefined && span.from <= from && span.to >= to;
  }

  /** Takes in what was sold by week of some months. */
  setWeeks(books: boolean, span: Span, { weeks, before }: Omit<SalesWeeks, 'revision'>): void {
    const { calendar, currency } = this.model.plan;
    const minor = 10 ** currency.minorDigits;
    const closed = monthFrom(calendar.closedThrough);
    const yearBefore = weekParts(before, minor, closed + 12);
    this.#weeks.set(books, { span, parts: weekParts(weeks, minor, closed, yearBefore) });
    this.#sources?.forgetKnown();
  }

  hasKept(): boolean {
    return this.#kept !== undefined;
  }

  /** Takes in the forecasts of closed months as they were kept. */
  setKept(kept: KeptMonths): void {
    this.#kept = kept;
    this.#sources?.forgetKnown();
  }

  hasRecorded(): boolean {
    return this.#recorded !== undefined;
  }

  /** Takes in how subscribers moved in closed months, as their records have it. */
  setRecorded(recorded: RecordedMonths): void {
    this.#recorded = recorded;
  }

  /** Takes in a kept version's cells as they are with an entry, or were at a moment. */
  setVersion(version: VersionAt, lastEntry: number, cells: VersionCells): void {
    this.#versions.set(keyOf(version), { lastEntry, cells });
    this.#sources?.forgetVersion(version.id);
  }

  /** The subscriptions that were kept with a version, laid out; undefined without any. */
  keptSubscribers(version: VersionAt): SubscriberFigures | undefined {
    const { subscribers } = this.cellsOf(version);
    return subscribers && keptSubscriberFigures(this.model, subscribers);
  }

  /** The subscriptions of a source; undefined where it has none. */
  subscribersOf(source: Source): SubscriberFigures | undefined {
    return subscribersOfSource(
      source,
      () => subscriberFigures(this.model, this.#recorded),
      (version) => this.keptSubscribers(version),
    );
  }

  hasVersion(version: VersionAt, lastEntry: number): boolean {
    return this.#versions.get(keyOf(version))?.lastEntry === lastEntry;
  }

  /** @throws Error for a version that is not loaded */
  cellsOf(version: VersionAt): VersionCells {
    const cells = this.#versions.get(keyOf(version))?.cells;
    if (!cells) throw new Error(`Version ${keyOf(version)} is not loaded`);
    return cells;
  }

  /** The numbers of a source, by combination and month. */
  figures(source: Source): Figures {
    if (!this.#sources) throw new Error('No plan is loaded yet');
    return this.#sources.figures(source);
  }

  /** How many cells of some lie below each number of a table. */
  counted(
    cells: Iterable<{ readonly combination: number; readonly month: Month }>,
    query: TableQuery,
  ): Table {
    const { plan, tree } = this.model;
    const ones = Array.from(cells, ({ combination, month }) => ({
      combination,
      month,
      units: 1,
      revenue: 0,
      cost: null,
    }));
    const { fiscalStart } = plan.calendar;
    return rollUp(figuresFromRows(plan, ones), tree, { ...query, measure: 'units' }, fiscalStart);
  }

  /** The sizes of markets behind combinations. */
  get market(): Market {
    this.#market ??= marketOf(this.model);
    return this.#market;
  }

  /** Takes in an edit of the plan. @returns the inputs that are missing */
  take(edit: PlanEdit): Problem[] {
    change(this.model, edit);
    this.#sources?.forgetRun();
    this.#market = undefined;
    return missingInputs(this.model);
  }
}
