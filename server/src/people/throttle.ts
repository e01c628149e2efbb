import { RateLimiterPostgres } from 'rate-limiter-flexible';
import type { Connections } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';

/** Failed sign-ins that are allowed for one address from one place in a quarter of an hour. */
const ALLOWED = 8;
const WINDOW_SECONDS = 15 * 60;

/** Counts failed sign-ins in the database, so that all server processes count together. */
export class SignInThrottle {
  readonly #limiter: RateLimiterPostgres;

  constructor({ pool }: Connections) {
    this.#limiter = new RateLimiterPostgres({
      storeClient: pool,
      storeType: 'pool',
      tableName: 'sign_in_throttle',
      tableCreated: true,
      keyPrefix: '',
      points: ALLOWED,
      duration: WINDOW_SECONDS,
      clearExpiredByTimeout: false,
    });
  }

  #key(email: string, ip: string): string {
    return `${email.toLowerCase().slice(0, 160)}|${ip}`.slice(0, 250);
  }

  /** @throws HttpProblem 429 when too many sign-ins failed */
  async check(email: string, ip: string): Promise<void> {
    const state = await this.#limiter.get(this.#key(email, ip));
    if (state && state.consumedPoints >= ALLOWED) {
      const minutes = Math.max(1, Math.ceil(state.msBeforeNext / 60_000));
      throw new HttpProblem(
        429,
        'Too many attempts',
        `Signing in failed too often. Try again in ${minutes} minutes`,
      );
    }
  }

  async failed(email: string, ip: string): Promise<void> {
    // The limiter rejects when the points are used up; that is what `check` looks at.
    await this.#limiter.consume(this.#key(email, ip)).catch(() => undefined);
  }

  async succeeded(email: string, ip: string): Promise<void> {
    await this.#limiter.delete(this.#key(email, ip));
  }
}
