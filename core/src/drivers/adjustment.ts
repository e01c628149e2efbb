/** Changes that are laid over whatever a driver is: typed over a total, or tried. */
import { monthFrom, type Month, type MonthText } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import type { Driver } from './driver.ts';
import { ScopeIndex } from './scope-index.ts';
import { scopeKey } from './scope-key.ts';

/** What an adjustment does with the value that holds. */
export type AdjustmentKind = 'set' | 'times' | 'plus';

/** A change of a driver for a scope and a stretch of open months, over whatever holds there. */
export interface Adjustment {
  /** Ids grow with creation: later ones are laid over earlier ones. */
  readonly id: number;
  readonly driver: string;
  /** Members of any depth, also several of one dimension; empty for everything. */
  readonly scope: Scope;
  /** First and last month, or null for no bound. */
  readonly from: MonthText | null;
  readonly to: MonthText | null;
  readonly kind: AdjustmentKind;
  /** In the core's form: a point of a percent driver is 0.01. */
  readonly value: number;
  /** Why, in the words of whoever made it; may be empty. */
  readonly note: string;
  /** Of one that is only tried and never kept: neither whole numbers nor bounds are asked for. */
  readonly tried?: boolean | undefined;
}

/** Adjustments to put, and ids to drop. */
export interface AdjustmentChange {
  readonly put: readonly Adjustment[];
  readonly drop: readonly number[];
}

/** Whether an adjustment covers a month. */
export function coversMonth({ from, to }: Pick<Adjustment, 'from' | 'to'>, month: Month): boolean {
  return (from === null || monthFrom(from) <= month) && (to === null || monthFrom(to) >= month);
}

/** What an adjustment makes of a value; whole counts stay whole. Of no value only `set` makes one. */
export function adjusted(
  value: number,
  { kind, value: by, tried }: Pick<Adjustment, 'kind' | 'value' | 'tried'>,
  driver?: Pick<Driver, 'kind'>,
): number {
  const made = kind === 'set' ? by : kind === 'times' ? value * by : value + by;
  return driver?.kind === 'wholeCount' && !tried ? Math.round(made) : made;
}

/** The adjustments of a plan, found by driver and by what they cover. */
export class AdjustmentSet implements Iterable<Adjustment> {
  readonly #byId = new Map<number, Adjustment>();
  readonly #byDriver = new Map<string, ScopeIndex<Adjustment>>();
  #fresh = 1;

  constructor(
    private readonly tree: MemberTree,
    adjustments: Iterable<Adjustment>,
  ) {
    for (const adjustment of adjustments) this.#add(adjustment);
  }

  #add(adjustment: Adjustment): void {
    const { id, driver } = adjustment;
    this.#byId.set(id, adjustment);
    const ofDriver = this.#byDriver.get(driver) ?? new ScopeIndex<Adjustment>(this.tree);
    this.#byDriver.set(driver, ofDriver);
    ofDriver.add(adjustment);
    this.#fresh = Math.max(this.#fresh, id + 1);
  }

  /** An id that is later than all there are. */
  get fresh(): number {
    return this.#fresh;
  }

  get size(): number {
    return this.#byId.size;
  }

  get(id: number): Adjustment | undefined {
    return this.#byId.get(id);
  }

  /** Whether a driver is adjusted anywhere. */
  has(driver: string): boolean {
    return (this.#byDriver.get(driver)?.size ?? 0) > 0;
  }

  /** The adjustments of a driver that cover a combination in any month, the first laid on first. */
  covering(driver: string, combination: readonly number[]): Adjustment[] {
    const ofDriver = this.#byDriver.get(driver);
    if (!ofDriver || ofDriver.size === 0) return [];
    return ofDriver.covering(combination).sort((a, b) => a.id - b.id);
  }

  /** The adjustments of a driver at exactly a scope that cover a month. */
  at(driver: string, scope: Scope, month: Month): Adjustment[] {
    const key = scopeKey(scope);
    return [...(this.#byDriver.get(driver)?.at(key) ?? [])]
      .filter((one) => coversMonth(one, month))
      .sort((a, b) => a.id - b.id);
  }

  /** Takes in an edit: rows replace those of the same id, others are dropped. */
  apply({ put, drop }: AdjustmentChange): void {
    for (const id of [...drop, ...put.map((one) => one.id)]) {
      const before = this.#byId.get(id);
      if (!before) continue;
      this.#byId.delete(id);
      this.#byDriver.get(before.driver)?.remove(before);
    }
    for (const adjustment of put) this.#add(adjustment);
  }

  [Symbol.iterator](): Iterator<Adjustment> {
    return this.#byId.values();
  }
}
