/** What `npm run bench` hands over, and somebody who is signed in at the server that it started. */

/** @throws Error for what `npm run bench` did not hand over */
export function setting(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set; run it by npm run bench`);
  return value;
}

export interface Client {
  /** Sends a request and reads its answer. @throws Error with the answer of a refused one */
  send(
    method: string,
    path: string,
    body?: BodyInit,
    type?: string,
  ): Promise<Record<string, unknown>>;
  /** How long the server said that it worked for the last answer, in milliseconds. */
  inServer(): number;
}

export async function signedIn(): Promise<Client> {
  const origin = setting('BENCH_ORIGIN');
  let cookie = '';
  let inServer = Number.NaN;
  let token = '';
  const send: Client['send'] = async (method, path, body, type = 'application/json') => {
    const response = await fetch(`${origin}/api${path}`, {
      method,
      headers: { cookie, 'x-csrf-token': token, 'content-type': type },
      ...(body === undefined ? {} : { body, duplex: 'half' }),
    } as RequestInit);
    inServer = Number(/dur=([\d.]+)/.exec(response.headers.get('server-timing') ?? '')?.[1]);
    for (const set of response.headers.getSetCookie()) cookie = set.split(';')[0] ?? '';
    const answer = (await response.json()) as Record<string, unknown>;
    if (!response.ok) throw new Error(`${method} ${path}: ${JSON.stringify(answer)}`);
    return answer;
  };
  const credentials = { email: setting('BENCH_EMAIL'), password: setting('BENCH_PASSWORD') };
  token = String((await send('POST', '/session', JSON.stringify(credentials)))['csrfToken']);
  return { send, inServer: () => inServer };
}
