import type { Assumption, AssumptionChange } from './assumption.ts';
import { ListByKey } from './list-by-key.ts';
import { scopeKey } from './scope-key.ts';

/** Ids from here on stand for new assumptions until they are kept; they are later than any kept one. */
export const FRESH_ID = 1_500_000_000;

/**
 * The assumptions of a plan, found by id, by driver, and by driver and scope. Taking in an edit
 * costs what the edit is large, not what the plan is.
 */
export class AssumptionSet implements Iterable<Assumption> {
  readonly #byId = new Map<number, Assumption>();
  readonly #byScope = new Map<string, ListByKey<string, Assumption>>();
  #fresh = FRESH_ID;

  constructor(assumptions: Iterable<Assumption>) {
    for (const assumption of assumptions) this.#add(assumption);
  }

  #add(assumption: Assumption): void {
    this.#byId.set(assumption.id, assumption);
    const scopes = this.#byScope.get(assumption.driver) ?? new ListByKey<string, Assumption>();
    this.#byScope.set(assumption.driver, scopes);
    scopes.add(scopeKey(assumption.scope), assumption);
    this.#fresh = Math.max(this.#fresh, assumption.id + 1);
  }

  #remove(id: number): void {
    const assumption = this.#byId.get(id);
    if (!assumption) return;
    this.#byId.delete(id);
    const key = scopeKey(assumption.scope);
    this.#byScope.get(assumption.driver)?.delete(key, (one) => one === assumption);
  }

  get(id: number): Assumption | undefined {
    return this.#byId.get(id);
  }

  /** The assumptions of a driver at exactly a scope, in no order. */
  at(driver: string, scope: readonly number[]): Iterable<Assumption> {
    return this.#byScope.get(driver)?.get(scopeKey(scope)) ?? [];
  }

  /** An id that nothing here has, for an assumption that is not kept yet. */
  get fresh(): number {
    return this.#fresh;
  }

  /** Takes in an edit: rows replace those of the same id, others are dropped. */
  apply({ put, drop }: AssumptionChange): void {
    for (const id of drop) this.#remove(id);
    for (const assumption of put) {
      this.#remove(assumption.id);
      this.#add(assumption);
    }
  }

  [Symbol.iterator](): Iterator<Assumption> {
    return this.#byId.values();
  }
}
