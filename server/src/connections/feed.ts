/** The client of an order book's feed: pages by a cursor, tried again with growing pauses. */
import { z } from 'zod';
import { askOutside, OutsideRefused } from './outside.ts';

const lineSchema = z.object({
  line: z.number().int().min(1).max(2_000_000_000),
  item: z.string().max(100),
  quantity: z.number().min(-1e9).max(1e9),
  net: z.number().int().min(-1e14).max(1e14),
  cost: z.number().int().min(-1e14).max(1e14),
});
const documentSchema = z.object({
  sequence: z.number().int().min(1),
  number: z.string().min(1).max(90),
  revision: z.number().int().min(1),
  kind: z.enum(['invoice', 'creditNote']),
  date: z.iso.date(),
  channel: z.string().max(100),
  customer: z.string().max(100),
  group: z.string().max(100),
  region: z.string().max(100),
  lines: z.array(lineSchema).max(10_000),
});
/** An invoice or a credit note as the feed has it; money in minor units. */
export type FeedDocument = z.infer<typeof documentSchema>;

/** Where a page ends, and whether another one follows. */
const cursor = { next: z.number().int().min(0), more: z.boolean() };
const pageSchema = z.object({
  documents: z.array(documentSchema).max(1000),
  ...cursor,
});
export type FeedPage = z.infer<typeof pageSchema>;
const itemSchema = z.object({
  sequence: z.number().int().min(1),
  code: z.string().min(1).max(100),
  name: z.string().max(200),
});
const customerSchema = itemSchema.extend({
  /** The group that it belongs to from a day on; empty where the service does not say. */
  group: z.string().max(100).default(''),
  since: z.iso.date().default('1990-01-01'),
});
const itemsSchema = z.object({ items: z.array(itemSchema).max(1000), ...cursor });
const customersSchema = z.object({ customers: z.array(customerSchema).max(1000), ...cursor });
/** What the service says of an item or a customer. */
export type FeedName = z.output<typeof customerSchema>;
export interface NamesPage {
  readonly names: readonly FeedName[];
  readonly next: number;
  readonly more: boolean;
}

const statusSchema = z.object({ service: z.string().max(200), changes: z.number().int().min(0) });

/** Why a service could not be asked, in words for the planner. */
export class FeedFailure extends Error {
  /** @param away whether the service is away, or says no */
  constructor(
    message: string,
    readonly away: boolean,
  ) {
    super(message);
    this.name = 'FeedFailure';
  }
}

/** That somebody stopped asking. */
export class Stopped extends Error {}

const PAGE = 50;
const TIMEOUT_MS = 15_000;
const LARGEST_ANSWER = 8 * 1024 ** 2;

/** How often a request is tried, and how long it waits the first time; then twice as long, and so on. */
export interface Patience {
  readonly tries: number;
  readonly firstPauseMs: number;
  /** How long an answer may take. */
  readonly timeoutMs?: number;
}
export const PATIENT: Patience = { tries: 6, firstPauseMs: 400 };
const ONCE: Patience = { tries: 1, firstPauseMs: 0 };

/** How a feed is asked. */
export interface Ways {
  /** Networks of one's own that may be asked. */
  readonly allowed: readonly string[];
  readonly patience?: Patience | undefined;
  /** Asked before every request. @throws Stopped */
  readonly mayAsk?: () => Promise<void>;
  /** Ends a request that is under way. */
  readonly signal?: AbortSignal;
}

/** The feed at an address, with its key. */
export class Feed {
  constructor(
    private readonly url: string,
    private readonly key: string,
    private readonly ways: Ways,
  ) {}

  /** What came after a cursor. @throws FeedFailure */
  page(after: number): Promise<FeedPage> {
    return this.#ask(`/v1/documents?after=${after}&limit=${PAGE}`, pageSchema);
  }

  /** Items or customers that came after a cursor. @throws FeedFailure */
  async names(kind: 'item' | 'customer', after: number): Promise<NamesPage> {
    const address = `/v1/${kind}s?after=${after}&limit=${PAGE}`;
    if (kind === 'customer') {
      const { customers, ...rest } = await this.#ask(address, customersSchema);
      return { names: customers, ...rest };
    }
    const { items, ...rest } = await this.#ask(address, itemsSchema);
    return { names: items.map((item) => ({ ...item, group: '', since: '' })), ...rest };
  }

  /** Whether the service is there and takes the key. @throws FeedFailure */
  status(): Promise<z.infer<typeof statusSchema>> {
    return this.#ask('/v1/status', statusSchema, ONCE);
  }

  async #ask<T>(path: string, schema: z.ZodType<T>, patience = this.ways.patience): Promise<T> {
    const { tries, firstPauseMs } = patience ?? PATIENT;
    const address = this.url.replace(/\/+$/, '') + path;
    for (let attempt = 1; ; attempt += 1) {
      await this.ways.mayAsk?.();
      const { answer, failure, pause } = await this.#once(address);
      if (failure === undefined) {
        const read = schema.safeParse(answer);
        if (read.success) return read.data;
        const [issue] = read.error.issues;
        throw new FeedFailure(
          `The service answered something that was not asked for: ${issue?.path.join('.') ?? ''}: ${issue?.message ?? ''}`,
          false,
        );
      }
      if (!failure.away || attempt >= tries) throw failure;
      await new Promise((resolve) =>
        setTimeout(resolve, Math.max(pause, firstPauseMs * 2 ** (attempt - 1))),
      );
    }
  }

  async #once(
    address: string,
  ): Promise<{ answer?: unknown; failure?: FeedFailure; pause: number }> {
    const failed = (message: string, isAway: boolean, pause = 0) => ({
      failure: new FeedFailure(message, isAway),
      pause,
    });
    const { allowed, signal, patience } = this.ways;
    try {
      const { status, retryAfter, text } = await askOutside(address, {
        headers: { 'x-api-key': this.key, accept: 'application/json' },
        ...{
          allowed,
          signal,
          timeoutMs: patience?.timeoutMs ?? TIMEOUT_MS,
          mostBytes: LARGEST_ANSWER,
        },
      });
      if (status === 429) {
        const seconds = Number(retryAfter) || 1;
        return failed('The service asks for fewer requests', true, Math.min(60, seconds) * 1000);
      }
      if (status === 401 || status === 403)
        return failed('The service does not accept the key', false);
      if (status >= 300 && status < 400) {
        return failed('The service refers to another address; enter that one', false);
      }
      if (status !== 200) return failed(`The service answered ${status}`, status >= 500);
      return { answer: JSON.parse(text) as unknown, pause: 0 };
    } catch (error) {
      if (signal?.aborted) throw new Stopped();
      if (error instanceof OutsideRefused) return failed(error.message, false);
      if (error instanceof SyntaxError) return failed('The service answered no JSON', false);
      return failed('The service cannot be reached, or does not answer in time', true);
    }
  }
}
