/** Finds what is set for scopes by the combinations that these cover. */
import type { Scope } from '../dimensions/dimension.ts';
import type { MemberTree } from '../dimensions/member-tree.ts';
import { ListByKey } from './list-by-key.ts';
import { scopeKey } from './scope-key.ts';

interface Scoped {
  readonly id: number;
  readonly scope: Scope;
}

/** Which dimensions a scope pins, and how deep. */
type Shape = readonly { readonly position: number; readonly depth: number }[];

/**
 * Things by the scope that they are set for. Which scopes could cover a combination is known from
 * the shapes in use, so each is one look-up; scopes of several members of a dimension are tried one
 * by one.
 */
export class ScopeIndex<Thing extends Scoped> {
  readonly #byScope = new ListByKey<string, Thing>();
  readonly #shapes = new Map<string, { shape: Shape; used: number }>();
  readonly #wide = new Map<string, { scope: Scope; used: number }>();
  #size = 0;

  constructor(private readonly tree: MemberTree) {}

  get size(): number {
    return this.#size;
  }

  #shapeOf(scope: Scope): { key: string; shape: Shape } | null {
    const shape = scope.map((member) => ({
      position: this.tree.dimensionOf(member),
      depth: this.tree.depth(member),
    }));
    if (new Set(shape.map(({ position }) => position)).size < shape.length) return null;
    const key = shape
      .map((pin) => `${pin.position}.${pin.depth}`)
      .sort()
      .join();
    return { key, shape };
  }

  add(thing: Thing): void {
    this.#size += 1;
    this.#byScope.add(scopeKey(thing.scope), thing);
    const keyed = this.#shapeOf(thing.scope);
    if (!keyed) {
      const key = scopeKey(thing.scope);
      const wideBefore = this.#wide.get(key);
      if (wideBefore) wideBefore.used += 1;
      else this.#wide.set(key, { scope: thing.scope, used: 1 });
      return;
    }
    const shapeBefore = this.#shapes.get(keyed.key);
    if (shapeBefore) shapeBefore.used += 1;
    else this.#shapes.set(keyed.key, { shape: keyed.shape, used: 1 });
  }

  /** @returns whether it was there */
  remove({ id, scope }: Scoped): boolean {
    const key = scopeKey(scope);
    if (!this.#byScope.delete(key, (one) => one.id === id)) return false;
    this.#size -= 1;
    const keyed = this.#shapeOf(scope);
    const kept = keyed ? this.#shapes.get(keyed.key) : this.#wide.get(key);
    if (kept) kept.used -= 1;
    if (kept?.used === 0) {
      if (keyed) this.#shapes.delete(keyed.key);
      else this.#wide.delete(key);
    }
    return true;
  }

  /** What is set for exactly a scope, by its key. */
  at(key: string): readonly Thing[] {
    return this.#byScope.get(key);
  }

  /** Everything whose scope covers a combination, in no order. */
  covering(combination: readonly number[]): Thing[] {
    const thingsFound: Thing[] = [];
    for (const { shape } of this.#shapes.values()) {
      const scope: number[] = [];
      for (const { position, depth } of shape) {
        const member = this.tree.path(combination[position] ?? -1)[depth - 1];
        if (member !== undefined) scope.push(member);
      }
      if (scope.length < shape.length) continue;
      thingsFound.push(...this.#byScope.get(scopeKey(scope)));
    }
    for (const [key, { scope }] of this.#wide) {
      if (this.tree.covers(scope, combination)) thingsFound.push(...this.#byScope.get(key));
    }
    return thingsFound;
  }
}
