import type {
  Changes,
  ComparisonAnswer,
  TypingResult,
  VersionCells,
  WorkspacePlan,
} from '@dravex/contract';
import {
  ACTUAL,
  FORECAST,
  inBooks,
  monthFrom,
  versionSource,
  type RecordedMonths,
  type Table,
} from '@dravex/core';
import { assert } from 'chai';
import {
  SAMPLE,
  serveSample,
  type Served,
  type Visitor,
} from '../../../server/src/testing/serve.ts';
import { startComputation } from './computation.ts';

const span = { from: monthFrom('2026-04'), to: monthFrom('2027-03') };
const query = {
  measure: 'revenue',
  rows: ['channel', 'product'],
  columns: 'time',
  scope: [],
  span,
  grain: 'month',
} as const;
/** The months of it that are closed. */
const closed = { from: span.from, to: monthFrom('2026-09') };
const ADDRESS = 'rows=channel,product&from=2026-04&to=2027-03';

describe('the computation of the browser', () => {
  let served: Served;
  let planner: Visitor;
  const computation = startComputation();
  before(async () => {
    served = await serveSample();
    planner = await served.planner();
    const { body } = await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    assert.isEmpty(computation.load(body));
    const cells = await planner.send<VersionCells>('GET', `${SAMPLE}/versions/1/cells`);
    computation.setVersion({ id: 1 }, 0, cells.body);
    await recorded();
  });
  after(() => served.close());
  /** Who came and who left is among the drivers of revenue. */
  async function recorded(): Promise<void> {
    const { body } = await planner.send<RecordedMonths>('GET', `${SAMPLE}/subscribers/months`);
    computation.setRecorded(body);
  }

  const asSent = (value: unknown): unknown => JSON.parse(JSON.stringify(value));
  const sameAsServer = async (): Promise<void> => {
    const { body } = await planner.send<Table>('GET', `${SAMPLE}/table?${ADDRESS}`);
    assert.deepEqual(asSent(computation.table(FORECAST, query)), body);
  };

  it('has the server’s numbers, for the forecast, a version and a comparison', async () => {
    await sameAsServer();
    const version = await planner.send<Table>('GET', `${SAMPLE}/table?${ADDRESS}&version=1`);
    assert.deepEqual(asSent(computation.table(versionSource(1), query)), version.body);
    const comparison = await planner.send<ComparisonAnswer>(
      'GET',
      `${SAMPLE}/comparison?${ADDRESS}&version=1`,
    );
    const own = computation.compare(ACTUAL, versionSource(1), query, closed);
    const { names, ...told } = comparison.body;
    assert.deepEqual(asSent(own), told);
    assert.deepEqual(names, { actual: 'Actual', plan: 'Budget FY 2027', beside: [] });
  });

  it('has the server’s numbers of what is in the books, and marks what is by hand only', async () => {
    // Where the books have nothing of this month, and where they do.
    const sale = (product: string, netAmount: number) => ({
      date: '2026-09-30',
      members: { channel: 'web', product, group: 'households', region: 'north' },
      quantity: 1,
      netAmount,
      why: 'sold at the fair',
    });
    const before = computation.table(ACTUAL, query);
    assert.isUndefined(computation.byHandTable(query));
    for (const [product, amount] of [
      ['carafe-dew', 9_000],
      ['tap-duo', 20_000],
    ] as const) {
      const { status } = await planner.send('POST', `${SAMPLE}/hand-lines`, sale(product, amount));
      assert.equal(status, 201);
    }
    computation.load((await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body);
    await recorded();
    const all = computation.table(ACTUAL, query);
    assert.closeTo((all.total.total.value ?? 0) - (before.total.total.value ?? 0), 290, 1e-6);
    const inBooksNow = computation.table(inBooks(ACTUAL), query);
    assert.closeTo(inBooksNow.total.total.value ?? 0, before.total.total.value ?? 1, 1e-6);

    const line = await planner.send<Table>('GET', `${SAMPLE}/table?${ADDRESS}&origin=books`);
    assert.deepEqual(asSent(computation.table(inBooks(FORECAST), query)), line.body);
    const compared = await planner.send<ComparisonAnswer>(
      'GET',
      `${SAMPLE}/comparison?${ADDRESS}&version=1&origin=books`,
    );
    const own = computation.compare(inBooks(ACTUAL), versionSource(1), query, closed);
    const { names: _, ...told } = compared.body;
    assert.deepEqual(asSent(own), told);

    const byHand = computation.byHandTable({ ...query, rows: ['channel', 'product'] });
    const marked = byHand?.rows.flatMap(({ label, parent, cells }) =>
      !parent && cells.some(({ value }) => (value ?? 0) > 0) ? [label] : [],
    );
    assert.deepEqual(marked, ['Dew carafe'], 'where the books have sales nothing is marked');
    const question = {
      kind: 'table' as const,
      source: inBooks(FORECAST),
      measure: 'revenue' as const,
      scope: [],
      span: { from: query.span.from, to: query.span.from },
    };
    assert.deepInclude(computation.explain(question).source, { kind: 'sales', books: true });
  });

  it('names the inputs that are missing below a number, and where they are set', async () => {
    const { body } = await planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const fresh = startComputation();
    const { plan } = body;
    const assumptions = plan.assumptions.filter(({ driver }) => driver !== 'grossUnits');
    fresh.load({ ...body, plan: { ...plan, assumptions } });
    const all = fresh.missingBelow([], query.span);
    const web = plan.dimensions[0]?.members[0]?.id ?? 0;
    const below = fresh.missingBelow([web], query.span);
    assert.isNotEmpty(below);
    assert.isBelow(below.length, all.length);
    for (const one of below) {
      assert.deepInclude(one, { driver: 'grossUnits', name: 'Gross units' });
      assert.equal(one.months[0]?.from, monthFrom('2026-10'));
      assert.include(one.members, web);
    }
    const before = { from: query.span.from - 12, to: query.span.from - 1 };
    assert.isEmpty(fresh.missingBelow([], before), 'all of these months are closed');
  });

  it('previews what the server then keeps, for values and spread totals', async () => {
    const edits: [string, object][] = [
      ['discount', { values: [{ scope: [], month: '2026-12', value: 0.33 }], totals: [] }],
      ['discount', { values: [{ scope: [1], month: '2026-12', value: 0.4 }], totals: [] }],
      ['grossUnits', { values: [], totals: [{ scope: [1], month: '2026-11', total: 31_313 }] }],
      ['discount', { values: [{ scope: [1], month: '2026-12', value: null }], totals: [] }],
      ['listPrice', { changes: [{ scope: [2], month: '2027-01', kind: 'times', by: 1.04 }] }],
      ['listPrice', { values: [{ scope: [2], month: '2027-02', value: 99 }] }],
      ['listPrice', { values: [{ scope: [2], month: '2027-01', value: null }] }],
    ];
    for (const [driver, typing] of edits) {
      computation.preview(driver, { values: [], totals: [], changes: [], ...typing });
      const preview = asSent(computation.table(FORECAST, query));
      const { body, status } = await planner.send<TypingResult>(
        'PUT',
        `${SAMPLE}/drivers/${driver}/values`,
        typing,
      );
      assert.equal(status, 200);
      computation.acceptKept(body);
      assert.deepEqual(
        asSent(computation.table(FORECAST, query)),
        preview,
        'nothing moves when it is kept',
      );
      await sameAsServer();
    }
  });

  it('previews what is typed over the forecast, and what is dropped of it, as the server keeps it', async () => {
    let { revision } = (await planner.send<{ revision: number }>('GET', `${SAMPLE}/plan`)).body;
    /** Sends what is shown already, and takes in what the server says of it. */
    const keeps = async (path: string, body: object): Promise<void> => {
      const preview = asSent(computation.table(FORECAST, query));
      const { status } = await planner.send('POST', `${SAMPLE}${path}`, body);
      assert.equal(status, 200);
      const changes = await planner.send<Changes>('GET', `${SAMPLE}/changes?since=${revision}`);
      assert.isFalse(changes.body.whole, 'nothing has to be read anew');
      computation.merge(changes.body);
      ({ revision } = changes.body);
      assert.deepEqual(asSent(computation.table(FORECAST, query)), preview, 'nothing moves');
      await sameAsServer();
    };
    const months = { from: '2026-11', to: '2026-12' };
    const typed = [
      { ...months, scope: [1], measure: 'revenue' as const, total: 1_234_567.89 },
      { ...months, scope: [1, 5], measure: 'units' as const, total: 4_321 },
    ];
    computation.previewOverrides(typed);
    await keeps('/overrides', { typed, why: 'agreed' });
    const some = computation.overrides().slice(0, 7);
    assert.lengthOf(some, 7);
    const overrides = some.map(({ override: { combination, month, measure } }) => ({
      ...{ combination, month, measure },
    }));
    computation.previewWithout(overrides);
    await keeps('/overrides/drop', { overrides });
  });

  it('names the assumptions that cover a cell, the one that holds first', () => {
    const october = monthFrom('2026-11');
    const covering = computation.covering('discount', [1, 5], october);
    assert.isAbove(covering.length, 1);
    assert.equal(covering[0]?.note, 'November offer');
  });
});
