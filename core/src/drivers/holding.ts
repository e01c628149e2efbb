import { Slab } from './slab.ts';
import type { Month } from '../calendar/month.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { eachMonth, type Assumption } from './assumption.ts';
import { takesValue, type Driver } from './driver.ts';
import { FewByKey } from './few.ts';
import { inOrderOfPrecedence } from './precedence.ts';
import { scopeKey } from './scope-key.ts';

/** A driver's series for one stream: its values, and which assumption gave each. */
export interface HeldSeries {
  /** NaN where nothing holds: a missing input is never silently zero. */
  readonly values: Float64Array;
  /** The id of the assumption that holds in each month; `BY_DEFAULT`, `BY_FORMULA` or `MISSING` where none does. */
  readonly holders: Int32Array;
}

/** In place of an assumption's id: the driver's own default holds. */
export const BY_DEFAULT = 0;
/** In place of an assumption's id: nothing holds, the input is missing. */
export const MISSING = -1;
/** In place of an assumption's id: the driver's own formula gives the value. */
export const BY_FORMULA = -2;

/** Which dimensions a scope pins, and how deep. */
type Shape = readonly { readonly position: number; readonly depth: number }[];

/**
 * Answers for one driver which assumption holds where. Streams under the same assumptions share
 * one series. An edit costs the series it touches, whatever else there is.
 */
export class Holdings {
  readonly #byScope = new FewByKey<string, Assumption>();
  readonly #shapes = new Map<string, { shape: Shape; used: number }>();
  readonly #byLastYear = new Set<number>();
  readonly #shared = new Map<string, HeldSeries>();
  /** Under which keys series are shared that an assumption is part of. */
  readonly #sharedBy = new FewByKey<number, string>();

  /** Shared memory for the series that are made at first; see `settle`. */
  #slab: Slab | undefined;

  constructor(
    readonly driver: Driver,
    assumptions: Iterable<Assumption>,
    private readonly tree: MemberTree,
    private readonly first: Month,
    private readonly count: number,
  ) {
    for (const assumption of assumptions) this.add(assumption);
    this.#slab = new Slab(count);
  }

  /** From here on a series is made because of an edit, and has memory of its own. */
  settle(): void {
    this.#slab = undefined;
  }

  #shapeOf({ scope }: Assumption): { key: string; shape: Shape } {
    const shape = scope.map((member) => ({
      position: this.tree.dimensionOf(member),
      depth: this.tree.depth(member),
    }));
    const key = shape
      .map((pin) => `${pin.position}.${pin.depth}`)
      .sort()
      .join();
    return { key, shape };
  }

  add(assumption: Assumption): void {
    if (assumption.profile.kind === 'lastYear') this.#byLastYear.add(assumption.id);
    this.#byScope.add(scopeKey(assumption.scope), assumption);
    const { key: shapeKey, shape } = this.#shapeOf(assumption);
    const known = this.#shapes.get(shapeKey);
    if (known) known.used += 1;
    else this.#shapes.set(shapeKey, { shape, used: 1 });
  }

  remove(assumption: Assumption): void {
    const { id } = assumption;
    if (!this.#byScope.delete(scopeKey(assumption.scope), (one) => one.id === id)) return;
    this.#byLastYear.delete(assumption.id);
    const { key } = this.#shapeOf(assumption);
    const known = this.#shapes.get(key);
    if (known) known.used -= 1;
    if (known?.used === 0) this.#shapes.delete(key);
    for (const shared of this.#sharedBy.get(id)) this.#shared.delete(shared);
    this.#sharedBy.clear(id);
  }

  /**
   * The assumptions that cover a combination in any month, the strongest first. Which scopes could
   * cover it is known from the shapes in use, so each is one look-up.
   */
  covering(combination: readonly number[]): Assumption[] {
    const found: Assumption[] = [];
    for (const { shape } of this.#shapes.values()) {
      const scope: number[] = [];
      for (const { position, depth } of shape) {
        const member = this.tree.path(combination[position] ?? -1)[depth - 1];
        if (member !== undefined) scope.push(member);
      }
      if (scope.length < shape.length) continue;
      found.push(...this.#byScope.get(scopeKey(scope)));
    }
    return inOrderOfPrecedence(this.tree, found);
  }

  /** An assumption that goes by the year before, where one with this id does; it gives its growth. */
  byLastYear(id: number): boolean {
    return this.#byLastYear.has(id);
  }
  /** Whether any assumption goes by the year before. */
  get anyByLastYear(): boolean {
    return this.#byLastYear.size > 0;
  }

  /** The driver's series for a combination, as assumptions give it. */
  series(combination: readonly number[]): HeldSeries {
    const covering = this.covering(combination);
    const key = covering.map(({ id }) => id).join();
    const known = this.#shared.get(key);
    if (known) return known;
    const { default: byDefault } = this.driver;
    const { values, holders } = (this.#slab ?? new Slab(this.count)).take();
    values.fill(byDefault ?? Number.NaN);
    holders.fill(byDefault === null ? MISSING : BY_DEFAULT);
    // From the weakest to the strongest, so that what holds is written last.
    for (const assumption of covering.toReversed()) {
      const growth = this.#byLastYear.has(assumption.id);
      eachMonth(assumption, this.first, this.count, (t, value) => {
        // What the driver forbids is told by the check of the plan, and is not computed with.
        values[t] = growth || takesValue(this.driver, value) ? value : Number.NaN;
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
