/** In a thread: parses and checks large JSON bodies by the schema of their operation. */
import { API, type Operation } from '@dravex/contract';
import { answerCalls } from '../platform/thread.ts';
import { checkedBody } from './checked-body.ts';

const OPERATIONS = new Map<string, Operation>(
  Object.values(API).flatMap((room) => Object.entries(room)),
);

/** A list that is longer is handed over piece by piece. */
const LONG = 2000;
/** How deep in a body long lists lie. */
const DEEP = 3;

/** Where a long list lies in what was read, and how long it is. */
export interface LongList {
  readonly path: readonly string[];
  readonly length: number;
}

const held = new Map<number, readonly (readonly unknown[])[]>();

/** Takes the long lists out of a value, and leaves empty ones in their place. */
function takeOut(
  value: unknown,
  path: readonly string[],
  out: { path: readonly string[]; list: readonly unknown[] }[],
): unknown {
  if (Array.isArray(value)) {
    if (value.length <= LONG) return value;
    out.push({ path, list: value });
    return [];
  }
  if (typeof value !== 'object' || value === null || path.length >= DEEP) return value;
  return Object.fromEntries(
    Object.entries(value).map(([key, part]) => [key, takeOut(part, [...path, key], out)]),
  );
}

const calls = {
  /**
   * Reads a body.
   * @param id by which its long lists are asked for
   * @throws HttpProblem 400 naming every mistake with its path
   */
  read(id: number, operation: string, bytes: Uint8Array): { value: unknown; long: LongList[] } {
    const schema = OPERATIONS.get(operation)?.body;
    if (!schema) throw new Error(`The operation ${operation} has no body`);
    const value = checkedBody(schema, bytes);
    const out: { path: readonly string[]; list: readonly unknown[] }[] = [];
    const short = takeOut(value, [], out);
    held.set(
      id,
      out.map(({ list }) => list),
    );
    return { value: short, long: out.map(({ path, list }) => ({ path, length: list.length })) };
  },

  /** The next values of a long list. */
  piece: (id: number, list: number, from: number): readonly unknown[] =>
    held.get(id)?.[list]?.slice(from, from + LONG) ?? [],

  /** Forgets a body. */
  forget(id: number): void {
    held.delete(id);
  },
};

export type BodyCalls = typeof calls;

answerCalls(calls);
