/** A real server on a real database for one test file: a clone of an empty or of the sample template. */
import { randomBytes } from 'node:crypto';
import type { AddressInfo } from 'node:net';
import {
  noticeSchema,
  progressSchema,
  problemSchema,
  sessionSchema,
  type Notice,
  type Progress,
  type ProblemDetails,
} from '@dravex/contract';
import { pino, type Logger } from 'pino';
import { createApp, type AppConfig } from '../api/app.ts';
import { serverOf } from '../api/server.ts';
import { TEST_CONFIG } from './config.ts';
import { connect, type Connections } from '../platform/database.ts';

function setting(name: string): string {
  const value = process.env[name];
  if (!value) throw new Error(`${name} is not set; run the tests by npm test`);
  return value;
}

/** An answer of the server. */
export interface Answer<T> {
  readonly status: number;
  readonly body: T;
  readonly text: string;
  readonly problem: ProblemDetails | undefined;
}

/** A signed-in browser, as far as the API can tell. */
export class Visitor {
  cookie = '';
  csrfToken = '';

  constructor(private readonly origin: string) {}

  /** Where a path of the API is. */
  address(path: string): string {
    return `${this.origin}/api${path}`;
  }

  /** Sends a request; a string or bytes are sent as they are, with the given type. */
  async send<T = unknown>(
    method: string,
    path: string,
    body?: object | string,
    headers: Record<string, string> = {},
  ): Promise<Answer<T>> {
    const response = await fetch(`${this.origin}/api${path}`, {
      method,
      headers: {
        cookie: this.cookie,
        'x-csrf-token': this.csrfToken,
        'content-type': 'application/json',
        ...headers,
      },
      ...(body === undefined
        ? {}
        : {
            body:
              typeof body === 'string'
                ? body
                : Buffer.isBuffer(body)
                  ? new Uint8Array(body)
                  : JSON.stringify(body),
          }),
    });
    for (const cookie of response.headers.getSetCookie()) this.cookie = cookie.split(';')[0] ?? '';
    const text = await response.text();
    const json = response.headers.get('content-type')?.includes('json');
    const answer: unknown = json ? JSON.parse(text) : undefined;
    return {
      status: response.status,
      body: answer as T,
      text,
      problem: problemSchema.safeParse(answer).data,
    };
  }

  /** Sends a file. */
  async sendFile<T = unknown>(path: string, bytes: Buffer): Promise<Answer<T>> {
    return this.send<T>('POST', path, bytes, { 'content-type': 'application/octet-stream' });
  }

  /** Reads a file. */
  async readFile(path: string): Promise<Buffer> {
    const response = await fetch(`${this.origin}/api${path}`, {
      headers: { cookie: this.cookie },
    });
    return Buffer.from(await response.arrayBuffer());
  }

  /** Follows change notices: what was heard so far, and how to stop. */
  async follow(
    workspace: string,
  ): Promise<{ heard: Notice[]; progress: Progress[]; stop(): void }> {
    const ending = new AbortController();
    const response = await fetch(`${this.origin}/api${workspace}/notices`, {
      headers: { cookie: this.cookie },
      signal: ending.signal,
    });
    const heard: Notice[] = [];
    const progress: Progress[] = [];
    const reader = response.body?.pipeThrough(new TextDecoderStream()).getReader();
    const read = async (): Promise<void> => {
      for (;;) {
        const { value, done } = (await reader?.read()) ?? { value: '', done: true };
        for (const [, event, data = ''] of (value ?? '').matchAll(
          /^event: (\w+)\n(?:id.*\n)?data: (.*)$/gm,
        )) {
          if (event === 'change') heard.push(noticeSchema.parse(JSON.parse(data)));
          if (event === 'progress') progress.push(progressSchema.parse(JSON.parse(data)));
        }
        if (done) return;
      }
    };
    void read().catch(() => undefined);
    return { heard, progress, stop: () => ending.abort() };
  }

  async signIn(email: string, password: string): Promise<Answer<unknown>> {
    const answer = await this.send('POST', '/session', { email, password });
    const session = sessionSchema.safeParse(answer.body).data;
    if (session) this.csrfToken = session.csrfToken;
    return answer;
  }
}

export interface Served {
  readonly origin: string;
  readonly connections: Connections;
  /** Nobody, until signed in. */
  visitor(): Visitor;
  /** The sample planner, signed in. */
  planner(): Promise<Visitor>;
  /** A second planner of the sample workspace, signed in. */
  colleague(): Promise<Visitor>;
  /** The sample reader, signed in. */
  reader(): Promise<Visitor>;
  /** The sample manager and contributor, signed in. */
  manager(): Promise<Visitor>;
  contributor(): Promise<Visitor>;
  close(): Promise<void>;
}

/** Waits until something holds, looking again and again; at most fifteen seconds. */
export async function until(holds: () => boolean | Promise<boolean>, what: string): Promise<void> {
  const end = Date.now() + 15_000;
  while (!(await holds())) {
    if (Date.now() > end) throw new Error(`It did not come to pass: ${what}`);
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

/** The sample workspace is the first one of its database. */
export const SAMPLE = '/workspaces/1';

/** A fresh clone of the sample company's database, and how to drop it. */
export async function cloneOfSample(): Promise<{ url: string; drop(): Promise<void> }> {
  const name = `test_${randomBytes(6).toString('hex')}`;
  const admin = connect(setting('TEST_ADMIN_URL'));
  await admin.pool.query(`create database ${name} template ${setting('TEST_TEMPLATE')}`);
  const url = new URL(setting('TEST_ADMIN_URL'));
  url.pathname = `/${name}`;
  return {
    url: url.href,
    drop: async () => {
      await admin.pool.query(`drop database ${name} with (force)`);
      await admin.close();
    },
  };
}

/** Starts a server on a fresh clone of the sample company's database. */
export async function serveSample(
  settings: Partial<AppConfig> = {},
  log: Logger = pino({ level: 'silent' }),
): Promise<Served> {
  const { url, drop } = await cloneOfSample();
  const connections = connect(url);
  const config = {
    ...TEST_CONFIG,
    patience: { tries: 6, firstPauseMs: 5 },
    ...settings,
  };
  const { app, close } = createApp(connections, config, log);
  const server = serverOf(app);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  const origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;

  const signedIn = async (email: string, password: string): Promise<Visitor> => {
    const visitor = new Visitor(origin);
    const { status, text } = await visitor.signIn(email, password);
    if (status !== 200) throw new Error(`${email} cannot sign in: ${text}`);
    return visitor;
  };
  return {
    origin,
    connections,
    visitor: () => new Visitor(origin),
    planner: () => signedIn('planner@ondwell.example', 'plan the year'),
    colleague: async () => {
      const planner = await signedIn('planner@ondwell.example', 'plan the year');
      const person = {
        email: 'tarn@ondwell.example',
        name: 'Ilse Tarn',
        password: 'plans as well',
      };
      await planner.send('POST', `${SAMPLE}/people`, { ...person, role: 'planner' });
      return signedIn(person.email, person.password);
    },
    reader: () => signedIn('reader@ondwell.example', 'read the plan'),
    manager: () => signedIn('manager@ondwell.example', 'divide the north'),
    contributor: () => signedIn('seller@ondwell.example', 'sell in stores'),
    close: async () => {
      await close();
      server.closeAllConnections();
      await new Promise((resolve) => server.close(resolve));
      await connections.close();
      await drop();
    },
  };
}

/** A server of its own for the tests of one `describe`, with the sample company and its planner. */
export interface OnSample {
  readonly served: Served;
  /** Signed in. */
  readonly planner: Visitor;
}

/** Serves the sample before the tests of a `describe`, and ends it after them. */
export function withSample(): OnSample {
  const kept: { served?: Served; planner?: Visitor } = {};
  before(async () => {
    kept.served = await serveSample();
    kept.planner = await kept.served.planner();
  });
  after(() => kept.served?.close());
  const asked = <T>(what: T | undefined): T => {
    if (what === undefined) throw new Error('The sample is served to tests, not beside them');
    return what;
  };
  return {
    get served() {
      return asked(kept.served);
    },
    get planner() {
      return asked(kept.planner);
    },
  };
}
