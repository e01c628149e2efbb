import type { Cell } from '@dravex/core';

/** A row as it stands in the file, and its number as a person counts it. */
export interface RawRow {
  readonly row: number;
  readonly cells: readonly Cell[];
}
