/** The client of an order book's feed: pages by a cursor, tried again with growing pauses. */
import { z } from 'zod';

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
}
export const PATIENT: Patience = { tries: 6, firstPauseMs: 400 };
const ONCE: Patience = { tries: 1, firstPauseMs: 0 };

/** The feed at an address, with its key. */
export class Feed {
  constructor(
    private readonly url: string,
    private readonly key: string,
    private readonly patience = PATIENT,
    /** Asked before every request. @throws Stopped */
    private readonly mayAsk: () => Promise<void> = () => Promise.resolve(),
  ) {}

  /** What came after a cursor. @throws FeedFailure */
  page(after: number): Promise<FeedPage> {
    return this.#ask(`/v1/documents?after=${after}&limit=${PAGE}`, pageSchema, this.patience);
  }

  /** Items or customers that came after a cursor. @throws FeedFailure */
  async names(kind: 'item' | 'customer', after: number): Promise<NamesPage> {
    const address = `/v1/${kind}s?after=${after}&limit=${PAGE}`;
    if (kind === 'customer') {
      const { customers, ...rest } = await this.#ask(address, customersSchema, this.patience);
      return { names: customers, ...rest };
    }
    const { items, ...rest } = await this.#ask(address, itemsSchema, this.patience);
    return { names: items.map((item) => ({ ...item, group: '', since: '' })), ...rest };
  }

  /** Whether the service is there and takes the key. @throws FeedFailure */
  status(): Promise<z.infer<typeof statusSchema>> {
    return this.#ask('/v1/status', statusSchema, ONCE);
  }

  async #ask<T>(path: string, schema: z.ZodType<T>, { tries, firstPauseMs }: Patience): Promise<T> {
    const address = this.url.replace(/\/+$/, '') + path;
    for (let attempt = 1; ; attempt += 1) {
      await this.mayAsk();
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
    try {
      const response = await fetch(address, {
        headers: { 'x-api-key': this.key, accept: 'application/json' },
        signal: AbortSignal.timeout(TIMEOUT_MS),
        redirect: 'error',
      });
      const text = await response.text();
      if (response.status === 429) {
        const seconds = Number(response.headers.get('retry-after')) || 1;
        const failure = new FeedFailure('The service asks for fewer requests', true);
        return { failure, pause: Math.min(60, seconds) * 1000 };
      }
      if (response.status === 401 || response.status === 403) {
        return { failure: new FeedFailure('The service does not take the key', false), pause: 0 };
      }
      if (!response.ok) {
        const failure = new FeedFailure(
          `The service answered ${response.status}`,
          response.status >= 500,
        );
        return { failure, pause: 0 };
      }
      if (text.length > LARGEST_ANSWER) {
        return {
          failure: new FeedFailure('The service answers too much at once', false),
          pause: 0,
        };
      }
      return { answer: JSON.parse(text) as unknown, pause: 0 };
    } catch (error) {
      if (error instanceof SyntaxError) {
        return { failure: new FeedFailure('The service answered no JSON', false), pause: 0 };
      }
      return { failure: new FeedFailure('The service cannot be reached', true), pause: 0 };
    }
  }
}
