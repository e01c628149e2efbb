/** What senders do to a server that takes files: stall, send too much, ask first, give up. */
import { createConnection } from 'node:net';
import { once } from 'node:events';
import { readdir } from 'node:fs/promises';
import type { AddressInfo } from 'node:net';
import { hostname, tmpdir, userInfo } from 'node:os';
import { join } from 'node:path';
import { assert } from 'chai';
import express from 'express';
import { pino } from 'pino';
import { serverOf } from '../api/server.ts';
import { problemHandler } from '../platform/http.ts';
import { SAMPLE, until, withSample } from '../testing/serve.ts';
import { hearsSender } from './receive.ts';

const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number';
const row = (document: string): string =>
  `2026-10-05,web,tap-one,households,north,1,70.00,30.00,${document},1`;

/** Speaks HTTP by hand: sends what it is told, and keeps what it hears. */
async function speak(origin: string): Promise<{
  say(text: string): void;
  heard(): string;
  end(): void;
}> {
  const { port } = new URL(origin);
  const socket = createConnection(Number(port), '127.0.0.1');
  await once(socket, 'connect');
  let heard = '';
  socket.on('data', (bytes) => (heard += String(bytes)));
  socket.on('error', () => undefined);
  return {
    say: (text) => void socket.write(text),
    heard: () => heard,
    end: () => socket.destroy(),
  };
}

describe('what is sent', () => {
  const sample = withSample();
  const head = (path: string, more: string, type = 'text/csv'): string =>
    `POST /api${SAMPLE}${path} HTTP/1.1\r\nhost: x\r\ncookie: ${sample.planner.cookie}\r\nx-csrf-token: ${sample.planner.csrfToken}\r\ncontent-type: ${type}\r\n${more}\r\n\r\n`;

  it('twelve uploads that stall keep nobody else waiting, and leave nothing', async () => {
    const stalled = await Promise.all(
      Array.from({ length: 12 }, async (_, at) => {
        const sender = await speak(sample.served.origin);
        sender.say(head(`/imports?fileName=stalled-${at}.csv`, 'content-length: 100000'));
        sender.say(`${HEADER}\n${row(`S-${at}`)}\n`);
        return sender;
      }),
    );
    const file = Buffer.from(`${HEADER}\n${row('Q-1')}\n`);
    const sent = await sample.planner.sendFile(`${SAMPLE}/imports?fileName=quick.csv`, file);
    assert.equal(sent.status, 201, sent.text);
    for (const { end } of stalled) end();
    const own = join(
      tmpdir(),
      `dravex-work-${userInfo().uid}`,
      `${hostname().replaceAll(/[^\w.]/g, '_')}-${process.pid}`,
    );
    await until(async () => (await readdir(own)).length === 0, 'what was sent is gone');
    const { body } = await sample.planner.send<{ fileName: string }[]>('GET', `${SAMPLE}/imports`);
    assert.isFalse(body.some(({ fileName }) => fileName.startsWith('stalled')));
  });

  it('a length that is too large is refused before it is sent', async () => {
    const sender = await speak(sample.served.origin);
    const length = `content-length: ${3 * 1024 ** 3}\r\nexpect: 100-continue`;
    sender.say(head('/imports?fileName=large.csv', length));
    await until(() => sender.heard().includes('are accepted'), 'it is refused');
    assert.match(sender.heard(), /^HTTP\/1.1 413 /);
    assert.include(sender.heard(), 'larger than the 2 GB');
    sender.end();
    // JSON as well, and a file that is taken whole.
    const body = await speak(sample.served.origin);
    body.say(
      head('/versions', 'content-length: 2000000\r\nexpect: 100-continue', 'application/json'),
    );
    await until(() => body.heard().includes('larger than the 1 MB'), 'the body is refused');
    body.end();
  });

  it('who asks before sending is told to go on', async () => {
    const sender = await speak(sample.served.origin);
    const file = `${HEADER}\n${row('C-1')}\n`;
    sender.say(
      head('/imports?fileName=asked.csv', `content-length: ${file.length}\r\nexpect: 100-continue`),
    );
    await until(() => sender.heard().startsWith('HTTP/1.1 100 '), 'it is asked for');
    sender.say(file);
    await until(() => sender.heard().includes('HTTP/1.1 201 '), 'it is taken');
    sender.end();
    // Whoever may not is told so instead.
    const stranger = await speak(sample.served.origin);
    stranger.say(
      `POST /api${SAMPLE}/imports?fileName=x.csv HTTP/1.1\r\nhost: x\r\ncontent-length: 5\r\nexpect: 100-continue\r\n\r\n`,
    );
    await until(() => stranger.heard().includes('HTTP/1.1 '), 'it is answered');
    assert.match(stranger.heard(), /^HTTP\/1.1 401 /);
    stranger.end();
  });

  it('the same file sent again under its key is taken once', async () => {
    const file = Buffer.from(`${HEADER}\n${row('K-1')}\n`);
    const keyed = () =>
      sample.planner.send<{ id: number }>('POST', `${SAMPLE}/imports?fileName=again.csv`, file, {
        'content-type': 'text/csv',
        'idempotency-key': 'the-same-file-again',
      });
    const [first, second] = [await keyed(), await keyed()];
    assert.equal(first.status, 201, first.text);
    assert.equal(second.body.id, first.body.id);
  });

  it('silence ends a request with a reason; a slow line does not', async () => {
    const app = express();
    app.use(hearsSender(200));
    app.post('/', async (request, response) => {
      let size = 0;
      for await (const chunk of request) size += (chunk as Buffer).length;
      response.json({ size });
    });
    app.use(problemHandler(pino({ level: 'silent' })));
    const server = serverOf(app);
    await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
    const origin = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
    const start = 'POST / HTTP/1.1\r\nhost: x\r\ncontent-length: 10\r\n\r\n';
    const slow = await speak(origin);
    slow.say(start);
    for (let sent = 0; sent < 10; sent += 1) {
      slow.say('x');
      await new Promise((resolve) => setTimeout(resolve, 60));
    }
    await until(() => slow.heard().includes('{"size":10}'), 'the slow one is answered');
    const silent = await speak(origin);
    silent.say(`${start}x`);
    await until(() => silent.heard().includes('Send it again'), 'the silent one is told');
    assert.match(silent.heard(), /^HTTP\/1.1 408 /);
    slow.end();
    silent.end();
    server.closeAllConnections();
    server.close();
  });
});
