/**
 * Looks again and again whether the database answers. One that is gone says so at once; one that is
 * frozen says nothing, and whoever waits for it would wait with it.
 */
import pg from 'pg';
import type { Logger } from 'pino';

/** How often it is looked, and how long an answer may take. */
const LOOK_EVERY_MS = 1000;
const SILENT_MS = 3000;

/** Whether the database answers; told to whoever wants to know. */
export class DatabaseWatch {
  #away = false;
  #closed = false;
  #client: pg.Client | undefined;
  #timer: NodeJS.Timeout | undefined;
  readonly #heard = new Set<() => void>();

  constructor(
    private readonly url: string,
    private readonly log: Logger,
    private readonly silentMs = SILENT_MS,
    private readonly everyMs = LOOK_EVERY_MS,
  ) {
    this.#later();
  }

  /** Whether it did not answer when it was last looked. */
  get isAway(): boolean {
    return this.#away;
  }

  /** Hears of it when the database stops to answer. @returns how to hear it no longer */
  whenAway(hear: () => void): () => void {
    this.#heard.add(hear);
    return () => this.#heard.delete(hear);
  }

  #later(): void {
    if (this.#closed) return;
    this.#timer = setTimeout(() => void this.#look(), this.everyMs);
    this.#timer.unref();
  }

  async #look(): Promise<void> {
    const late = setTimeout(() => this.#tell(true), this.silentMs);
    late.unref();
    try {
      // As long as it takes: a frozen database answers when it goes on.
      await (await this.#connected()).query('select 1');
      this.#tell(false);
    } catch {
      await this.#client?.end().catch(() => undefined);
      this.#client = undefined;
      this.#tell(true);
    }
    clearTimeout(late);
    this.#later();
  }

  async #connected(): Promise<pg.Client> {
    if (this.#client) return this.#client;
    const client = new pg.Client({
      connectionString: this.url,
      connectionTimeoutMillis: this.silentMs,
      application_name: 'dravex: is it there',
    });
    client.on('error', () => undefined);
    await client.connect();
    this.#client = client;
    return client;
  }

  #tell(away: boolean): void {
    if (away === this.#away || this.#closed) return;
    this.#away = away;
    if (!away) {
      this.log.info('the database answers again');
      return;
    }
    this.log.error('the database does not answer');
    for (const hear of this.#heard) hear();
  }

  async close(): Promise<void> {
    this.#closed = true;
    clearTimeout(this.#timer);
    await this.#client?.end().catch(() => undefined);
  }
}
