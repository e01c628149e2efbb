import type { Session } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('people', () => {
  const sample = withSample();

  it('have one message for a wrong address and a wrong password', async () => {
    const wrong = await sample.served.visitor().signIn('planner@ondwell.example', 'guess');
    const nobody = await sample.served.visitor().signIn('nobody@ondwell.example', 'guess');
    assert.equal(wrong.status, 401);
    const alike = { ...nobody.problem, requestId: wrong.problem?.requestId };
    assert.deepEqual(wrong.problem as object, alike);
    assert.include(wrong.problem?.detail, 'do not belong together');
  });

  it('are throttled after too many failures, and not before', async () => {
    const statuses: number[] = [];
    for (let attempt = 0; attempt < 10; attempt += 1) {
      statuses.push(
        (await sample.served.visitor().signIn('mallory@ondwell.example', 'guess')).status,
      );
    }
    assert.deepEqual(statuses, [...Array<number>(8).fill(401), 429, 429]);
    assert.equal(
      (await sample.served.visitor().signIn('planner@ondwell.example', 'plan the year')).status,
      200,
    );
  });

  it('have passwords kept as argon2id only', async () => {
    const { rows } = await sample.served.connections.pool.query<{ password_hash: string }>(
      'select password_hash from person',
    );
    assert.isTrue(rows.every(({ password_hash }) => password_hash.startsWith('$argon2id$')));
  });

  it('get a session cookie that scripts and other sites cannot use', async () => {
    const response = await fetch(`${sample.served.origin}/api/session`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ email: 'planner@ondwell.example', password: 'plan the year' }),
    });
    const [cookie = ''] = response.headers.getSetCookie();
    assert.include(cookie, 'HttpOnly');
    assert.include(cookie, 'SameSite=Strict');
    assert.include(
      response.headers.get('content-security-policy') ?? '',
      "style-src 'self' 'nonce-",
    );
  });

  it('cannot write without the token of their session', async () => {
    const { csrfToken } = sample.planner;
    sample.planner.csrfToken = 'another';
    const refused = await sample.planner.send('PUT', `${SAMPLE}/targets/2027`, { objective: 1 });
    sample.planner.csrfToken = csrfToken;
    assert.equal(refused.status, 403);
    assert.include(refused.problem?.detail, 'Reload the page');
  });

  it('find tables as they laid them out, on whatever machine, and nobody else does', async () => {
    const layout = { widths: { 'Forecast 2026-10': 140 }, folded: { forecast: ['1/5'] } };
    const kept = await sample.planner.send('PUT', '/session/layout', layout);
    assert.equal(kept.status, 204, kept.text);
    const elsewhere = sample.served.visitor();
    const again = await elsewhere.signIn('planner@ondwell.example', 'plan the year');
    assert.deepEqual((again.body as Session).layout, layout);
    const reader = await sample.served.visitor().signIn('reader@ondwell.example', 'read the plan');
    assert.deepEqual((reader.body as Session).layout, { widths: {}, folded: {} });
    const many = Object.fromEntries(Array.from({ length: 2001 }, (_, at) => [`c${at}`, 100]));
    for (const bad of [
      { widths: { a: 1 }, folded: {} },
      { widths: many, folded: {} },
      { widths: {} },
      { widths: {}, folded: { a: 'b' } },
      { ...layout, more: 1 },
    ]) {
      assert.equal((await sample.planner.send('PUT', '/session/layout', bad)).status, 400);
    }
    const nobody = await sample.served.visitor().send('PUT', '/session/layout', layout);
    assert.include([401, 403], nobody.status);
  });

  it('are nobody without a session', async () => {
    assert.equal((await sample.served.visitor().send('GET', `${SAMPLE}/plan`)).status, 401);
    assert.equal((await sample.served.visitor().send('POST', '/workspaces', {})).status, 401);
  });

  it('learn nothing of a workspace they are not in', async () => {
    const answer = await sample.planner.send('GET', '/workspaces/999/plan');
    assert.equal(answer.status, 404);
    assert.equal((await sample.planner.send('GET', '/workspaces/abc/plan')).status, 400);
  });

  it('are signed out for good', async () => {
    const visitor = await sample.served.reader();
    assert.equal((await visitor.send('GET', '/session')).status, 200);
    const { cookie } = visitor;
    assert.equal((await visitor.send('DELETE', '/session')).status, 204);
    visitor.cookie = cookie;
    assert.equal((await visitor.send('GET', '/session')).status, 401);
  });

  it('who read may read everything and write nothing', async () => {
    const reader = await sample.served.reader();
    for (const path of ['/plan', '/versions', '/imports', '/targets/2027']) {
      assert.equal((await reader.send('GET', SAMPLE + path)).status, 200, path);
    }
    const part = { kind: 'percent', percent: 1 };
    const writes: [string, string, object | string][] = [
      [
        'POST',
        '/people',
        { email: 'x@y.example', name: 'X', password: 'long enough 1', role: 'planner' },
      ],
      ['POST', '/imports', 'date,channel'],
      ['POST', '/imports/1/apply', {}],
      ['DELETE', '/imports/1', {}],
      ['POST', '/streams', { streams: [{ members: {}, method: 'volumePrice' }] }],
      [
        'POST',
        '/assumptions',
        { assumptions: [{ driver: 'discount', scope: {}, profile: { kind: 'value', value: 0 } }] },
      ],
      ['PUT', '/drivers/discount/values', { values: [] }],
      ['POST', '/versions', { name: 'Mine', from: '2026-04', to: '2026-05' }],
      ['POST', '/versions/import?name=Mine', 'month'],
      ['PUT', '/targets/2027', { objective: 1 }],
      ['POST', '/targets/2027/nodes', { parent: 1, name: 'X', kind: 'area', part }],
      ['PATCH', '/targets/2027/nodes/1', { part }],
      ['DELETE', '/targets/2027/nodes/1', {}],
    ];
    for (const [method, path, body] of writes) {
      const { status, problem } = await reader.send(method, SAMPLE + path, body);
      assert.equal(status, 403, `${method} ${path}`);
      assert.match(problem?.detail ?? '', /planner|owner/, `${method} ${path}`);
    }
  });

  it('bring in others, once', async () => {
    const person = {
      email: 'New@ondwell.example',
      name: 'New',
      password: 'long enough 1',
      role: 'reader',
    };
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/people`, person)).status, 201);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/people`, person)).status, 409);
    assert.equal(
      (await sample.served.visitor().signIn('new@ondwell.example', 'long enough 1')).status,
      200,
    );
  });
});
