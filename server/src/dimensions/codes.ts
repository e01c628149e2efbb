import { MemberTree, type Dimension } from '@dravex/core';

/** Why codes do not name members: which dimension, and what to do. */
export interface CodeProblem {
  readonly dimension: string;
  readonly code: 'unknown-code' | 'not-a-leaf' | 'missing-value';
  readonly message: string;
}

/** Finds members by the codes that files and requests use. */
export class MemberCodes {
  readonly tree: MemberTree;
  readonly #ids: readonly ReadonlyMap<string, number>[];

  constructor(readonly dimensions: readonly Dimension[]) {
    this.tree = new MemberTree(dimensions);
    this.#ids = dimensions.map(({ members }) => new Map(members.map(({ code, id }) => [code, id])));
  }

  /** A member of any depth, or `undefined`. */
  find(dimensionCode: string, code: string): number | undefined {
    const position = this.dimensions.findIndex((d) => d.code === dimensionCode);
    return this.#ids[position]?.get(code);
  }

  /** One leaf for every dimension, in their order; or what is wrong with each. */
  leaves(codeOf: (dimensionCode: string) => string | undefined): {
    members: number[];
    problems: CodeProblem[];
  } {
    const members: number[] = [];
    const problems: CodeProblem[] = [];
    for (const { code: dimension, name } of this.dimensions) {
      const code = codeOf(dimension) ?? '';
      const id = this.find(dimension, code);
      if (code === '') {
        problems.push({ dimension, code: 'missing-value', message: `${name} is missing` });
      } else if (id === undefined) {
        problems.push({
          dimension,
          code: 'unknown-code',
          message: `"${code}" is not a code of ${name}`,
        });
      } else if (!this.tree.isLeaf(id)) {
        problems.push({
          dimension,
          code: 'not-a-leaf',
          message: `"${code}" has members below it; sales name the lowest one`,
        });
      } else members.push(id);
    }
    return { members, problems };
  }
}
