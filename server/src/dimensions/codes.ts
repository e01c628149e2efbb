import { MemberTree, type Dimension, type Member } from '@dravex/core';

/** Why codes do not name members: which dimension, and what to do. */
export interface CodeProblem {
  readonly dimension: string;
  readonly code: 'unknown-code' | 'not-a-leaf' | 'missing-value';
  readonly message: string;
}

/** Finds members by the codes that files and requests use, and by their names where only one bears it. */
export class MemberCodes {
  readonly tree: MemberTree;
  readonly #ids: ReadonlyMap<string, ReadonlyMap<string, number>>;
  readonly #names: ReadonlyMap<string, ReadonlyMap<string, number>>;

  constructor(readonly dimensions: readonly Dimension[]) {
    this.tree = new MemberTree(dimensions);
    this.#ids = new Map(
      dimensions.map(({ code, members }) => [code, new Map(members.map((m) => [m.code, m.id]))]),
    );
    this.#names = new Map(dimensions.map(({ code, members }) => [code, soleNames(members)]));
  }

  /** A member of any depth, or `undefined`. */
  find(dimensionCode: string, text: string): number | undefined {
    return (
      this.#ids.get(dimensionCode)?.get(text) ??
      this.#names.get(dimensionCode)?.get(text.toLowerCase())
    );
  }

  /** What a dimension is called. */
  nameOf(dimensionCode: string): string {
    return this.dimensions.find(({ code }) => code === dimensionCode)?.name ?? dimensionCode;
  }

  /** The leaf that a text names; or what is wrong with it. */
  leaf(dimensionCode: string, text: string): { id: number; problem?: undefined } | Refused {
    const name = this.nameOf(dimensionCode);
    const refuse = (code: CodeProblem['code'], message: string): Refused => ({
      problem: { dimension: dimensionCode, code, message },
    });
    if (text === '') return refuse('missing-value', `${name} is missing`);
    const id = this.find(dimensionCode, text);
    if (id === undefined) return refuse('unknown-code', `"${text}" is not a code of ${name}`);
    if (this.tree.isLeaf(id)) return { id };
    return refuse('not-a-leaf', `"${text}" has members below it; sales name the lowest one`);
  }

  /** One leaf for every dimension, in their order; or what is wrong with each. */
  leaves(codeOf: (dimensionCode: string) => string | undefined): {
    members: number[];
    problems: CodeProblem[];
  } {
    const leaves = this.dimensions.map(({ code }) => this.leaf(code, codeOf(code) ?? ''));
    return {
      members: leaves.flatMap((leaf) => (leaf.problem ? [] : [leaf.id])),
      problems: leaves.flatMap((leaf) => (leaf.problem ? [leaf.problem] : [])),
    };
  }
}

interface Refused {
  readonly id?: undefined;
  readonly problem: CodeProblem;
}

/** Codes and names in small letters that stand for one member only. */
function soleNames(members: readonly Member[]): ReadonlyMap<string, number> {
  const idsByText = new Map<string, Set<number>>();
  for (const { id, code, name } of members) {
    for (const text of [code.toLowerCase(), name.toLowerCase()]) {
      idsByText.set(text, (idsByText.get(text) ?? new Set()).add(id));
    }
  }
  return new Map(
    [...idsByText].flatMap(([text, ids]) => (ids.size === 1 ? [[text, [...ids][0] ?? 0]] : [])),
  );
}
