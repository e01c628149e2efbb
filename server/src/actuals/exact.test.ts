import type { AddressInfo } from 'node:net';
import type {
  ConnectionRun,
  DimensionDetail,
  ImportPreview,
  WorkspacePlan,
} from '@dravex/contract';
import { actualFigures, monthText } from '@dravex/core';
import { orderBook, type FeedDocument } from '@dravex/standins';
import { assert } from 'chai';
import fc from 'fast-check';
import { SAMPLE, serveSample, until, type Served, type Visitor } from '../testing/serve.ts';
import { summaryDifferences } from './read-lines.ts';

const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number,customer,seller';
const CHANNELS = ['web', 'stores', 'trade'];
const GROUPS = ['households', 'landlords', 'offices', 'cafes'];
const CUSTOMERS = 4;
const PRODUCTS = ['carafe-brook', 'carafe-dew', 'tap-one', 'tap-duo', 'sink-base'];

/** Something that happens to what was taken in. */
type Step =
  | { kind: 'import'; rows: number; seed: number; late: boolean }
  | { kind: 'apply' | 'takeBack' | 'putAway' | 'repair' | 'turn'; which: number }
  | { kind: 'hand'; cents: number }
  | { kind: 'assign'; customer: number; member: number; from: number }
  | { kind: 'feed'; documents: number; seed: number }
  | { kind: 'undo' | 'redo' | 'merge' };

const step: fc.Arbitrary<Step> = fc.oneof(
  {
    weight: 4,
    arbitrary: fc.record({
      kind: fc.constant('import' as const),
      rows: fc.integer({ min: 1, max: 40 }),
      seed: fc.nat(9),
      late: fc.boolean(),
    }),
  },
  {
    weight: 6,
    arbitrary: fc.record({
      kind: fc.constantFrom('apply', 'apply', 'takeBack', 'putAway', 'repair', 'turn'),
      which: fc.nat(5),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant('hand' as const),
      cents: fc.integer({ min: -99_999, max: 99_999 }),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant('assign' as const),
      customer: fc.nat(CUSTOMERS - 1),
      member: fc.nat(GROUPS.length - 1),
      from: fc.nat(9),
    }),
  },
  {
    weight: 2,
    arbitrary: fc.record({
      kind: fc.constant('feed' as const),
      documents: fc.integer({ min: 1, max: 12 }),
      seed: fc.nat(4),
    }),
  },
  { weight: 2, arbitrary: fc.record({ kind: fc.constantFrom('undo', 'redo', 'merge') }) },
) as fc.Arbitrary<Step>;

/**
 * Rows of a file: the same seed gives the same documents, so that files overlap; one in seven
 * names a code that nobody knows until it is repaired, one in three follows its customer's group.
 */
function fileOf({ rows, seed, late }: { rows: number; seed: number; late: boolean }): string {
  const lines = Array.from({ length: rows }, (_, at) => {
    const n = seed * 13 + at;
    const date = late ? `2026-0${1 + (n % 9)}-${10 + (n % 18)}` : `2026-10-${10 + (n % 3)}`;
    const channel = n % 7 === 0 ? 'unheard' : CHANNELS[n % CHANNELS.length];
    const product = PRODUCTS[n % PRODUCTS.length];
    const quantity = ((n % 11) - 2) / 2;
    const group = n % 3 === 0 ? '' : 'households';
    return `${date},${channel},${product},${group},north,${quantity},${(n * 7.31 - 40).toFixed(2)},${(n * 2.07).toFixed(2)},E-${n},1,K-${n % CUSTOMERS},${n % 4 === 0 ? '' : `S${n % 3}`}`;
  });
  return [HEADER, ...lines].join('\n');
}

/** Documents of a feed: the same seed brings the same numbers again, as corrections. */
function documentsOf(
  { documents, seed }: { documents: number; seed: number },
  revision: number,
): Omit<FeedDocument, 'sequence'>[] {
  return Array.from({ length: documents }, (_, at) => {
    const n = seed * 7 + at;
    return {
      number: `X-${n}`,
      revision,
      kind: 'invoice',
      date: n % 4 === 0 ? `2026-0${1 + (n % 9)}-15` : '2026-10-09',
      channel: n % 9 === 0 ? 'unheard' : (CHANNELS[n % CHANNELS.length] ?? ''),
      customer: `K-${n % CUSTOMERS}`,
      group: 'households',
      region: 'north',
      lines: Array.from({ length: 1 + ((n + revision) % 3) }, (__, line) => ({
        line: line + 1,
        item: PRODUCTS[(n + line) % PRODUCTS.length] ?? '',
        quantity: (n % 5) - 1 + revision / 4,
        net: n * 131 - 90 + revision,
        cost: n * 60,
      })),
    };
  });
}

/** One run in which each kind of step does something. */
const EVERYTHING: Step[] = [
  ...Array.from({ length: CUSTOMERS }, (_, customer): Step => {
    return { kind: 'assign', customer, member: 0, from: 0 };
  }),
  { kind: 'import', rows: 30, seed: 3, late: true },
  { kind: 'apply', which: 0 },
  { kind: 'feed', documents: 12, seed: 1 },
  { kind: 'assign', customer: 1, member: 2, from: 3 },
  { kind: 'feed', documents: 9, seed: 1 },
  { kind: 'merge' },
  { kind: 'takeBack', which: 0 },
  { kind: 'undo' },
  { kind: 'redo' },
  { kind: 'hand', cents: 4321 },
];

describe('the monthly summary', () => {
  let served: Served;
  let planner: Visitor;
  const book = orderBook('key', []);
  let feed = '';
  before(async () => {
    served = await serveSample();
    planner = await served.planner();
    await new Promise<void>((resolve) => book.server.listen(0, '127.0.0.1', resolve));
    const { port } = book.server.address() as AddressInfo;
    const { body } = await planner.send<{ id: number }>('POST', `${SAMPLE}/connections`, {
      name: 'Feed',
      url: `http://127.0.0.1:${port}`,
      key: 'key',
      everyMinutes: null,
    });
    feed = `${SAMPLE}/connections/${body.id}`;
    await planner.send('PATCH', feed, { fields: { group: 'assigned' } });
  });
  after(async () => {
    await served.close();
    book.server.closeAllConnections();
    await new Promise((resolve) => book.server.close(resolve));
  });

  it('equals a full recount after whatever happens to files, lines and members', async () => {
    const batches: number[] = [];
    let done = 0;
    let revision = 0;
    const runs = async (): Promise<ConnectionRun[]> =>
      (await planner.send<ConnectionRun[]>('GET', `${feed}/runs`)).body;
    const send = async (method: string, path: string, body?: object | string): Promise<number> => {
      const { status } = await planner.send(method, `${SAMPLE}${path}`, body);
      assert.isBelow(status, 500, `${method} ${path}`);
      if (status < 300) done += 1;
      return status;
    };
    const run = async (one: Step): Promise<void> => {
      switch (one.kind) {
        case 'import': {
          const { body, status, text } = await planner.send<ImportPreview>(
            'POST',
            `${SAMPLE}/imports?fileName=exact.csv`,
            fileOf(one),
          );
          assert.equal(status, 201, text);
          batches.push(body.id);
          return;
        }
        case 'hand':
          await send('POST', '/hand-lines', {
            date: '2026-10-05',
            members: { channel: 'web', product: 'tap-one', group: 'households', region: 'north' },
            quantity: one.cents / 1000,
            netAmount: one.cents,
            why: 'exactness',
          });
          return;
        case 'assign':
          await send('PUT', '/dimensions/group/assignments', {
            assignments: [
              {
                customer: `K-${one.customer}`,
                member: GROUPS[one.member],
                from: `2026-0${1 + (one.from % 9)}-01`,
              },
            ],
          });
          return;
        case 'feed': {
          revision += 1;
          book.add(documentsOf(one, revision));
          const before = (await runs()).length;
          await planner.send('POST', `${feed}/run`);
          await until(async () => {
            const all = await runs();
            return all.length > before && all[0]?.state === 'done';
          }, 'the feed is read');
          done += 1;
          return;
        }
        case 'undo':
        case 'redo':
          await send('POST', `/${one.kind}`);
          return;
        case 'merge': {
          const { body } = await planner.send<DimensionDetail[]>('GET', `${SAMPLE}/dimensions`);
          const members = body.find(({ code }) => code === 'product')?.members ?? [];
          const from = members.find(({ code }) => code === 'carafe-dew');
          const into = members.find(({ code }) => code === 'carafe-brook');
          if (from && into) {
            await send('POST', `/dimensions/product/members/${from.id}/merge`, { into: into.id });
          }
          return;
        }
        default: {
          const id = batches[one.which % Math.max(1, batches.length)];
          if (id === undefined) return;
          const path = `/imports/${id}`;
          if (one.kind === 'apply') await send('POST', `${path}/apply`);
          else if (one.kind === 'takeBack') await send('POST', `${path}/take-back`);
          else if (one.kind === 'putAway') await send('DELETE', path);
          else if (one.kind === 'turn')
            await send('POST', `${path}/repair`, { turn: ['net amount'] });
          else {
            const replace = [{ field: 'channel', from: 'unheard', to: 'web' }];
            await send('POST', `${path}/repair`, { replace });
          }
        }
      }
    };
    /** Revenue in the books by combination and month in minor units: as the plan leaves out what is by hand. */
    const plannedBooks = async (): Promise<string[]> => {
      const { body } = await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
      const { combinations, first, count, measures } = actualFigures(body.plan, true);
      return combinations
        .flatMap(({ id }, place) =>
          Array.from({ length: count }, (_, t) => {
            const revenue = Math.round((measures.revenue[place * count + t] ?? 0) * 100);
            return revenue === 0 ? [] : [`${id} ${monthText(first + t)} ${revenue}`];
          }).flat(),
        )
        .sort();
    };
    /** The same, counted from the lines. */
    const keptBooks = async (): Promise<string[]> => {
      const { rows } = await served.connections.pool.query<{ cell: string }>(`
        select l.combination_id || ' ' || to_char(l.date, 'YYYY-MM') || ' ' || sum(l.net_amount) as cell
        from sales_line l join import_batch b on b.workspace_id = l.workspace_id and b.id = l.batch_id
        where l.workspace_id = 1 and b.state = 'applied' and l.origin = 'books'
        group by l.combination_id, to_char(l.date, 'YYYY-MM') having sum(l.net_amount) <> 0`);
      return rows.map(({ cell }) => cell).sort();
    };
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 6, maxLength: 14 }), async (steps) => {
        for (const one of steps) {
          await run(one);
          assert.equal(await summaryDifferences(served.connections.db, 1), 0, one.kind);
        }
        assert.deepEqual(await plannedBooks(), await keptBooks());
      }),
      { numRuns: 6, examples: [[EVERYTHING]] },
    );
    assert.isAbove(done, 10, 'most steps did something');
    const { rows } = await served.connections.pool.query<{ lines: number }>(
      `select count(*)::int as lines from sales_line where document like 'X-%'`,
    );
    assert.isAbove(rows[0]?.lines ?? 0, 10, 'the feed brought lines');
  }).timeout(120_000);
});
