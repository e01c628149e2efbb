/** Measured facts as streams and scopes see them: which one holds where, and each counted once. */
import { monthFrom, type Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { containers } from '../dimensions/scopes.ts';
import type { Nature } from '../measures/nature.ts';
import type { FactColumns } from '../forecast/plan.ts';

/** A fact's values over the closed months for a combination: NaN and 0 where none holds. */
export interface HeldFact {
  readonly values: Float64Array;
  /** Which scope's fact holds in a month, from 1 on. */
  readonly scopes: Int32Array;
}

interface Measured {
  readonly nature: Nature;
  readonly rows: {
    readonly scope: Scope;
    readonly number: number;
    readonly values: Float64Array;
  }[];
}

/** Facts by measure over the closed months. Of several that cover a combination the narrower holds. */
export class HeldFacts {
  readonly #measures = new Map<string, Measured>();
  readonly #held = new Map<string, HeldFact | null>();
  readonly #containers = new Map<string, ReadonlyMap<number, readonly number[]>>();

  constructor(
    facts: readonly FactColumns[],
    private readonly tree: MemberTree,
    first: Month,
    private readonly open: number,
  ) {
    for (const { measure, nature, scope, months, values } of facts) {
      const heldMeasure = this.#measures.get(measure) ?? { nature, rows: [] };
      this.#measures.set(measure, heldMeasure);
      const factMonths = new Float64Array(open).fill(Number.NaN);
      months.forEach((month, place) => {
        const t = monthFrom(month) - first;
        if (t >= 0 && t < open) factMonths[t] = values[place] ?? Number.NaN;
      });
      heldMeasure.rows.push({ scope, number: heldMeasure.rows.length + 1, values: factMonths });
    }
    // The wider ones first: a narrower one is laid over them.
    for (const { rows } of this.#measures.values()) {
      rows.sort((a, b) => a.scope.length - b.scope.length);
    }
  }

  has(measure: string): boolean {
    return this.#measures.has(measure);
  }

  /** The scope of a fact by its number. */
  scopeOf(measure: string, number: number): Scope | undefined {
    return this.#measures.get(measure)?.rows.find((row) => row.number === number)?.scope;
  }

  /** What holds for a combination; null where nothing was measured. */
  of(measure: string, members: readonly number[]): HeldFact | null {
    const key = `${measure} ${members.join()}`;
    const heldBefore = this.#held.get(key);
    if (heldBefore !== undefined) return heldBefore;
    let held: HeldFact | null = null;
    for (const { scope, number, values } of this.#measures.get(measure)?.rows ?? []) {
      if (!this.tree.covers(scope, members)) continue;
      held ??= {
        values: new Float64Array(this.open).fill(Number.NaN),
        scopes: new Int32Array(this.open),
      };
      for (let t = 0; t < this.open; t += 1) {
        const value = values[t] ?? Number.NaN;
        if (Number.isNaN(value)) continue;
        held.values[t] = value;
        held.scopes[t] = number;
      }
    }
    this.#held.set(key, held);
    return held;
  }

  /** The numbers of a measure's facts that contain each one: it is part of them, and does not add. */
  #containersOf(measure: string): ReadonlyMap<number, readonly number[]> {
    const containersBefore = this.#containers.get(measure);
    if (containersBefore) return containersBefore;
    const rows = this.#measures.get(measure)?.rows ?? [];
    const within = containers(
      this.tree,
      rows.map(({ scope }) => scope),
    );
    const made = new Map(
      rows.map(({ number }, place) => [
        number,
        (within[place] ?? []).map((other) => rows[other]?.number ?? 0),
      ]),
    );
    this.#containers.set(measure, made);
    return made;
  }

  /**
   * A measure in each closed month for several combinations together: facts that they share count
   * once, and one that lies in another is part of it. Rates and scores do not add up: they have a
   * value only where one fact holds for all. NaN where nothing was measured.
   */
  together(measure: string, combinations: readonly (readonly number[])[]): Float64Array {
    const sums = new Float64Array(this.open).fill(Number.NaN);
    const adds = !['ratio', 'level'].includes(this.#measures.get(measure)?.nature ?? 'flow');
    const held = Array.from({ length: this.open }, () => new Map<number, number>());
    for (const members of combinations) {
      const factsHere = this.of(measure, members);
      if (!factsHere) continue;
      for (let t = 0; t < this.open; t += 1) {
        const number = factsHere.scopes[t] ?? 0;
        if (number !== 0) held[t]?.set(number, factsHere.values[t] ?? Number.NaN);
      }
    }
    const within = this.#containersOf(measure);
    held.forEach((values, t) => {
      if (values.size === 0 || (!adds && values.size > 1)) return;
      let sum = 0;
      for (const [number, value] of values) {
        if (!within.get(number)?.some((other) => values.has(other))) sum += value;
      }
      sums[t] = sum;
    });
    return sums;
  }
}
