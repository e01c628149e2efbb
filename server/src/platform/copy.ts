/** Writing many rows by COPY. */
import { once } from 'node:events';
import { finished } from 'node:stream/promises';
import type { PoolClient } from 'pg';
import { from as copyFrom, type CopyStreamQuery } from 'pg-copy-streams';

/** A field of PostgreSQL's COPY text format. */
export function copyField(value: string): string {
  if (!/[\\\t\n\r]/.test(value)) return value;
  return value
    .replaceAll('\\', '\\\\')
    .replaceAll('\t', '\\t')
    .replaceAll('\n', '\\n')
    .replaceAll('\r', '\\r');
}

/** As `copyField`; an empty text is null. */
export function copyOptional(value: string): string {
  return value === '' ? '\\N' : copyField(value);
}

/**
 * One COPY on a client that does nothing else meanwhile. `end` is awaited before the next query.
 * @throws whatever the database says of the rows
 */
export class Copy {
  readonly #stream: CopyStreamQuery;
  readonly #done: Promise<void>;

  /** @param into `table (column, …)` */
  constructor(client: PoolClient, into: string) {
    this.#stream = client.query(copyFrom(`copy ${into} from stdin`));
    this.#done = finished(this.#stream);
    // It is awaited in `end`; until then it must not count as unhandled.
    this.#done.catch(() => undefined);
  }

  /** Hands rows on, and waits where the database is slower. */
  async write(rows: string): Promise<void> {
    if (rows === '' || this.#stream.write(rows)) return;
    await Promise.race([once(this.#stream, 'drain'), this.#done]);
  }

  async end(): Promise<void> {
    this.#stream.end();
    await this.#done;
  }

  /** Gives up what was written. */
  async cancel(): Promise<void> {
    this.#stream.destroy(new Error('given up'));
    await this.#done.catch(() => undefined);
  }
}
