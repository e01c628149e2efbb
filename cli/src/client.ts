import { Readable } from 'node:stream';
import { problemSchema, sessionSchema, type Session } from '@dravex/contract';

/** An answer of the server that is not success, in its own words. */
export class RequestFailed extends Error {
  constructor(
    readonly status: number,
    readonly what: string,
    detail: string,
  ) {
    super(`${what}: ${detail}`);
    this.name = 'RequestFailed';
  }
}

/** A signed-in connection to a Dravex server. */
export class Client {
  #cookie = '';
  #csrfToken = '';

  constructor(private readonly server: string) {}

  /** @throws RequestFailed with the server's reason */
  async signIn(email: string, password: string): Promise<Session> {
    const session = sessionSchema.parse(await this.send('POST', '/session', { email, password }));
    this.#csrfToken = session.csrfToken;
    return session;
  }

  async #reach(url: string, request: RequestInit): Promise<Response> {
    try {
      return await fetch(url, request);
    } catch {
      throw new Error(`The server at ${this.server} cannot be reached; is it running there?`);
    }
  }

  /**
   * Sends a request and gives back the parsed answer.
   * @param body JSON, or a file that is sent as it is read
   * @throws RequestFailed with the server's reason
   */
  async send(method: string, path: string, body?: object | Readable): Promise<unknown> {
    const file = body instanceof Readable;
    const sent = file
      ? { body: Readable.toWeb(body) as ReadableStream, duplex: 'half' as const }
      : body === undefined
        ? {}
        : { body: JSON.stringify(body) };
    const response = await this.#reach(`${this.server}/api${path}`, {
      method,
      headers: {
        cookie: this.#cookie,
        'x-csrf-token': this.#csrfToken,
        'content-type': file ? 'application/octet-stream' : 'application/json',
      },
      ...sent,
    });
    for (const cookie of response.headers.getSetCookie()) {
      this.#cookie = cookie.split(';')[0] ?? '';
    }
    const answer: unknown = response.status === 204 ? undefined : await response.json();
    if (response.ok) return answer;
    const problem = problemSchema.safeParse(answer);
    const errors =
      problem.data?.errors?.slice(0, 5).map((e) => `\n  ${e.path}: ${e.message}`) ?? [];
    const detail = `${problem.data?.detail ?? response.statusText}${errors.join('')}`;
    throw new RequestFailed(response.status, `${method} ${path}`, detail);
  }
}
