import { RateLimiterPostgres, type RateLimiterRes } from 'rate-limiter-flexible';
import type { Connections } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';
import { hashOf } from '../platform/secrets.ts';

const WINDOW_SECONDS = 15 * 60;

/**
 * Failed sign-ins that are allowed in a quarter of an hour: for one account from one address; for
 * one account from anywhere, so that guesses spread over many addresses end too; and from one
 * address for any accounts, so that guesses spread over many accounts do. The last are wide: an
 * office is one address, and nobody is to be shut out by others' guesses soon.
 */
const ALLOWED = { pair: 8, account: 50, address: 100 } as const;
type Kind = keyof typeof ALLOWED;
const KINDS = Object.keys(ALLOWED) as Kind[];

/** Forgets counts that are over. */
export async function dropOver({ pool }: Connections): Promise<void> {
  await pool.query('delete from sign_in_throttle where expire < $1', [Date.now()]);
}

/** Counts failed sign-ins in the database, so that all server processes count together. */
export class SignInThrottle {
  readonly #limiters: Readonly<Record<Kind, RateLimiterPostgres>>;

  constructor({ pool }: Connections) {
    const of = (points: number): RateLimiterPostgres =>
      new RateLimiterPostgres({
        storeClient: pool,
        storeType: 'pool',
        tableName: 'sign_in_throttle',
        tableCreated: true,
        keyPrefix: '',
        points,
        duration: WINDOW_SECONDS,
        // What is over goes with the other things that are; see `dropOver`.
        clearExpiredByTimeout: false,
      });
    const { pair, account, address } = ALLOWED;
    this.#limiters = { pair: of(pair), account: of(account), address: of(address) };
  }

  /** What is counted: hashed, so that what somebody typed stands nowhere. */
  #key(kind: Kind, account: string, address: string): string {
    const said = account.toLowerCase().slice(0, 200);
    const what = { pair: `${said} ${address}`, account: said, address };
    return `${kind} ${hashOf(what[kind])}`;
  }

  /** Which are counted: who is signed in already has no address that matters. */
  #kinds(address: string): readonly Kind[] {
    return address === '' ? ['pair'] : KINDS;
  }

  /**
   * Counts a try before it is made: of many at the same moment no more are made than are allowed.
   * @throws HttpProblem 429 when too many failed
   */
  async attempt(account: string, address: string): Promise<void> {
    for (const kind of this.#kinds(address)) {
      const key = this.#key(kind, account, address);
      try {
        await this.#limiters[kind].consume(key);
      } catch (refused) {
        if (refused instanceof Error) throw refused;
        const { msBeforeNext } = refused as RateLimiterRes;
        const minutes = Math.max(1, Math.ceil(msBeforeNext / 60_000));
        throw new HttpProblem(
          429,
          'Too many attempts',
          `Signing in failed too often. Try again in ${minutes} minutes`,
        );
      }
    }
  }

  /** A try that was right counts for nothing. */
  async succeeded(account: string, address: string): Promise<void> {
    for (const kind of this.#kinds(address)) {
      const key = this.#key(kind, account, address);
      if (kind === 'pair') await this.#limiters[kind].delete(key);
      else await this.#limiters[kind].reward(key, 1);
    }
  }
}
