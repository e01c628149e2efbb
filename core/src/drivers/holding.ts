import type { MemberTree } from '../dimensions/member-tree.ts';
import { valueIn, type Assumption } from './assumption.ts';
import type { Driver } from './driver.ts';
import { inOrderOfPrecedence } from './precedence.ts';
import type { Month } from '../calendar/month.ts';

/** A driver's series for one stream: its values, and which assumption gave each. */
export interface HeldSeries {
  /** NaN where nothing holds: a missing input is never silently zero. */
  readonly values: Float64Array;
  /** The id of the assumption that holds in each month; `BY_DEFAULT` or `MISSING` where none does. */
  readonly holders: Int32Array;
}

/** In place of an assumption's id: the driver's own default holds. */
export const BY_DEFAULT = 0;
/** In place of an assumption's id: nothing holds, the input is missing. */
export const MISSING = -1;

/**
 * Answers for one driver which assumption holds where. Streams under the same assumptions share
 * one series. Built from a driver's assumptions; throw away and build again when they change.
 */
export class Holdings {
  readonly #ordered: readonly Assumption[];
  readonly #byScope = new Map<string, number[]>();
  readonly #shapes = new Map<string, { position: number; depth: number }[]>();
  readonly #shared = new Map<string, HeldSeries>();

  constructor(
    readonly driver: Driver,
    assumptions: readonly Assumption[],
    private readonly tree: MemberTree,
    private readonly first: Month,
    private readonly count: number,
  ) {
    this.#ordered = inOrderOfPrecedence(tree, assumptions);
    this.#ordered.forEach(({ scope }, rank) => {
      const key = scopeKey(scope);
      const ranks = this.#byScope.get(key);
      if (ranks) ranks.push(rank);
      else this.#byScope.set(key, [rank]);
      const shape = scope.map((member) => ({
        position: tree.dimensionOf(member),
        depth: tree.depth(member),
      }));
      this.#shapes.set(
        shape
          .map((pin) => `${pin.position}.${pin.depth}`)
          .sort()
          .join(),
        shape,
      );
    });
  }

  /** The assumptions that cover a combination in any month, the strongest first. */
  covering(combination: readonly number[]): Assumption[] {
    return this.#ranks(combination).flatMap((rank) => this.#ordered[rank] ?? []);
  }

  /** Which scopes could cover it is known from the shapes in use, so each is one look-up. */
  #ranks(combination: readonly number[]): number[] {
    const ranks: number[] = [];
    for (const shape of this.#shapes.values()) {
      const scope = shape.map(
        ({ position, depth }) => this.tree.path(combination[position] ?? -1)[depth - 1],
      );
      if (scope.includes(undefined)) continue;
      ranks.push(...(this.#byScope.get(scopeKey(scope.filter((m) => m !== undefined))) ?? []));
    }
    return ranks.sort((a, b) => a - b);
  }

  /** The driver's series for a combination. */
  series(combination: readonly number[]): HeldSeries {
    const ranks = this.#ranks(combination);
    const key = ranks.join();
    const known = this.#shared.get(key);
    if (known) return known;
    const values = new Float64Array(this.count);
    const holders = new Int32Array(this.count);
    for (let t = 0; t < this.count; t += 1) {
      values[t] = this.driver.default ?? Number.NaN;
      holders[t] = this.driver.default === null ? MISSING : BY_DEFAULT;
      for (const rank of ranks) {
        const assumption = this.#ordered[rank];
        const value = assumption && valueIn(assumption, this.first + t);
        if (assumption && value !== undefined) {
          values[t] = value;
          holders[t] = assumption.id;
          break;
        }
      }
    }
    const series = { values, holders };
    this.#shared.set(key, series);
    return series;
  }
}

/** The same text for the same members in whatever order they were named. */
export function scopeKey(scope: readonly number[]): string {
  return [...scope].sort((a, b) => a - b).join();
}
