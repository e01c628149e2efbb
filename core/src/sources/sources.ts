import type { Model } from '../forecast/run.ts';
import { rowsOfCells, type KeptCells } from './kept-cells.ts';
import {
  actualFigures,
  figuresFromRows,
  forecastFigures,
  yearLater,
  type Figures,
  type WeekParts,
} from '../tables/figures.ts';
import { withKept, type KeptMonths } from '../closing/kept-line.ts';
import { targetFigures } from '../targets/target-figures.ts';
import {
  ACTUAL,
  FORECAST,
  inBooks,
  originOf,
  sourceKey,
  versionIn,
  type Source,
  type VersionAt,
} from './source.ts';

/** What is known beside the plan, where it was read. */
export interface Known {
  /** The weeks of closed months, of everything or of the books. */
  readonly weeks?: (books: boolean) => WeekParts | undefined;
  /** The forecasts of closed months as they were kept. */
  readonly kept?: () => KeptMonths | undefined;
}

/** The numbers of a plan's sources, each laid out when it is asked for at first and then kept. */
export class Sources {
  readonly #laidOut = new Map<string, { readonly source: Source; readonly figures: Figures }>();

  /**
   * @param model evaluated
   * @param cellsOf the cells of a version; it throws for one that is not there
   */
  constructor(
    private readonly model: Model,
    private readonly cellsOf: (version: VersionAt) => KeptCells,
    private readonly known: Known = {},
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
          weeks: this.known.weeks?.(source.books ?? false),
        };
      case 'forecast': {
        if (source.kept) {
          const line = this.figures(source.books ? inBooks(FORECAST) : FORECAST);
          return withKept(line, this.model.plan, this.known.kept?.());
        }
        return forecastFigures(this.model, this.figures(source.books ? inBooks(ACTUAL) : ACTUAL));
      }
      case 'version':
        return figuresFromRows(this.model.plan, rowsOfCells(this.cellsOf(source)));
      case 'target':
        return targetFigures(this.model.plan, this.figures(FORECAST), source);
      case 'yearBefore':
        return yearLater(this.figures(source.of));
    }
  }

  /** More is known of weeks, or of what was kept. */
  forgetKnown(): void {
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
    this.#forget((source) => versionIn(source)?.id === id);
  }

  #forget(which: (source: Source) => boolean): void {
    for (const [key, { source }] of this.#laidOut) if (which(source)) this.#laidOut.delete(key);
  }
}
