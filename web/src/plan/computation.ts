import type { TypingResult, VersionCells, WorkspacePlan } from '@dravex/contract';
import {
  actualFacts,
  change,
  compare,
  compile,
  driverTable,
  evaluate,
  factsFromRows,
  forecastFacts,
  FRESH_ID,
  missingInputs,
  monthFrom,
  rollUp,
  spreadTyped,
  typeValues,
  type Assumption,
  type AssumptionChange,
  type Comparison,
  type ComparisonQuery,
  type DriverQuery,
  type DriverRow,
  type Facts,
  type Model,
  type Month,
  type Problem,
  type Table,
  type TableQuery,
  type TypedTotal,
  type TypedValue,
} from '@dravex/core';

/** Where a table's numbers come from: sales lines, the forecast line, or a kept version's id. */
export type Source = 'actual' | 'forecast' | number;

/**
 * The core around one plan, as the browser uses it: answers tables, and shows the effect of typed
 * values before the server has kept them. Runs in a worker; knows nothing of the page.
 */
export class Computation {
  #model: Model | undefined;
  readonly #versions = new Map<number, VersionCells>();
  readonly #facts = new Map<Source, Facts>();

  #required(): Model {
    if (!this.#model) throw new Error('No plan is loaded yet');
    return this.#model;
  }

  /** Takes in a plan and computes it. */
  load({ plan }: Pick<WorkspacePlan, 'plan'>): Problem[] {
    this.#model = evaluate(compile(plan));
    this.#facts.clear();
    return missingInputs(this.#model);
  }

  /** Takes in a kept version's cells; versions never change. */
  setVersion(id: number, cells: VersionCells): void {
    this.#versions.set(id, cells);
  }

  hasVersion(id: number): boolean {
    return this.#versions.has(id);
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
    const cells = this.#versions.get(id);
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

  compare(version: number, query: ComparisonQuery): Comparison {
    const model = this.#required();
    const closed = monthFrom(model.plan.calendar.closedThrough);
    return compare(this.#factsOf('actual'), this.#factsOf(version), model.tree, query, closed);
  }

  driverTable(query: DriverQuery): DriverRow[] {
    return driverTable(this.#required(), query);
  }

  /** The assumptions that cover a stream's month, the one that holds first. */
  covering(driver: string, scope: readonly number[], month: Month): Assumption[] {
    const model = this.#required();
    const t = month - model.first;
    const holdings = model.holdings.get(driver);
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

  /**
   * Shows the effect of typed values at once.
   * @returns the problems that missing inputs leave
   */
  preview(driver: string, values: readonly TypedValue[], totals: readonly TypedTotal[]): Problem[] {
    const model = this.#required();
    const spread = totals.flatMap((total) => spreadTyped(model, driver, total));
    return this.#apply(typeValues(driver, model.assumptions, [...values, ...spread]));
  }

  /** Puts what the server has kept in place of what was previewed. */
  settle(result: TypingResult): Problem[] {
    const previewed = [...this.#required().assumptions].filter(({ id }) => id >= FRESH_ID);
    const drop = [...result.drop, ...previewed.map(({ id }) => id)];
    return this.#apply({ put: [...result.put], drop });
  }

  #apply(edit: AssumptionChange): Problem[] {
    const model = this.#required();
    change(model, edit);
    this.#facts.delete('forecast');
    return missingInputs(model);
  }
}
