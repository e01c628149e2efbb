import { assert } from 'chai';
import { ApiProblem, request, sitDown, sitting, whenReached } from './api.ts';

interface Sent {
  readonly path: string;
  readonly key: string | undefined;
}

/** A server that answers as it is told, one answer a request; the last one again and again. */
function answering(answers: readonly (number | 'gone')[]): Sent[] {
  const sent: Sent[] = [];
  const fake = (
    path: string,
    { headers }: { headers: Record<string, string> },
  ): Promise<Response> => {
    const answer = answers[Math.min(sent.length, answers.length - 1)] ?? 200;
    sent.push({ path, key: headers['idempotency-key'] });
    if (answer === 'gone') return Promise.reject(new TypeError('no network'));
    const body =
      answer >= 400 ? { title: 'x', status: answer, type: 'x', detail: 'said' } : { id: 1 };
    return Promise.resolve(new Response(JSON.stringify(body), { status: answer }));
  };
  Object.assign(globalThis, { fetch: fake });
  return sent;
}

describe('a request to the server', () => {
  const [fetched, page] = [globalThis.fetch, 'window' in globalThis];
  const kept = new Map<string, string>();
  before(() => {
    const sessionStorage = {
      getItem: (name: string) => kept.get(name) ?? null,
      setItem: (name: string, value: string) => kept.set(name, value),
      removeItem: (name: string) => kept.delete(name),
    };
    Object.assign(globalThis, { sessionStorage, window: new EventTarget() });
  });
  after(() => {
    Object.assign(globalThis, { fetch: fetched });
    if (!page) Reflect.deleteProperty(globalThis, 'window');
  });

  it('is sent again under its own key until it is answered, and says that it waits', async () => {
    const heard: boolean[] = [];
    whenReached((reached) => heard.push(reached));
    const sent = answering(['gone', 503, 'gone', 'gone', 'gone', 'gone', 200]);
    // The connection is back before the pause is over.
    const back = setInterval(() => window.dispatchEvent(new Event('online')), 50);
    await request('PUT', '/x', {}, { patient: true });
    clearInterval(back);
    assert.lengthOf(sent, 7);
    assert.lengthOf(new Set(sent.map(({ key }) => key)), 1);
    assert.isFalse(heard[0]);
    assert.isTrue(heard.at(-1));
  });

  it('without patience gives up and says so; a refusal is never sent again', async () => {
    const sent = answering([422]);
    const problem = await request('PUT', '/x', {}, { patient: true }).catch(
      (error: unknown) => error,
    );
    assert.instanceOf(problem, ApiProblem);
    assert.equal(problem.message, 'said');
    assert.lengthOf(sent, 1);
    answering(['gone']);
    const gone = await request('GET', '/x').catch((error: unknown) => error);
    assert.instanceOf(gone, ApiProblem);
    assert.equal(gone.status, 0);
  });

  it('bears the sitting in its key: another one after a new sign-in', async () => {
    const first = sitting();
    const sent = answering([200]);
    await request('POST', '/x');
    await request('POST', '/x');
    await request('GET', '/x');
    assert.isTrue(sent[0]?.key?.startsWith(`${first}.`));
    assert.notEqual(sent[0]?.key, sent[1]?.key);
    assert.isUndefined(sent[2]?.key);
    sitDown();
    assert.notEqual(sitting(), first);
  });
});
