import type { Month } from '../calendar/month.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { eachMonth, type Assumption } from './assumption.ts';
import { takesValue, type Driver } from './driver.ts';
import { ListByKey } from './list-by-key.ts';
import { inOrderOfPrecedence } from './precedence.ts';
import type { HeldSeries } from './held-series.ts';
import { SeriesPool } from './series-pool.ts';
import { ScopeIndex } from './scope-index.ts';

/** In place of an assumption's id: the driver's own default holds. */
export const BY_DEFAULT = 0;
/** In place of an assumption's id: nothing holds, the input is missing. */
export const MISSING = -1;
/** In place of an assumption's id: the driver's own formula gives the value. */
export const BY_FORMULA = -2;

/** Whether an assumption gives a growth on what was before, or a total to be divided over streams. */
export function isDerived({ profile }: Pick<Assumption, 'profile'>): boolean {
  return profile.kind === 'lastYear' || (profile.kind === 'annual' && profile.each !== true);
}

/**
 * Answers for one driver which assumption holds where. Streams under the same assumptions share
 * one series. An edit costs the series it touches, whatever else there is.
 */
export class Holdings {
  readonly #scopes: ScopeIndex<Assumption>;
  /** Those that give more than their own numbers: by last year, or divided over streams. */
  readonly #derived = new Map<number, Assumption>();
  readonly #shared = new Map<string, HeldSeries>();
  /** Under which keys series are shared that an assumption is part of. */
  readonly #sharedBy = new ListByKey<number, string>();

  /** Shared memory for the series that are made at first; see `standAlone`. */
  #pool: SeriesPool | undefined;

  constructor(
    readonly driver: Driver,
    assumptions: Iterable<Assumption>,
    private readonly tree: MemberTree,
    private readonly first: Month,
    private readonly count: number,
  ) {
    this.#scopes = new ScopeIndex(tree);
    for (const assumption of assumptions) this.add(assumption);
    this.#pool = new SeriesPool(count);
  }

  /** From here on a series is made because of an edit, and has memory of its own. */
  standAlone(): void {
    this.#pool = undefined;
  }

  add(assumption: Assumption): void {
    if (isDerived(assumption)) this.#derived.set(assumption.id, assumption);
    this.#scopes.add(assumption);
  }

  remove(assumption: Assumption): void {
    const { id } = assumption;
    if (!this.#scopes.remove(assumption)) return;
    this.#derived.delete(id);
    for (const shared of this.#sharedBy.get(id)) this.#shared.delete(shared);
    this.#sharedBy.clear(id);
  }

  /** The assumptions that cover a combination in any month, the strongest first. */
  covering(combination: readonly number[]): Assumption[] {
    return inOrderOfPrecedence(this.tree, this.#scopes.covering(combination));
  }

  /** Whether nothing gives the driver a value anywhere: no assumption, default or formula. */
  get isEmpty(): boolean {
    return this.#scopes.size === 0 && this.driver.default === null && this.driver.formula === null;
  }

  /** Whether any assumption gives more than its own numbers. */
  get anyDerived(): boolean {
    return this.#derived.size > 0;
  }

  /** Whether any assumption is a total that is divided over streams. */
  get anyDivided(): boolean {
    return [...this.#derived.values()].some(({ profile }) => profile.kind === 'annual');
  }

  /** The assumption of an id, where it goes by the year before or is divided over streams. */
  derived(id: number): Assumption | undefined {
    return this.#derived.get(id);
  }

  /** What assumptions say of a combination by themselves; NaN where they go by something else. */
  given(combination: readonly number[]): Float64Array {
    const { values, holders } = this.series(combination);
    if (!this.anyDerived) return values;
    return values.map((value, t) => (this.#derived.has(holders[t] ?? 0) ? Number.NaN : value));
  }

  /** Whether a series rests in some month on a total that is divided over streams. */
  divides({ holders }: HeldSeries): boolean {
    if (!this.anyDerived) return false;
    return holders.some((id) => this.#derived.get(id)?.profile.kind === 'annual');
  }

  /** The driver's series for a combination, as assumptions give it. */
  series(combination: readonly number[]): HeldSeries {
    const covering = this.covering(combination);
    const key = covering.map(({ id }) => id).join();
    const sharedBefore = this.#shared.get(key);
    if (sharedBefore) return sharedBefore;
    const { default: byDefault } = this.driver;
    const { values, holders } = (this.#pool ?? new SeriesPool(this.count)).take();
    values.fill(byDefault ?? Number.NaN);
    holders.fill(byDefault === null ? MISSING : BY_DEFAULT);
    // From the weakest to the strongest, so that what holds is written last.
    for (const assumption of covering.toReversed()) {
      const derived = isDerived(assumption);
      eachMonth(assumption, this.first, this.count, (t, value) => {
        // What the driver forbids is told by the check of the plan, and is not computed with.
        values[t] = derived || takesValue(this.driver, value) ? value : Number.NaN;
        holders[t] = assumption.id;
      });
    }
    const series = { values, holders };
    this.#shared.set(key, series);
    for (const { id } of covering) {
      if (!this.#sharedBy.get(id).includes(key)) this.#sharedBy.add(id, key);
    }
    return series;
  }
}
