import type { DimensionDetail, ImportPreview } from '@dravex/contract';
import { assert } from 'chai';
import fc from 'fast-check';
import { SAMPLE, serveSample, type Served, type Visitor } from '../testing/serve.ts';
import { summaryDifferences } from './read-lines.ts';

const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number,customer,seller';
const CHANNELS = ['web', 'stores', 'trade'];
const PRODUCTS = ['carafe-brook', 'carafe-dew', 'tap-one', 'tap-duo', 'sink-base'];

/** Something that happens to what was taken in. */
type Step =
  | { kind: 'import'; rows: number; seed: number; late: boolean }
  | { kind: 'apply' | 'takeBack' | 'putAway' | 'repair' | 'turn'; which: number }
  | { kind: 'hand'; cents: number }
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
  { weight: 2, arbitrary: fc.record({ kind: fc.constantFrom('undo', 'redo', 'merge') }) },
) as fc.Arbitrary<Step>;

/**
 * Rows of a file: the same seed gives the same documents, so that files overlap; one in seven
 * names a code that nobody knows until it is repaired.
 */
function fileOf({ rows, seed, late }: { rows: number; seed: number; late: boolean }): string {
  const lines = Array.from({ length: rows }, (_, at) => {
    const n = seed * 13 + at;
    const date = late ? `2026-0${1 + (n % 9)}-${10 + (n % 18)}` : `2026-10-${10 + (n % 3)}`;
    const channel = n % 7 === 0 ? 'unheard' : CHANNELS[n % CHANNELS.length];
    const product = PRODUCTS[n % PRODUCTS.length];
    const quantity = ((n % 11) - 2) / 2;
    return `${date},${channel},${product},households,north,${quantity},${(n * 7.31 - 40).toFixed(2)},${(n * 2.07).toFixed(2)},E-${n},1,,`;
  });
  return [HEADER, ...lines].join('\n');
}

describe('the monthly summary', () => {
  let served: Served;
  let planner: Visitor;
  before(async () => {
    served = await serveSample();
    planner = await served.planner();
  });
  after(() => served.close());

  it('equals a full recount after whatever happens to files, lines and members', async () => {
    const batches: number[] = [];
    let done = 0;
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
    await fc.assert(
      fc.asyncProperty(fc.array(step, { minLength: 6, maxLength: 14 }), async (steps) => {
        for (const one of steps) {
          await run(one);
          assert.equal(await summaryDifferences(served.connections.db, 1), 0, one.kind);
        }
      }),
      { numRuns: 6 },
    );
    assert.isAbove(done, 10, 'most steps did something');
  }).timeout(120_000);
});
