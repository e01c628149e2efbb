/** Services that mean no good, or are not well: what is asked of them has an end. */
import { once } from 'node:events';
import { createServer, type RequestListener, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { Connection, ConnectionRun } from '@dravex/contract';
import { assert } from 'chai';
import { mayBeAsked } from '../platform/networks.ts';
import { Sealer } from '../platform/sealer.ts';
import { SAMPLE, until, withSample } from '../testing/serve.ts';
import { askOutside, OutsideRefused } from './outside.ts';
import { ownerOf } from './run.ts';
import { sealOldKeys } from './store.ts';

const LOCAL = ['127.0.0.0/8', '::1'];

describe('asking outside', () => {
  const servers: Server[] = [];
  async function serving(answer: RequestListener): Promise<string> {
    const server = createServer(answer);
    servers.push(server);
    server.listen(0, '127.0.0.1');
    await once(server, 'listening');
    return `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  }
  after(() => {
    for (const server of servers) {
      server.closeAllConnections();
      server.close();
    }
  });
  const limits = { headers: {}, allowed: LOCAL, mostBytes: 1_000_000, timeoutMs: 2000 };
  const refusal = (work: Promise<unknown>): Promise<unknown> =>
    work.then(
      () => 'it answered',
      (error: unknown) => error,
    );

  it('is refused in networks of one’s own, however they are written', () => {
    for (const address of [
      ...['127.0.0.1', '10.1.2.3', '172.16.0.1', '192.168.1.1', '169.254.169.254', '0.0.0.0'],
      ...['100.64.0.1', '224.0.0.1', '255.255.255.255', '::1', '::', 'fe80::1', 'fc00::1'],
      ...['::ffff:127.0.0.1', '::ffff:10.0.0.1', '64:ff9b::7f00:1', 'not an address'],
    ]) {
      assert.isFalse(mayBeAsked(address, []), address);
    }
    assert.isTrue(mayBeAsked('93.184.216.34', []));
    assert.isTrue(mayBeAsked('2606:2800:220:1::1', []));
    assert.isTrue(mayBeAsked('10.1.2.3', ['10.1.0.0/16']));
    assert.isFalse(mayBeAsked('10.2.2.3', ['10.1.0.0/16']));
    assert.isTrue(mayBeAsked('::ffff:10.1.2.3', ['10.1.0.0/16']));
  });

  it('asks nobody where the name stands for this machine', async () => {
    let asked = 0;
    const url = await serving((_request, response) => response.end(String((asked += 1))));
    for (const host of [
      '127.0.0.1',
      'localhost',
      '0x7f.1',
      '2130706433',
      '127.1',
      '[::ffff:127.0.0.1]',
    ]) {
      const address = url.replace('127.0.0.1', host);
      const told = await refusal(askOutside(address, { ...limits, allowed: [] }));
      assert.instanceOf(told, OutsideRefused, host);
    }
    assert.equal(asked, 0);
  });

  it('ends an answer without an end, and one that drips', async () => {
    const endless = await serving((_request, response) => {
      const write = (): void => {
        while (response.write('x'.repeat(65_536)));
        response.once('drain', write);
      };
      write();
    });
    const told = await refusal(askOutside(endless, limits));
    assert.include(String(told), 'too much at once');
    const dripping = await serving((_request, response) => {
      const timer = setInterval(() => response.write(' '), 50);
      response.on('close', () => clearInterval(timer));
    });
    const start = Date.now();
    assert.notInstanceOf(await refusal(askOutside(dripping, limits)), String);
    assert.isBelow(Date.now() - start, 4000);
  });

  it('follows nothing elsewhere', async () => {
    let followed = false;
    const elsewhere = await serving((_request, response) => {
      followed = true;
      response.end('{}');
    });
    const url = await serving((_request, response) =>
      response.writeHead(302, { location: elsewhere }).end(),
    );
    assert.equal((await askOutside(url, limits)).status, 302);
    assert.isFalse(followed);
  });

  describe('by a connection', () => {
    const sample = withSample();
    const KEY = 'a-key-that-nobody-sees';
    const add = async (url: string, name = 'Feed'): Promise<string> => {
      const body = { name, url, key: KEY, everyMinutes: null };
      const made = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/connections`, body);
      assert.equal(made.status, 201, made.text);
      return `${SAMPLE}/connections/${made.body.id}`;
    };
    const lastRun = async (path: string): Promise<ConnectionRun | undefined> =>
      (await sample.planner.send<ConnectionRun[]>('GET', `${path}/runs`)).body[0];

    it('one that never ends holds up no other, and ends when it is deleted', async () => {
      let asks = 0;
      const slow = await serving(() => void (asks += 1));
      const quick = await serving((request, response) => {
        const none = { documents: [], items: [], customers: [], next: 0, more: false };
        const { pathname } = new URL(request.url ?? '', 'http://x');
        const kind = pathname.split('/').at(-1) as 'documents' | 'items' | 'customers';
        response.end(JSON.stringify({ [kind]: none[kind], next: 0, more: false }));
      });
      const slowPaths = await Promise.all([1, 2, 3, 4, 5].map((at) => add(slow, `Slow ${at}`)));
      for (const path of slowPaths) await sample.planner.send('POST', `${path}/run`);
      await until(() => asks >= 5, 'all of them are asked at once');
      const path = await add(quick, 'Quick');
      await sample.planner.send('POST', `${path}/run`);
      await until(async () => (await lastRun(path))?.state === 'done', 'the quick one is done');
      for (const one of slowPaths) {
        assert.equal((await lastRun(one))?.state, 'running');
        assert.equal((await sample.planner.send('DELETE', one)).status, 204);
      }
      const { pool } = sample.served.connections;
      await until(async () => {
        const { rows } = await pool.query(
          `select 1 from pg_stat_activity where application_name = 'dravex: a run'
           and datname = current_database()`,
        );
        return rows.length === 0;
      }, 'their runs are ended');
      const { rows } = await pool.query('select 1 from connection_run');
      assert.lengthOf(rows, 1);
    });

    it('pages without an end have one', async () => {
      let next = 0;
      const url = await serving((request, response) => {
        const documents = new URL(request.url ?? '', 'http://x').pathname.endsWith('documents');
        next += 1;
        const page = documents ? { documents: [], next, more: true } : { next: 0, more: false };
        response.end(JSON.stringify({ items: [], customers: [], ...page }));
      });
      const path = await add(url, 'Endless');
      await sample.planner.send('POST', `${path}/run`);
      await until(async () => (await lastRun(path))?.state === 'failed', 'it is ended');
      assert.include((await lastRun(path))?.message, 'without documents');
      await sample.planner.send('DELETE', path);
    });

    it('keeps its key sealed, forgets it with the address, and shows it to nobody', async () => {
      const { db, pool } = sample.served.connections;
      const url = await serving((request, response) =>
        response
          .writeHead(request.headers['x-api-key'] === KEY ? 200 : 401)
          .end('{"service":"Feed","changes":0}'),
      );
      const path = await add(url, 'Sealed');
      const kept = async (): Promise<string> =>
        (await pool.query<{ key: string }>(`select key from connection where name = 'Sealed'`))
          .rows[0]?.key ?? '';
      assert.match(await kept(), /^v1:/);
      assert.notInclude(await kept(), KEY);
      assert.equal((await sample.planner.send('POST', `${path}/test`)).status, 200);
      // What was kept before keys were sealed is sealed at the next start.
      await pool.query(`update connection set key = $1 where name = 'Sealed'`, [KEY]);
      const sealer = new Sealer('a secret only for tests');
      const seal = (key: string, id: number): string => sealer.seal(key, ownerOf(id));
      assert.equal(await sealOldKeys(db, Sealer.isSealed, seal), 1);
      assert.match(await kept(), /^v1:/);
      assert.equal((await sample.planner.send('POST', `${path}/test`)).status, 200);

      await sample.planner.send('PATCH', path, { url: `${url}/elsewhere` });
      assert.equal(await kept(), '');
      const { body } = await sample.planner.send<Connection[]>('GET', `${SAMPLE}/connections`);
      assert.isTrue(body.find(({ name }) => name === 'Sealed')?.keyMissing);
      const asked = await sample.planner.send('POST', `${path}/test`);
      assert.include(asked.problem?.detail, 'enter the key of this address');
      // Sealed for another workspace it opens nothing.
      await pool.query(`update connection set key = $1 where name = 'Sealed'`, [seal(KEY, 99)]);
      const strange = await sample.planner.send('POST', `${path}/test`);
      assert.include(strange.problem?.detail, 'Enter it again');
      const journal = await sample.planner.send('GET', `${SAMPLE}/journal`);
      assert.notInclude(journal.text, KEY);
    });
  });
});
