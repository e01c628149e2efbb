/** A database that goes silent, a disk that is full, servers that start at once. */
import { randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { connect as connectTo, createServer, type AddressInfo, type Socket } from 'node:net';
import { assert } from 'chai';
import express from 'express';
import { pino } from 'pino';
import { startServer } from '../../../scripts/application.mjs';
import { createDatabase, dropDatabase } from '../../../scripts/databases.mjs';
import { diskFull } from '../platform/errors.ts';
import { problemHandler } from '../platform/http.ts';
import { keepUpload } from '../platform/keep-upload.ts';
import { cloneOfSample, SAMPLE, until, Visitor, withSample } from './serve.ts';

/** A line to a database that can be frozen: what is said on it arrives when it thaws. */
async function lineTo(url: string): Promise<{
  url: string;
  freeze(): void;
  thaw(): void;
  close(): Promise<void>;
}> {
  const to = new URL(url);
  const sockets = new Set<Socket>();
  let frozen = false;
  const server = createServer((from) => {
    const on = connectTo(Number(to.port), to.hostname);
    for (const socket of [from, on]) {
      sockets.add(socket);
      socket.on('error', () => undefined);
      socket.on('close', () => {
        sockets.delete(socket);
        from.destroy();
        on.destroy();
      });
    }
    from.on('data', (bytes) => on.write(bytes));
    on.on('data', (bytes) => from.write(bytes));
    if (frozen) for (const socket of [from, on]) socket.pause();
  });
  server.listen(0, '127.0.0.1');
  await once(server, 'listening');
  const own = new URL(url);
  own.port = String((server.address() as AddressInfo).port);
  return {
    url: own.href,
    freeze: () => {
      frozen = true;
      for (const socket of sockets) socket.pause();
    },
    thaw: () => {
      frozen = false;
      for (const socket of sockets) socket.resume();
    },
    close: async () => {
      for (const socket of sockets) socket.destroy();
      await new Promise((resolve) => server.close(resolve));
    },
  };
}

describe('a database that is frozen', () => {
  it('is told within five seconds, also to who waits already, and is back by itself', async () => {
    const { url, drop } = await cloneOfSample();
    const line = await lineTo(url);
    const server = await startServer({ databaseUrl: line.url, webFolder: '', logLevel: 'silent' });
    try {
      const visitor = new Visitor(`http://127.0.0.1:${server.port}`);
      assert.equal((await visitor.signIn('planner@ondwell.example', 'plan the year')).status, 200);
      line.freeze();
      const start = Date.now();
      const body = { values: [{ scope: [], month: '2028-02', value: 0.03 }] };
      const asked = await Promise.all([
        visitor.send('GET', `${SAMPLE}/plan`),
        visitor.send('PUT', `${SAMPLE}/drivers/discount/values`, body),
        ...Array.from({ length: 20 }, () => visitor.send('GET', `${SAMPLE}/versions`)),
      ]);
      assert.isBelow(Date.now() - start, 5500);
      for (const { status, text } of asked) assert.equal(status, 503, text);
      const root = new URL(visitor.address('/')).origin;
      assert.equal((await fetch(`${root}/health`)).status, 200, 'the server itself runs');
      assert.equal((await fetch(`${root}/ready`)).status, 503);
      // Whoever asks now need not wait.
      const again = Date.now();
      assert.equal((await visitor.send('GET', `${SAMPLE}/plan`)).status, 503);
      assert.isBelow(Date.now() - again, 1000);
      line.thaw();
      await until(async () => (await fetch(`${root}/ready`)).status === 200, 'it is back');
      assert.equal((await visitor.send('GET', `${SAMPLE}/plan`)).status, 200);
      const typed = await visitor.send('PUT', `${SAMPLE}/drivers/discount/values`, body);
      assert.equal(typed.status, 200, typed.text);
    } finally {
      await line.close();
      await server.stop();
      await drop();
    }
  }).timeout(60_000);
});

describe('servers that start at once', () => {
  it('on an empty database all come up', async () => {
    const admin = process.env['TEST_ADMIN_URL'] ?? '';
    const name = `starts_${randomBytes(6).toString('hex')}`;
    await createDatabase(admin, name);
    const url = new URL(admin);
    url.pathname = `/${name}`;
    try {
      const servers = await Promise.all(
        Array.from({ length: 4 }, () => startServer({ databaseUrl: url.href, webFolder: '' })),
      );
      for (const { port } of servers) {
        assert.equal((await fetch(`http://127.0.0.1:${port}/ready`)).status, 200);
      }
      await Promise.all(servers.map((server) => server.stop()));
    } finally {
      await dropDatabase(admin, name);
    }
  }).timeout(60_000);
});

describe('a disk that is full', () => {
  const sample = withSample();

  it('of the server is said, where a file is sent', async () => {
    async function* file(): AsyncGenerator<Buffer> {
      yield Buffer.alloc(100_000);
    }
    const app = express();
    app.get('/', async () => {
      // What is written there finds a disk without room.
      await keepUpload(file(), '/dev/full', { bytes: 1e9, said: '' });
    });
    app.use(problemHandler(pino({ level: 'silent' })));
    const server = app.listen(0, '127.0.0.1');
    await once(server, 'listening');
    const answer = await fetch(`http://127.0.0.1:${(server.address() as AddressInfo).port}/`);
    assert.equal(answer.status, 507);
    assert.equal(((await answer.json()) as { detail: string }).detail, diskFull().message);
    server.close();
  });

  it('of the database is said, and nothing is changed', async () => {
    const { pool } = sample.served.connections;
    await pool.query(`create function full_disk() returns trigger language plpgsql as
      $$ begin raise exception 'no space left on device' using errcode = '53100'; end $$`);
    await pool.query(
      'create trigger full_disk before insert on assumption execute function full_disk()',
    );
    const body = { scope: [], profile: { kind: 'value', value: 0.02 } };
    const path = `${SAMPLE}/drivers/discount/assumptions`;
    const refused = await sample.planner.send('POST', path, body);
    assert.equal(refused.status, 507, refused.text);
    assert.include(refused.problem?.detail, 'no room left on its disk; nothing was changed');
    await pool.query('drop trigger full_disk on assumption');
    assert.equal((await sample.planner.send('POST', path, body)).status, 201);
  });
});

describe('a process on a replica', () => {
  it('answers reporting tools, writes nothing, and lets nobody sign in', async () => {
    const { url, drop } = await cloneOfSample();
    const writing = await startServer({ databaseUrl: url, webFolder: '' });
    const planner = new Visitor(`http://127.0.0.1:${writing.port}`);
    await planner.signIn('planner@ondwell.example', 'plan the year');
    const made = await planner.send<{ token: string }>('POST', `${SAMPLE}/tokens`, { name: 'x' });
    const replica = new URL(url);
    replica.searchParams.set('options', '-c default_transaction_read_only=on');
    process.env['READ_ONLY'] = '1';
    const reading = await startServer({ databaseUrl: replica.href, webFolder: '' });
    delete process.env['READ_ONLY'];
    try {
      const root = `http://127.0.0.1:${reading.port}`;
      const headers = { authorization: `Bearer ${made.body.token}` };
      for (const table of ['actuals', 'forecast', 'targets']) {
        const query = table === 'targets' ? 'fiscalYear=2027' : 'from=2026-04&to=2026-06';
        const answer = await fetch(`${root}/api/reporting/${table}?${query}`, { headers });
        assert.equal(answer.status, 200, await answer.text());
      }
      assert.equal((await fetch(`${root}/ready`)).status, 200);
      const nobody = new Visitor(root);
      const { status } = await nobody.signIn('planner@ondwell.example', 'plan the year');
      assert.equal(status, 404);
    } finally {
      await reading.stop();
      await writing.stop();
      await drop();
    }
  }).timeout(60_000);
});
