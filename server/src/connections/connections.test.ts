import type { AddressInfo } from 'node:net';
import type { Connection, ConnectionRun, HeldDocument } from '@dravex/contract';
import { orderBook, sampleDocuments, type FeedDocument, type OrderBook } from '@dravex/standins';
import { assert } from 'chai';
import { summaryDifferences } from '../actuals/read-lines.ts';
import { SAMPLE, serveSample, until, type Served, type Visitor } from '../testing/serve.ts';

const KEY = 'the order book’s key'.replaceAll(/[^a-z]/g, '-');

/** What the feed comes to: the newest revision of each document that is known all through. */
function expected(documents: readonly FeedDocument[], isKnownItem: (item: string) => boolean) {
  const newest = new Map(documents.map((document) => [document.number, document]));
  const kept = [...newest.values()].filter(({ lines }) =>
    lines.every(({ item }) => isKnownItem(item)),
  );
  const lines = kept.flatMap((document) => document.lines);
  return {
    lines: lines.length,
    revenue: lines.reduce((sum, { net }) => sum + net, 0),
    held: newest.size - kept.length,
  };
}

describe('a connected order book', () => {
  let served: Served;
  let planner: Visitor;
  let book: OrderBook;
  let path = '';
  before(async () => {
    served = await serveSample();
    planner = await served.planner();
    book = orderBook(KEY, sampleDocuments(200));
    await new Promise<void>((resolve) => book.server.listen(0, '127.0.0.1', resolve));
    const url = `http://127.0.0.1:${(book.server.address() as AddressInfo).port}`;
    const made = await planner.send<{ id: number }>('POST', `${SAMPLE}/connections`, {
      name: 'Order book',
      url,
      key: KEY,
      everyMinutes: 60,
    });
    assert.equal(made.status, 201, made.text);
    path = `${SAMPLE}/connections/${made.body.id}`;
  });
  after(async () => {
    await served.close();
    book.server.closeAllConnections();
    await new Promise((resolve) => book.server.close(resolve));
  });

  const runs = async (): Promise<ConnectionRun[]> =>
    (await planner.send<ConnectionRun[]>('GET', `${path}/runs`)).body;
  const state = async (): Promise<Connection> => {
    const { body } = await planner.send<Connection[]>('GET', `${SAMPLE}/connections`);
    const [connection] = body;
    assert.isDefined(connection);
    return connection as Connection;
  };
  const run = async (): Promise<ConnectionRun> => {
    const before = (await runs()).length;
    assert.equal((await planner.send('POST', `${path}/run`)).status, 204);
    await until(async () => {
      const all = await runs();
      return all.length > before && all[0]?.state !== 'running';
    }, 'the run ends');
    const [last] = await runs();
    return last as ConnectionRun;
  };
  const kept = async () => {
    const { rows } = await served.connections.pool.query<{ lines: number; revenue: number }>(
      `select count(*)::int as lines, coalesce(sum(net_amount), 0)::float8 as revenue
       from sales_line where document like '%(feed %'`,
    );
    assert.equal(await summaryDifferences(served.connections.db, 1), 0);
    return rows[0];
  };

  it('says whether it is there and takes the key, and never shows the key again', async () => {
    const tested = await planner.send<{ message: string }>('POST', `${path}/test`);
    assert.include(tested.body.message, '200 changes');
    const listed = await planner.send('GET', `${SAMPLE}/connections`);
    assert.notInclude(listed.text, KEY);
    const journal = await planner.send('GET', `${SAMPLE}/journal`);
    assert.notInclude(journal.text, KEY);
    await planner.send('PATCH', path, { key: 'wrong' });
    const refused = await planner.send('POST', `${path}/test`);
    assert.equal(refused.status, 409);
    assert.include(refused.problem?.detail, 'does not accept the key');
    await planner.send('PATCH', path, { key: KEY });
  });

  it('brings everything once, through failures, broken answers and a rate limit', async () => {
    Object.assign(book.faults, { failEvery: 3, breakEvery: 5, rateLimit: 4 });
    const last = await run();
    assert.equal(last.state, 'done', last.message);
    const { lines, revenue, held } = expected(book.documents, (item) => item !== 'cart-mini');
    assert.deepEqual(await kept(), { lines, revenue });
    assert.equal(last.revenue, revenue);
    assert.isAbove(last.replaced + last.added, 100);
    assert.isAbove(held, 0);
    assert.equal((await state()).held, held);
    Object.assign(book.faults, { failEvery: 0, breakEvery: 0, rateLimit: 0 });

    const again = await run();
    assert.deepInclude(again, { state: 'done', added: 0, replaced: 0, revenue: 0 });
    assert.deepEqual(await kept(), { lines, revenue });
  });

  it('takes what waited for a code once the code is there', async () => {
    const { body } = await planner.send<HeldDocument[]>('GET', `${path}/held`);
    assert.include(body[0]?.reason, '"cart-mini" is not a code of Product');
    const named = { dimension: 'product', value: 'cart-mini', name: 'Mini cartridge' };
    assert.deepInclude(body[0], named, 'as the items of the feed call it');
    const settle = (as: object, value = 'cart-mini') =>
      planner.send('POST', `${path}/settle`, { dimension: 'product', value, as });
    const nowhere = await settle({ kind: 'standsFor', member: 'nowhere' });
    assert.include(nowhere.problem?.detail, '"nowhere" is not a code of Product');
    const odd = await settle({ kind: 'new', name: 'Odd', parent: null }, 'with a space');
    assert.include(odd.problem?.detail, 'cannot be a member');
    const before = (await runs()).length;
    const made = await settle({ kind: 'new', name: 'Mini cartridge', parent: null });
    assert.equal(made.status, 204, made.text);
    await until(async () => {
      const all = await runs();
      return all.length > before && all[0]?.state !== 'running';
    }, 'what waited is taken in at once');
    const { lines, revenue } = expected(book.documents, () => true);
    assert.deepEqual(await kept(), { lines, revenue });
    assert.equal((await state()).held, 0);
  });

  it('reads customers and items by pages, each once', async () => {
    const { items, customers } = await state();
    assert.equal(items, book.items.length);
    assert.equal(customers, book.customers.length);
  });

  it('follows what is said to name the members: a field, the customer’s group, or always one', async () => {
    const refused = await planner.send('PATCH', path, { fields: { region: { member: 'moon' } } });
    assert.equal(refused.status, 400);
    assert.include(refused.problem?.detail, '"moon" is not a code of Region');
    const unknown = await planner.send('PATCH', path, { fields: { colour: 'item' } });
    assert.include(unknown.problem?.detail, 'no dimension "colour"');
    await planner.send('PATCH', path, {
      fields: { region: { member: 'capital' }, group: 'assigned' },
    });
    const customer = book.customers.find(({ group }) => group === 'landlords');
    const [first] = book.documents;
    assert.isDefined(customer);
    assert.isDefined(first);
    const { sequence: _, ...document } = first as FeedDocument;
    const shared = { ...document, region: 'north', group: 'households' };
    book.add([
      { ...shared, number: 'F-90001', customer: customer?.code ?? '' },
      { ...shared, number: 'F-90002', customer: 'C-nobody' },
    ]);
    assert.deepInclude(await run(), { state: 'done', added: 1, held: 1 });
    const { rows } = await served.connections.pool.query<{ codes: string[] }>(
      `select array(select m.code from unnest(c.members) u(id) join member m on m.id = u.id) as codes
       from sales_line l join combination c on c.id = l.combination_id
       where l.document like 'F-90001 %' limit 1`,
    );
    assert.includeMembers(rows[0]?.codes ?? [], ['capital', 'landlords']);
    const { body } = await planner.send<HeldDocument[]>('GET', `${path}/held`);
    assert.include(body[0]?.reason, 'Customer "C-nobody" belongs to no member of Customer group');
    assert.isNull(body[0]?.dimension);
    await planner.send('PATCH', path, { fields: { region: 'region', group: 'group' } });
    assert.deepInclude(await run(), { state: 'done', held: 0 });
  });

  it('puts a late correction in place of what was there', async () => {
    const [first] = book.documents;
    assert.isDefined(first);
    const { sequence: _, ...document } = first as FeedDocument;
    const lines = document.lines.map((line) => ({ ...line, net: line.net + 500 }));
    book.add([{ ...document, revision: 99, lines }]);
    const last = await run();
    assert.deepInclude(last, { added: 0, replaced: 1 });
    const { revenue } = expected(book.documents, () => true);
    assert.equal((await kept())?.revenue, revenue);
  });

  it('says since when it is away, loses nothing, and catches up', async () => {
    book.faults.down = true;
    const failed = await run();
    assert.equal(failed.state, 'failed');
    assert.include(failed.message, 'cannot be reached');
    const away = await state();
    assert.isNotNull(away.awaySince);
    assert.isNotNull(away.nextRunAt, 'it tries again by itself');
    await run();
    assert.equal((await state()).awaySince, away.awaySince, 'since the first time');

    const [, second] = book.documents;
    const { sequence: _, ...document } = second as FeedDocument;
    book.add([{ ...document, number: 'F-99999', revision: 1 }]);
    book.faults.down = false;
    const back = await run();
    assert.deepInclude(back, { state: 'done', added: 1 });
    assert.isNull((await state()).awaySince);
    const { lines, revenue } = expected(book.documents, () => true);
    assert.deepEqual(await kept(), { lines, revenue });
  });

  it('stops when asked to, keeps what came, and goes on from there', async () => {
    const MANY = 400;
    const idle = await planner.send('POST', `${path}/stop`);
    assert.equal(idle.status, 409);
    assert.equal(idle.problem?.detail, 'Nothing is being imported from Order book');
    book.add(
      sampleDocuments(MANY).map(({ sequence: _, ...document }, place) => ({
        ...document,
        number: `G-${place}`,
        revision: 1,
      })),
    );
    // One request a second: there is time to stop between two pages.
    book.faults.rateLimit = 1;
    const before = (await runs()).length;
    await planner.send('POST', `${path}/run`);
    await until(async () => {
      const all = await runs();
      return all.length > before && (all[0]?.added ?? 0) > 0;
    }, 'a page came');
    assert.equal((await planner.send('POST', `${path}/stop`)).status, 204);
    await until(async () => (await runs())[0]?.state === 'stopped', 'it stops');
    const [stopped] = await runs();
    assert.include(stopped?.message, 'what it had imported is kept');
    assert.isBelow(stopped?.added ?? 0, MANY);
    assert.isFalse((await state()).running);
    book.faults.rateLimit = 0;
    const rest = await run();
    assert.deepInclude(rest, { state: 'done', added: MANY - (stopped?.added ?? 0) });
    const { lines, revenue } = expected(book.documents, () => true);
    assert.deepEqual(await kept(), { lines, revenue });
  }).timeout(30_000);

  it('runs by itself when its time has come', async () => {
    const before = (await runs()).length;
    await served.connections.pool.query('update connection set next_run_at = now()');
    await until(async () => (await runs()).length > before, 'it ran');
  }).timeout(30_000);

  it('says so when its server ended in the middle, and goes on with the next run', async () => {
    const id = Number(path.split('/').at(-1));
    const { pool } = served.connections;
    await until(async () => (await runs())[0]?.state !== 'running', 'nothing runs');
    // What a killed server leaves behind: a run that goes on, a page that was taken, a cursor.
    await pool.query(
      `insert into connection_run (workspace_id, connection_id, state) values (1, $1, 'running')`,
      [id],
    );
    const [dead] = await runs();
    assert.equal(dead?.state, 'failed');
    assert.include(dead?.message, 'The server ended while this ran');
    await pool.query('update connection set cursor = cursor - 30');
    const before = await kept();
    const again = await run();
    assert.deepInclude(again, { state: 'done', added: 0, replaced: 0, revenue: 0 });
    assert.deepEqual(await kept(), before, 'pages that come again do nothing twice');
  });

  it('refuses addresses that are none, and readers', async () => {
    for (const url of [
      'ftp://erp.example',
      'javascript:alert(1)',
      'no address',
      'file:///etc/passwd',
    ]) {
      const body = { name: 'x', url, key: 'k' };
      assert.equal((await planner.send('POST', `${SAMPLE}/connections`, body)).status, 400, url);
    }
    const reader = await served.reader();
    assert.equal((await reader.send('POST', `${path}/run`)).status, 403);
  });
});
