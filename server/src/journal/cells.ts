import { isDeepStrictEqual } from 'node:util';
import type { JournalUnit } from '@dravex/contract';
import type { Json } from './tables.ts';

/** A thing taken apart into what can be changed on its own; what is absent is null. */
export type Cells = Readonly<Record<string, Json>>;

/** What a cell is called, and how its value is shown. */
export interface CellName {
  readonly label: string;
  readonly unit: JournalUnit;
}

/** A cell that differs. */
export interface CellChange {
  readonly cell: string;
  readonly before: Json;
  readonly after: Json;
}

/** Whether two values are the same as JSON keeps them: without regard to the order of keys. */
export function sameJson(a: Json, b: Json): boolean {
  return isDeepStrictEqual(a, b);
}

/** The cells in which a thing differs; null is a thing that is not there. */
export function differences(before: Cells | null, after: Cells | null): CellChange[] {
  const cells = new Set([...Object.keys(before ?? {}), ...Object.keys(after ?? {})]);
  return [...cells].flatMap((cell) => {
    const old = before?.[cell] ?? null;
    const next = after?.[cell] ?? null;
    return sameJson(old, next) ? [] : [{ cell, before: old, after: next }];
  });
}
