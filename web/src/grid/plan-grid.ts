import type { Scope, Span } from '@dravex/core';

/** What the plan grid shows, in terms of the plan. */

/** Whose number it is: decides the cell's dress. */
export type Dress =
  'books' | 'forecast' | 'typed' | 'entries' | 'kept' | 'mixed' | 'missing' | 'locked' | 'plain';

/**
 * A tick stands where it should be, a dot or a bar shows where it is. Of a difference the tick is
 * in the middle, and `widest`, the largest difference of the table, is the scale of all its rows; a
 * bar begins at zero and would be as wide as its column at `full`.
 */
export type Mark =
  | {
      readonly kind: 'difference';
      readonly is: number;
      readonly should: number;
      readonly widest: number;
    }
  | {
      readonly kind: 'bar';
      readonly is: number;
      readonly should: number | null;
      readonly full: number;
      /** Part of it is forecast. */
      readonly ahead?: boolean;
    };

export interface GridCell {
  /** As it is shown. */
  readonly text: string;
  /** As it is typed and copied: the full value. */
  readonly typed: string;
  readonly dress: Dress;
  /** What the tooltip says. */
  readonly title?: string;
  /** The number as it is shown, before it is rounded: what selected cells add up to. */
  readonly value?: number | null;
  /** In what it is shown and typed, as the field names it. */
  readonly unit?: string;
  /** Whether a difference is good, bad, or too small to matter: sign, open diamond and colour say it. */
  readonly judgement?: 'good' | 'bad' | 'even' | 'slight';
  /** Drawn in place of a number. */
  readonly mark?: Mark;
  /** Why nothing is typed here, where the column is typed into. */
  readonly fixed?: string;
  /** Somebody has said something of it that is not resolved. */
  readonly commented?: boolean | undefined;
  /** What stands quietly beside the number: its share, its growth. */
  readonly beside?: string;
}

/** The cells of a row: an array, or cells that are made when they come into sight. */
export type GridCells = Pick<readonly GridCell[], 'length' | 'at'>;

/** Cells that are made one by one when they are looked at, and kept. */
export function cellsOnDemand(length: number, make: (index: number) => GridCell): GridCells {
  const made = new Map<number, GridCell>();
  return {
    length,
    at(index: number): GridCell | undefined {
      if (index < 0 || index >= length) return undefined;
      const known = made.get(index) ?? make(index);
      made.set(index, known);
      return known;
    },
  };
}

export interface GridColumn {
  readonly key: string;
  readonly heading: string;
  /** Columns of closed months lie on paper. */
  readonly closed?: boolean;
  /** Pinned beside the row's name. */
  readonly total?: boolean;
  readonly size?: number;
  /** Where its cells stand, when not at the right as numbers do. */
  readonly align?: 'left' | 'center';
  /** Why nothing is typed into it; typed into where it is left out. */
  readonly fixed?: string;
  /** An arrow, where rows are in order by it. */
  readonly ordered?: string;
  /** What the heading means, where not everybody knows. */
  readonly means?: string;
}

export interface GridRow {
  readonly key: string;
  readonly label: string;
  readonly level: number;
  readonly parent: boolean;
  readonly folded: boolean;
  readonly strong: boolean;
  /** What stands quietly behind the label. */
  readonly tail?: string;
  /** A further line of the row before it. */
  readonly quiet?: boolean;
  /** Something here waits for a person. */
  readonly waits?: boolean;
  /** Whether it is pinned; undefined where it cannot be. */
  readonly pinned?: boolean | undefined;
  readonly cells: GridCells;
}

/** A text that was typed, pasted, filled or deleted (then empty) into a cell. */
export interface GridEdit {
  readonly row: string;
  readonly column: string;
  readonly text: string;
  /** Somebody said that it is meant so, though it is far off what stands there. */
  readonly sure?: boolean;
}

/** Whether a text changes what is there: `+8%`, `x1.1`, `+=2k`, `+2pt`. */
export function isRelative(text: string): boolean {
  return /^([+\-\u2212]=|[x\u00d7]|[+\-\u2212].*(%|pt)$)/i.test(text);
}

export interface GridPlace {
  readonly row: string;
  readonly column: string;
}

/** What was typed into a number of a table, with the scope and the months it stands for. */
export interface TableEdit extends GridEdit {
  readonly scope: Scope;
  readonly span: Span;
}
