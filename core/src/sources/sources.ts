import { monthFrom, type MonthText } from '../calendar/month.ts';
import type { CellRow } from '../forecast/actual-rows.ts';
import type { Model } from '../forecast/run.ts';
import type { WeekParts } from '../tables/week-parts.ts';
import {
  actualFigures,
  figuresFromRows,
  forecastFigures,
  yearLater,
  type Figures,
} from '../tables/figures.ts';
import { targetFigures } from '../targets/target-figures.ts';
import {
  ACTUAL,
  FORECAST,
  inBooks,
  originOf,
  sourceKey,
  versionIn,
  type Source,
} from './source.ts';

/** The cells of a kept version as they travel: columns, revenue and cost in minor units. */
export interface KeptCells {
  readonly combination: readonly number[];
  readonly month: readonly MonthText[];
  readonly units: readonly number[];
  readonly revenue: readonly number[];
  /** Null where the version was kept without cost. */
  readonly cost: readonly (number | null)[];
}

/** The cells of a kept version, row by row. */
export function* rowsOfCells(cells: KeptCells): Generator<CellRow> {
  for (let at = 0; at < cells.combination.length; at += 1) yield rowOfCells(cells, at);
}

/** One cell of a kept version. */
export function rowOfCells(
  { combination, month, units, revenue, cost }: KeptCells,
  at: number,
): CellRow {
  return {
    combination: combination[at] ?? -1,
    month: monthFrom(month[at] ?? ''),
    units: units[at] ?? 0,
    revenue: revenue[at] ?? 0,
    cost: cost[at] ?? null,
  };
}

/** The numbers of a plan's sources, each laid out when it is asked for at first and then kept. */
export class Sources {
  readonly #laidOut = new Map<string, { readonly source: Source; readonly figures: Figures }>();

  /**
   * @param model evaluated
   * @param cellsOf the cells of a version; it throws for one that is not there
   * @param weeksOf what is known of the weeks of closed months, of everything or of the books
   */
  constructor(
    private readonly model: Model,
    private readonly cellsOf: (version: number) => KeptCells,
    private readonly weeksOf: (books: boolean) => WeekParts | undefined = () => undefined,
  ) {}

  /** The numbers of a source over the months of the plan. */
  figures(source: Source): Figures {
    const key = sourceKey(source);
    const laidOutBefore = this.#laidOut.get(key);
    if (laidOutBefore) return laidOutBefore.figures;
    const figures = this.#made(source);
    this.#laidOut.set(key, { source, figures });
    return figures;
  }

  #made(source: Source): Figures {
    switch (source.kind) {
      case 'actual':
        return {
          ...actualFigures(this.model.plan, source.books),
          weeks: this.weeksOf(source.books ?? false),
        };
      case 'forecast':
        return forecastFigures(this.model, this.figures(source.books ? inBooks(ACTUAL) : ACTUAL));
      case 'version':
        return figuresFromRows(this.model.plan, rowsOfCells(this.cellsOf(source.id)));
      case 'target':
        return targetFigures(this.model.plan, this.figures(FORECAST), source);
      case 'yearBefore':
        return yearLater(this.figures(source.of));
    }
  }

  /** More is known of weeks. */
  forgetWeeks(): void {
    this.#forget((source) => originOf(source).kind !== 'version');
  }

  /** The run has changed: what is made of it is laid out anew. */
  forgetRun(): void {
    this.#forget((source) => {
      const { kind } = originOf(source);
      // The season of a target is that of the forecast line's year before.
      return kind === 'forecast' || kind === 'target';
    });
  }

  /** A version has changed. */
  forgetVersion(id: number): void {
    this.#forget((source) => versionIn(source) === id);
  }

  #forget(which: (source: Source) => boolean): void {
    for (const [key, { source }] of this.#laidOut) if (which(source)) this.#laidOut.delete(key);
  }
}
