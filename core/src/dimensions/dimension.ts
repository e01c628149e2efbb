/** One value of a dimension; it may lie below another one. */
export interface Member {
  readonly id: number;
  readonly code: string;
  readonly name: string;
  /** The member above, or null at the top. */
  readonly parent: number | null;
  /** The member of its dimension that it came in place of, as a new product for an old one. */
  readonly replaces?: number | undefined;
}

/** A way to cut sales. The order of members is the order in which they are shown. */
export interface Dimension {
  readonly code: string;
  readonly name: string;
  readonly members: readonly Member[];
}

/** One leaf member in every dimension, in the workspace's order of dimensions. */
export interface Combination {
  readonly id: number;
  readonly members: readonly number[];
}

/** A choice of members; empty means everything. Members of one dimension widen, dimensions narrow. */
export type Scope = readonly number[];
