/**
 * Many people editing one workspace at once: how long their saves take, how long reads take
 * meanwhile, and that none of what they typed is lost. Each types a number every few seconds and
 * hears of the others', as a browser does. Started by `npm run bench -- load`; bounded.
 */
import { setting } from './client.ts';
import { say } from './report.ts';

const EDITORS = Number(process.env['LOAD_EDITORS'] ?? 60);
const SECONDS = Number(process.env['LOAD_SECONDS'] ?? 60);
/** Between two numbers of one person, in milliseconds. */
const PAUSE = [1000, 3000] as const;
/** Between two questions of one browser of what others changed; see `use-plan.ts` of the web. */
const TOGETHER_MS = 700;
/** Every so many numbers are typed into a cell that all of them share. */
const SHARED_EVERY = 5;

const origin = setting('BENCH_ORIGIN');
const base = '/workspaces/1';
const saves: number[] = [];
const reads: number[] = [];
let conflicts = 0;
let refused = 0;
/** What was typed into the shared cell over what: each number is typed over once, or one is lost. */
const steps: { saw: number | null; value: number }[] = [];

interface Session {
  readonly cookie: string;
  readonly token: string;
}

async function signIn(): Promise<Session> {
  const response = await fetch(`${origin}/api/session`, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({ email: setting('BENCH_EMAIL'), password: setting('BENCH_PASSWORD') }),
  });
  const cookie = response.headers.getSetCookie()[0]?.split(';')[0] ?? '';
  const { csrfToken } = (await response.json()) as { csrfToken: string };
  return { cookie, token: csrfToken };
}

const headers = ({ cookie, token }: Session): Record<string, string> => ({
  cookie,
  'x-csrf-token': token,
  'content-type': 'application/json',
});

async function timed<T>(into: number[], work: () => Promise<T>): Promise<T> {
  const start = performance.now();
  const result = await work();
  into.push(performance.now() - start);
  return result;
}

interface Plan {
  readonly revision: number;
  readonly plan: {
    readonly streams: readonly { readonly combination: number }[];
    readonly combinations: readonly { readonly id: number; readonly members: readonly number[] }[];
    readonly assumptions: readonly {
      readonly driver: string;
      readonly scope: readonly number[];
      readonly profile: { readonly kind: string; readonly values?: Record<string, number> };
    }[];
    readonly adjustments: readonly {
      readonly driver: string;
      readonly scope: readonly number[];
      readonly from: string | null;
      readonly kind: string;
      readonly value: number;
    }[];
  };
}

async function planOf(session: Session): Promise<Plan> {
  const response = await fetch(`${origin}/api${base}/plan`, { headers: headers(session) });
  return (await response.json()) as Plan;
}

const MONTHS = Array.from({ length: 12 }, (_, at) => `2027-${String(at + 1).padStart(2, '0')}`);
const DRIVER = 'discount';
const SHARED_MONTH = '2028-01';

/** What is typed at exactly a scope for a month. */
function typedAt({ plan }: Plan, scope: readonly number[], month: string): number | undefined {
  const same = (other: readonly number[]): boolean =>
    [...other].sort().join() === [...scope].sort().join();
  const over = plan.adjustments.findLast(
    (one) => one.driver === DRIVER && same(one.scope) && one.from === month && one.kind === 'set',
  );
  const below = plan.assumptions.findLast(
    ({ driver, scope: of, profile }) =>
      driver === DRIVER && same(of) && profile.values?.[month] !== undefined,
  );
  return over?.value ?? below?.profile.values?.[month];
}

async function save(
  session: Session,
  scope: readonly number[],
  month: string,
  value: number,
  saw?: number | null,
): Promise<Response> {
  const values = [{ scope, month, value, ...(saw === undefined ? {} : { saw }) }];
  const response = await timed(saves, async () => {
    const answer = await fetch(`${origin}/api${base}/drivers/${DRIVER}/values`, {
      method: 'PUT',
      headers: headers(session),
      body: JSON.stringify({ values }),
    });
    await answer.text();
    return answer;
  });
  if (response.status === 409) conflicts += 1;
  else if (!response.ok) refused += 1;
  return response;
}

/** Hears of what others type, and asks what it is: one question at a time, as a browser does. */
function follow(session: Session, from: number): () => void {
  const ending = new AbortController();
  let [revision, wanted, asked, asking] = [from, from, 0, false];
  const ask = async (): Promise<void> => {
    if (asking) return;
    asking = true;
    while (wanted > revision && !ending.signal.aborted) {
      const wait = asked + TOGETHER_MS - Date.now();
      if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
      asked = Date.now();
      await timed(reads, async () => {
        const answer = await fetch(`${origin}/api${base}/changes?since=${revision}`, {
          headers: headers(session),
        });
        ({ revision } = (await answer.json()) as { revision: number });
      }).catch(() => undefined);
    }
    asking = false;
  };
  const listen = async (): Promise<void> => {
    const response = await fetch(`${origin}/api${base}/notices`, {
      headers: headers(session),
      signal: ending.signal,
    });
    const decoder = new TextDecoder();
    for await (const bytes of response.body ?? []) {
      for (const [, told] of decoder.decode(bytes).matchAll(/"revision":(\d+)/g)) {
        wanted = Math.max(wanted, Number(told));
      }
      void ask();
    }
  };
  void listen().catch(() => undefined);
  return () => ending.abort();
}

const first = await signIn();
const start = await planOf(first);
const members = new Map(start.plan.combinations.map(({ id, members: of }) => [id, of]));
const scopes = start.plan.streams.map(({ combination }) => members.get(combination) ?? []);
const shared = scopes[EDITORS % scopes.length] ?? [];
const kept = new Map<string, { scope: readonly number[]; month: string; value: number }>();
let sharedNow = typedAt(start, shared, SHARED_MONTH) ?? null;

async function edit(session: Session, editor: number, until: number): Promise<void> {
  const stop = follow(session, start.revision);
  const scope = scopes[editor % scopes.length] ?? [];
  for (let number = 0; Date.now() < until; number += 1) {
    await new Promise((resolve) =>
      setTimeout(resolve, PAUSE[0] + Math.random() * (PAUSE[1] - PAUSE[0])),
    );
    if (number % SHARED_EVERY === SHARED_EVERY - 1) {
      // A number that nobody else types, over the one that was seen.
      const saw = sharedNow;
      const value = (1 + editor * 1000 + number) / 1e7;
      const answer = await save(session, shared, SHARED_MONTH, value, saw);
      if (answer.ok) {
        steps.push({ saw, value });
        sharedNow = value;
      } else if (answer.status === 409) {
        sharedNow = typedAt(await planOf(session), shared, SHARED_MONTH) ?? null;
      }
      continue;
    }
    const month = MONTHS[number % MONTHS.length] ?? '';
    const value = Math.round((0.01 + ((editor * 97 + number) % 3000) / 10_000) * 10_000) / 10_000;
    const answer = await save(session, scope, month, value);
    if (answer.ok) kept.set(`${editor} ${month}`, { scope, month, value });
  }
  stop();
}

const sessions: Session[] = [];
for (let editor = 0; editor < EDITORS; editor += 1) sessions.push(await signIn());
const until = Date.now() + SECONDS * 1000;
await Promise.all(sessions.map((session, editor) => edit(session, editor, until)));

const after = await planOf(first);
const lost = [...kept.values()].filter(
  ({ scope, month, value }) => typedAt(after, scope, month) !== value,
);
const overwritten = steps.length - new Set(steps.map(({ saw }) => saw)).size;
const last = typedAt(after, shared, SHARED_MONTH);
const isLast = steps.length === 0 || steps.some(({ value }) => value === last);

const at = (times: number[], share: number): string => {
  const sorted = times.toSorted((a, b) => a - b);
  return `${(sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? NaN).toFixed(0)} ms`;
};
const told = (name: string, times: number[]): void =>
  say(
    `  ${name.padEnd(8)} ${String(times.length).padStart(6)}, ${(times.length / SECONDS).toFixed(1)} a second: p50 ${at(times, 0.5)}, p95 ${at(times, 0.95)}, p99 ${at(times, 0.99)}, longest ${at(times, 1)}`,
  );
say(`${EDITORS} people editing one workspace for ${SECONDS} s`);
told('saves', saves);
told('reads', reads);
say(`  ${conflicts} met somebody else's number, ${refused} were refused`);
say(`  ${lost.length} of ${kept.size} numbers lost`);
say(`  ${overwritten} of ${steps.length} numbers of the shared cell overwritten unseen`);
if (lost.length > 0 || overwritten > 0 || !isLast || refused > 0) process.exitCode = 1;
