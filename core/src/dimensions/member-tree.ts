import type { Dimension, Member, Scope } from './dimension.ts';

/**
 * The members of all dimensions with the questions that everything else asks of them. Built
 * once a plan; members are known by id, ids are unique over all dimensions.
 */
export class MemberTree {
  readonly dimensions: readonly Dimension[];
  readonly #members = new Map<number, Member>();
  readonly #dimensionOf = new Map<number, number>();
  readonly #paths = new Map<number, readonly number[]>();
  readonly #parents = new Set<number>();

  /** @throws RangeError when a parent is unknown, lies in another dimension, or a member is its own ancestor */
  constructor(dimensions: readonly Dimension[]) {
    this.dimensions = dimensions;
    dimensions.forEach((dimension, position) => {
      for (const member of dimension.members) {
        this.#members.set(member.id, member);
        this.#dimensionOf.set(member.id, position);
        if (member.parent !== null) this.#parents.add(member.parent);
      }
    });
    for (const id of this.#members.keys()) this.#paths.set(id, this.#walkUp(id));
  }

  #walkUp(id: number): number[] {
    const path: number[] = [];
    let at: number | null = id;
    while (at !== null) {
      const member: Member = this.member(at);
      if (path.includes(at) || this.#dimensionOf.get(at) !== this.#dimensionOf.get(id)) {
        throw new RangeError(`Member "${this.member(id).code}" has no clean way up to the top`);
      }
      path.unshift(at);
      at = member.parent;
    }
    return path;
  }

  /** @throws RangeError when there is no such member */
  member(id: number): Member {
    const member = this.#members.get(id);
    if (!member) throw new RangeError(`There is no member ${id}`);
    return member;
  }

  has(id: number): boolean {
    return this.#members.has(id);
  }

  /** The position of the member's dimension in the workspace's order. */
  dimensionOf(id: number): number {
    this.member(id);
    return this.#dimensionOf.get(id) ?? 0;
  }

  /** From the topmost ancestor down to the member itself. */
  path(id: number): readonly number[] {
    this.member(id);
    return this.#paths.get(id) ?? [];
  }

  /** 1 at the top, 2 below it, and so on. */
  depth(id: number): number {
    return this.path(id).length;
  }

  isLeaf(id: number): boolean {
    return !this.#parents.has(id);
  }

  /** The members of a dimension that have none below them, in the order of display. */
  leavesOf(dimension: Dimension): Member[] {
    const parents = new Set(dimension.members.map(({ parent }) => parent));
    return this.inOrder(dimension).filter(({ id }) => !parents.has(id));
  }

  /** A dimension's members as a tree is read: each followed by those below it. */
  inOrder(dimension: Dimension): Member[] {
    const children = new Map<number | null, Member[]>();
    for (const member of dimension.members) {
      const beside = children.get(member.parent);
      if (beside) beside.push(member);
      else children.set(member.parent, [member]);
    }
    const below = (parent: number | null): Member[] =>
      (children.get(parent) ?? []).flatMap((member) => [member, ...below(member.id)]);
    return below(null);
  }

  /** Whether a scope holds a combination: in every dimension it names, one of its members is the leaf or above it. */
  covers(scope: Scope, combination: readonly number[]): boolean {
    const wanted = new Set<number>();
    const met = new Set<number>();
    for (const id of scope) {
      const dimension = this.dimensionOf(id);
      wanted.add(dimension);
      const leaf = combination[dimension];
      if (leaf !== undefined && this.path(leaf).includes(id)) met.add(dimension);
    }
    return wanted.size === met.size;
  }

  /** A scope in words: `Web shop · Carafes`, or `everything`. */
  label(scope: Scope): string {
    if (scope.length === 0) return 'everything';
    return [...scope]
      .sort((a, b) => this.dimensionOf(a) - this.dimensionOf(b))
      .map((id) => this.member(id).name)
      .join(' · ');
  }
}

const known = new WeakMap<readonly Dimension[], MemberTree>();

/** The tree of some dimensions, which do not change; it is built when it is asked for at first. */
export function treeOf(dimensions: readonly Dimension[]): MemberTree {
  const before = known.get(dimensions);
  if (before) return before;
  const tree = new MemberTree(dimensions);
  known.set(dimensions, tree);
  return tree;
}
