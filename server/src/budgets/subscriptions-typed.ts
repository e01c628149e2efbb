import type { TypedEntry } from '@dravex/contract';
import {
  cellsFollowing,
  isSubscriberMeasure,
  monthFrom,
  rowsTyped,
  subscriberFigures,
  subscribersTotal,
  termCounted,
  typeSubscribers,
  withEntries,
  type BudgetCell,
  type MovementRow,
  type SubscriberEntry,
  type TypedSubscriberMeasure,
} from '@dravex/core';
import type { LoadedPlan } from '../plan/plans.ts';
import { combinationsIn } from '../plan/frame.ts';
import type { Database } from '../platform/database.ts';
import { keptRows, typedSums } from './subscriber-store.ts';

type TypedOf<Measure> = Omit<TypedEntry, 'measure'> & { readonly measure: Measure };
export type TypedOfSubscriptions = TypedOf<TypedSubscriberMeasure>;
export type TypedOfCells = TypedOf<Exclude<TypedEntry['measure'], TypedSubscriberMeasure>>;

/** Tells apart what is typed over cells of a version from what is typed into its subscriptions. */
export function typedOf({
  measure,
  ...typed
}: TypedEntry):
  { readonly cells: TypedOfCells } | { readonly subscriptions: TypedOfSubscriptions } {
  return isSubscriberMeasure(measure)
    ? { subscriptions: { ...typed, measure } }
    : { cells: { ...typed, measure } };
}

/** A change of a month of a subscription: what was typed into it before, and what is now. */
export interface SubscriptionChange {
  readonly before: SubscriberEntry;
  readonly now: SubscriberEntry;
}

const key = ({ combination, month }: Pick<SubscriberEntry, 'combination' | 'month'>): string =>
  `${combination} ${month}`;

/** Subscriptions of a version while numbers are typed into them. */
export class SubscriptionsTyped {
  readonly #loaded: LoadedPlan;
  readonly #kept: readonly MovementRow[];
  readonly #start: ReadonlyMap<string, SubscriberEntry>;
  readonly #now: Map<string, SubscriberEntry>;
  readonly #minor: number;
  readonly #atFirst: readonly MovementRow[];
  #rows: readonly MovementRow[];

  private constructor(
    loaded: LoadedPlan,
    kept: readonly MovementRow[],
    sums: readonly SubscriberEntry[],
  ) {
    this.#loaded = loaded;
    this.#minor = 10 ** loaded.plan.currency.minorDigits;
    this.#kept = kept;
    this.#start = new Map(sums.map((sum) => [key(sum), sum]));
    this.#now = new Map(this.#start);
    this.#atFirst = withEntries(kept, sums);
    this.#rows = this.#atFirst;
  }

  /** Those of a version as they stand; read when something is typed into them only. */
  static async of(
    db: Database,
    workspaceId: number,
    versionId: number,
    loaded: LoadedPlan,
    typed: readonly TypedEntry[],
  ): Promise<SubscriptionsTyped> {
    if (!typed.some(({ measure }) => isSubscriberMeasure(measure)))
      return new SubscriptionsTyped(loaded, [], []);
    return new SubscriptionsTyped(
      loaded,
      await keptRows(db, workspaceId, versionId),
      await typedSums(db, workspaceId, versionId),
    );
  }

  /** The rows that a typed number lies on, as they are now. */
  under(
    { scope, from, to, measure }: TypedOfSubscriptions,
    all: readonly MovementRow[] = this.#rows,
  ): MovementRow[] {
    const held = new Set(combinationsIn(this.#loaded, scope));
    const rows = all.filter(({ combination }) => held.has(combination));
    return rowsTyped(rows, measure, { from, to });
  }

  /** What stood under a number before anything was typed; null where there is no subscription. */
  totalAtFirst(typed: TypedOfSubscriptions): number | null {
    return subscribersTotal(this.under(typed, this.#atFirst), typed.measure, this.#minor);
  }

  /**
   * Types a number over its rows.
   * @param weights one a row, for a basis from elsewhere
   * @returns the cells of the version that follow
   * @throws DivisionError where it cannot be spread
   */
  type(
    typed: TypedOfSubscriptions,
    weights: readonly number[] | undefined,
    cellOf: (combination: number, month: number) => BudgetCell,
  ): BudgetCell[] {
    const { total, basis, keeps, measure } = typed;
    const asked = { measure, total, basis, keeps, ...(weights ? { weights } : {}) };
    for (const one of typeSubscribers(this.under(typed), asked, this.#minor)) {
      const before = this.#now.get(key(one));
      const add = (was: number | undefined, more: number): number =>
        Number(((was ?? 0) + more).toFixed(9));
      this.#now.set(key(one), {
        ...one,
        starters: add(before?.starters, one.starters),
        price: add(before?.price, one.price),
      });
    }
    const before = this.#rows;
    this.#rows = withEntries(this.#kept, [...this.#now.values()]);
    const streams = new Map(this.#loaded.plan.streams.map((one) => [one.combination, one]));
    const termOf = (combination: number): number => {
      const stream = streams.get(combination);
      return stream?.method === 'subscription' ? termCounted(stream) : 1;
    };
    return cellsFollowing(before, this.#rows, cellOf, termOf, this.#minor);
  }

  /** What the forecast has of the rows under a typed number, as weights. */
  forecastWeights(typed: TypedOfSubscriptions): number[] {
    const { model, plan } = this.#loaded;
    const { of, count } = subscriberFigures(model);
    const places = new Map(plan.combinations.map(({ id }, place) => [id, place]));
    const series = of[typed.measure === 'newSubscribers' ? 'starters' : 'recurring'];
    return this.under(typed).map(({ combination, month }) => {
      const place = places.get(combination) ?? -1;
      const t = monthFrom(month) - model.first;
      return Math.max(0, series[place * count + t] || 0);
    });
  }

  /** Every month that was changed. */
  changes(): SubscriptionChange[] {
    return [...this.#now.values()].flatMap((now) => {
      const before = this.#start.get(key(now)) ?? { ...now, starters: 0, price: 0 };
      return before.starters === now.starters && before.price === now.price
        ? []
        : [{ before, now }];
    });
  }
}
