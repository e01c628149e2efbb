/** Every route that is described, tried by those who may not use it. A new route cannot be forgotten. */
import { readFileSync } from 'node:fs';
import { API, MAY, ROLES, rolesPage } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, serveSample, type Served, type Visitor } from '../testing/serve.ts';

interface Described {
  paths: Record<
    string,
    Record<string, { operationId: string; 'x-access': string; requestBody?: object }>
  >;
}

describe('routes', () => {
  let served: Served;
  let routes: { method: string; path: string; name: string; access: string }[];
  before(async () => {
    served = await serveSample();
    const { body } = await served.visitor().send<Described>('GET', '/openapi.json');
    routes = Object.entries(body.paths).flatMap(([path, methods]) =>
      Object.entries(methods).map(([method, operation]) => ({
        method: method.toUpperCase(),
        path: path.replace('{workspaceId}', '1').replaceAll(/\{\w+\}/g, '1'),
        name: operation.operationId,
        access: operation['x-access'],
      })),
    );
  });
  after(() => served.close());

  async function tables(): Promise<string> {
    const { rows } = await served.connections.pool.query<{ name: string }>(`
      select table_name as name from information_schema.tables
      where table_schema = 'public' and table_name not in ('session', 'audit_event') order by 1`);
    const counts = await Promise.all(
      rows.map(async ({ name }) => {
        const query = `select count(*)::int as rows from "${name}"`;
        return { name, ...(await served.connections.pool.query<{ rows: number }>(query)).rows[0] };
      }),
    );
    const { rows: state } = await served.connections.pool.query(
      'select id, revision from workspace order by id',
    );
    return JSON.stringify([counts, state]);
  }

  it('describes itself, by OpenAPI and as a page', async () => {
    assert.isAbove(routes.length, 40);
    assert.isTrue(routes.every(({ name }) => name.length > 0));
    const page = await fetch(`${served.origin}/api/reference/`);
    assert.equal(page.status, 200);
    assert.include(await page.text(), 'Dravex');
  });

  it('answers every address by one operation', () => {
    const addresses = routes.map(({ method, path }) => `${method} ${path}`);
    assert.lengthOf(new Set(addresses), addresses.length, 'two operations share an address');
  });

  it('lets a reader write nowhere', async () => {
    const reader = await served.reader();
    const before = await tables();
    const writing = routes.filter(({ access }) => access === 'plans');
    assert.isAbove(writing.length, 20);
    for (const { method, path, name } of writing) {
      const { status, problem } = await reader.send(method, path, {});
      assert.equal(status, 403, name);
      assert.include(problem?.detail, 'planner', name);
    }
    assert.equal(await tables(), before);
  });

  it('lets each role in where the table of roles says so, and nowhere else', async () => {
    const who: Record<string, Visitor> = {
      owner: await served.planner(),
      planner: await served.colleague(),
      reader: await served.reader(),
      manager: await served.manager(),
      contributor: await served.contributor(),
    };
    assert.sameMembers(Object.keys(who), [...ROLES]);
    for (const [role, visitor] of Object.entries(who)) {
      for (const { method, path, name, access } of routes) {
        const may = (MAY as Readonly<Record<string, readonly string[] | undefined>>)[access];
        if (!may || name === 'followNotices') continue;
        // Nothing is changed by it: a body that nobody can mean.
        const body = method === 'GET' ? undefined : { 'nobody means this': true };
        // What takes no body would be done.
        if (method === 'DELETE' || (method === 'POST' && may.includes(role))) continue;
        const { status, text } = await visitor.send(method, path, body);
        const refused = status === 403 && !text.includes('your own part');
        if (may.includes(role)) assert.isFalse(refused, `${role} ${name}: ${text.slice(0, 200)}`);
        else assert.equal(status, 403, `${role} ${name}: ${text.slice(0, 200)}`);
      }
    }
  }).timeout(60_000);

  it('has the page of roles as the code has it', () => {
    const page = readFileSync(new URL('../../../docs/roles.md', import.meta.url), 'utf8');
    assert.equal(page, rolesPage(API), 'write it anew: npm run schema');
  });

  it('lets nobody in who is not signed in', async () => {
    for (const { method, path, name, access } of routes) {
      if (access === 'anybody') continue;
      const { status } = await served
        .visitor()
        .send(method, path, method === 'GET' ? undefined : {});
      assert.equal(status, 401, name);
    }
  });

  it('shows nothing of a workspace to those who are not in it', async () => {
    const planner = await served.planner();
    const made = await planner.send<{ id: number }>('POST', '/workspaces', {
      name: 'Elsewhere',
      locale: 'en-IE',
      calendar: {
        first: '2025-01',
        last: '2027-12',
        closedThrough: '2026-06',
        asOf: '2026-07-01',
        fiscalStart: 1,
      },
      currency: { code: 'EUR', minorDigits: 2 },
      dimensions: [
        { code: 'place', name: 'Place', members: [{ code: 'a', name: 'A', parent: null }] },
      ],
    });
    assert.equal(made.status, 201, made.text);
    const reader: Visitor = await served.reader();
    for (const { method, path, name, access } of routes) {
      if (access !== 'reads' && access !== 'plans') continue;
      const elsewhere = path.replace('/workspaces/1', `/workspaces/${made.body.id}`);
      const { status } = await reader.send(method, elsewhere, method === 'GET' ? undefined : {});
      assert.equal(status, 404, name);
    }
    // An id of another workspace under one's own address is not there either.
    const versions = await planner.send<{ id: number }[]>('GET', `${SAMPLE}/versions`);
    const id = versions.body[0]?.id ?? 0;
    const workspacePath = `/workspaces/${made.body.id}`;
    for (const path of [`/versions/${id}/cells`, '/imports/1', '/imports/1/problems']) {
      assert.equal((await planner.send('GET', workspacePath + path)).status, 404, path);
    }
    for (const path of [`/versions/${id}/seal`, '/imports/1/apply', '/journal/1/undo']) {
      assert.equal((await planner.send('POST', workspacePath + path)).status, 404, path);
    }
  });

  it('refuses writes without the token of the session', async () => {
    const planner = await served.planner();
    planner.csrfToken = 'another one';
    const before = await tables();
    for (const { method, path, name, access } of routes) {
      if (method === 'GET' || access === 'anybody') continue;
      assert.equal((await planner.send(method, path, {})).status, 403, name);
    }
    assert.equal(await tables(), before);
  });

  it('names unknown keys, whatever is asked', async () => {
    const planner = await served.planner();
    const wrong: [string, string, object][] = [
      ['POST', '/versions', { name: 'x', from: '2026-04', to: '2026-05', surprise: 1 }],
      ['PUT', '/drivers/discount/values', { values: [], surprise: 1 }],
      ['PUT', '/targets/2027', { objective: 5, surprise: 1 }],
      ['POST', '/versions/1/entries', { typed: [], surprise: 1 }],
      ['PATCH', '/journal/1', { why: 'x', surprise: 1 }],
    ];
    for (const [method, path, body] of wrong) {
      const { status, text } = await planner.send(method, SAMPLE + path, body);
      assert.equal(status, 400, path);
      assert.include(text, 'surprise', path);
    }
    const { status, text } = await planner.send('GET', `${SAMPLE}/journal?surprise=1`);
    assert.equal(status, 400);
    assert.include(text, 'surprise');
  });
});
