/** What a target tree gives to a scope: the numbers of Targets, to be held beside others. */
import { fiscalYearSpan, type Span } from '../calendar/period.ts';
import type { Combination, Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { inScope } from '../dimensions/row-tree.ts';
import { liesWithin } from '../dimensions/scopes.ts';
import { meaningOf, wholesIn, type TargetMeasure } from './target-measure.ts';

/** A node of a target tree with what it counts; of months in the wholes that targets are kept in. */
export interface CountedNode {
  readonly id: number;
  readonly parent: number | null;
  readonly name: string;
  /** Null where its parts are all it has. */
  readonly counts: { readonly scope: Scope; readonly account: string | null } | null;
  /** By month of the fiscal year; null of what has no months. */
  readonly months: readonly number[] | null;
}

/** One objective with its tree, as plain data. */
export interface TargetParts {
  readonly fiscalYear: number;
  readonly measure: TargetMeasure;
  readonly nodes: readonly CountedNode[];
}

/** A target tree as it is told, as far as scopes are asked of it; nothing where no objective is set. */
export function targetsByScope({
  fiscalYear,
  objective,
  nodes,
}: {
  readonly fiscalYear: number;
  readonly objective: { readonly measure: TargetMeasure } | null;
  readonly nodes: readonly CountedNode[];
}): TargetParts | undefined {
  if (!objective) return undefined;
  const plain = nodes.map(({ id, parent, name, counts, months }) => ({
    ...{ id, parent, name, months },
    counts: counts && { scope: counts.scope, account: counts.account },
  }));
  return { fiscalYear, measure: objective.measure, nodes: plain };
}

/** What a scope has as target, and of which nodes it is. */
export interface TargetOfScope {
  /** In the measure's unit. */
  readonly value: number;
  readonly of: readonly { readonly name: string; readonly value: number }[];
}

/** Asks one target tree about scopes. */
export class TargetScopes {
  readonly #held = new Map<number, ReadonlySet<number>>();
  readonly #year: Span;
  readonly #wholes: number;
  readonly #adds: boolean;
  readonly #nodes: ReadonlyMap<number, CountedNode>;

  constructor(
    parts: TargetParts,
    private readonly tree: MemberTree,
    private readonly combinations: readonly Combination[],
    { fiscalStart, minorDigits }: { readonly fiscalStart: number; readonly minorDigits: number },
  ) {
    this.#year = fiscalYearSpan(parts.fiscalYear, fiscalStart);
    this.#wholes = wholesIn(parts.measure, minorDigits);
    this.#nodes = new Map(parts.nodes.map((node) => [node.id, node]));
    this.#adds = meaningOf(parts.measure).nature === 'flow';
  }

  /**
   * The target of a scope in some months of the year: that of the node that counts it, or of all
   * the outermost nodes within it where together they count everything in it.
   * @returns null where the tree does not say it: nodes cover a part of the scope only, or months have none
   */
  of(scope: Scope, span: Span): TargetOfScope | null {
    if (span.from < this.#year.from || span.to > this.#year.to) return null;
    const asked = inScope(this.tree, this.combinations, scope);
    // One customer's part is no part of a scope.
    const within = [...this.#nodes.values()].filter(
      ({ counts }) => counts?.account === null && liesWithin(this.tree, counts.scope, scope),
    );
    const inside = new Set(within.map(({ id }) => id));
    const outermost = within.filter((node) => !this.#isBelow(node, inside));
    const counted = new Set(outermost.flatMap((node) => [...this.#heldBy(node)]));
    if (asked.size === 0 || counted.size < asked.size) return null;
    const of = outermost.map((node) => ({
      name: this.#placed(node),
      value: this.#inMonths(node.months, span),
    }));
    const value = of.reduce((sum, part) => sum + part.value, 0);
    return Number.isNaN(value) ? null : { value, of };
  }

  /** A node's name with that of the one above it, of which the top is none. */
  #placed({ name, parent }: CountedNode): string {
    const above = parent === null ? undefined : this.#nodes.get(parent);
    return above && above.parent !== null ? `${above.name} · ${name}` : name;
  }

  #inMonths(months: readonly number[] | null, { from, to }: Span): number {
    if (!months) return Number.NaN;
    const asked = months.slice(from - this.#year.from, to - this.#year.from + 1);
    const value = this.#adds ? asked.reduce((sum, month) => sum + month, 0) : asked.at(-1);
    return (value ?? Number.NaN) / this.#wholes;
  }

  #heldBy({ id, counts }: CountedNode): ReadonlySet<number> {
    const before = this.#held.get(id);
    if (before) return before;
    const held = inScope(this.tree, this.combinations, counts?.scope ?? []);
    this.#held.set(id, held);
    return held;
  }

  #isBelow(node: CountedNode, inside: ReadonlySet<number>): boolean {
    for (
      let parent = node.parent;
      parent !== null;
      parent = this.#nodes.get(parent)?.parent ?? null
    ) {
      if (inside.has(parent)) return true;
    }
    return false;
  }
}
