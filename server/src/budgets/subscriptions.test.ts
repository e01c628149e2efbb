import type { EntriesResult, TypedEntry, VersionCells, WorkspacePlan } from '@dravex/contract';
import { movementColumns, movementRows, subscribersTotal } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample, type Answer } from '../testing/serve.ts';

const VERSIONS = `${SAMPLE}/versions`;
const HEADING =
  'month,channel,product,customer group,region,units,revenue,active subscribers,new subscribers,lost subscribers,recurring revenue';

describe('subscriptions of versions', () => {
  const sample = withSample();
  let version = 0;
  let monthly = 0;
  before(async () => {
    const { plan } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
    monthly = plan.dimensions[1]?.members.find(({ code }) => code === 'plan-month')?.id ?? 0;
    version = (await sample.planner.send<{ id: number }[]>('GET', VERSIONS)).body[0]?.id ?? 0;
  });

  const cellsOf = async (id = version): Promise<VersionCells> =>
    (await sample.planner.send<VersionCells>('GET', `${VERSIONS}/${id}/cells`)).body;
  const type = (typed: Partial<TypedEntry>): Promise<Answer<EntriesResult>> =>
    sample.planner.send('POST', `${VERSIONS}/${version}/entries`, {
      typed: [
        {
          ...{ scope: [monthly], from: '2026-12', to: '2026-12', measure: 'newSubscribers' },
          ...typed,
        },
      ],
      why: '',
    });
  /** New subscribers of the monthly plan, and what all of its lines come to, in a month. */
  const starters = (cells: VersionCells, month: string): number =>
    sumIn(cells, month, ({ starters: of }) => of);
  function sumIn(
    { subscribers }: VersionCells,
    month: string,
    of: (kept: NonNullable<VersionCells['subscribers']>) => number[],
  ): number {
    if (!subscribers) return NaN;
    return of(subscribers).reduce(
      (sum, value, at) =>
        subscribers.month[at] === month && lines.has(subscribers.combination[at] ?? 0)
          ? sum + value
          : sum,
      0,
    );
  }
  let lines: ReadonlySet<number>;
  before(async () => {
    const { plan } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
    lines = new Set(
      plan.combinations.filter(({ members }) => members.includes(monthly)).map(({ id }) => id),
    );
  });
  const unitsIn = (cells: VersionCells, month: string): number =>
    cells.units.reduce(
      (sum, value, at) =>
        cells.month[at] === month && lines.has(cells.combination[at] ?? 0) ? sum + value : sum,
      0,
    );

  it('take what is typed, carry it on, and bring units along; undone it is gone, redone it is there', async () => {
    const before = await cellsOf();
    const saw = starters(before, '2026-12');
    const typed = await type({ total: saw + 90, saw });
    assert.equal(typed.status, 200, typed.text);
    assert.equal(typed.body.cells, 3);
    const after = await cellsOf();
    assert.closeTo(starters(after, '2026-12'), saw + 90, 1e-6);
    assert.closeTo(unitsIn(after, '2026-12') - unitsIn(before, '2026-12'), 90, 0.01);
    const later = unitsIn(after, '2027-03') - unitsIn(before, '2027-03');
    assert.isTrue(later > 75 && later < 90, `some have left by March: ${later}`);
    assert.lengthOf(after.typedSubscribers ?? [], 3);

    const again = await type({ total: saw, saw });
    assert.equal(again.status, 409, 'whoever has not seen it is asked');
    assert.include(again.text, String(saw + 90));

    const undone = await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal(undone.status, 200, undone.text);
    const back = await cellsOf();
    assert.deepEqual(back.subscribers, before.subscribers);
    assert.deepEqual(back.units, before.units);
    assert.deepEqual(back.revenue, before.revenue);
    const redone = await sample.planner.send('POST', `${SAMPLE}/redo`);
    assert.equal(redone.status, 200, redone.text);
    assert.deepEqual((await cellsOf()).subscribers, after.subscribers);
  });

  it('refuse what cannot be, at its place, and keep what was there', async () => {
    const before = await cellsOf();
    const saw = starters(before, '2026-12');
    const paid = subscribersTotal(
      movementRows(before.subscribers ?? movementColumns([])).filter(
        ({ combination, month }) => month === '2026-12' && lines.has(combination),
      ),
      'recurringRevenue',
      100,
    );
    const refused: [Partial<TypedEntry>, RegExp][] = [
      [{ total: -5, saw }, /cannot be negative/],
      [{ scope: [], from: '2027-04', to: '2027-04', total: 5, saw: null }, /covers 2026-04/],
      [{ measure: 'recurringRevenue', total: 10.5, saw: paid }, /whole number/],
      [
        { measure: 'recurringRevenue', total: 100, saw: paid, keeps: 'price' },
        /would have to be negative/,
      ],
    ];
    for (const [typed, message] of refused) {
      const answer = await type(typed);
      assert.equal(answer.status, 400, answer.text);
      assert.match(answer.text, message);
    }
    assert.deepEqual(await cellsOf(), before);
  });

  it('come in with a file, whose rows must fit together', async () => {
    const line = (month: string, active: number, added: number, lost: number, paid: number) =>
      `${month},web,plan-month,households,north,${active},${paid},${active},${added},${lost},${paid}`;
    const bring = (name: string, rows: string[]): Promise<Answer<{ id: number }>> =>
      sample.planner.send(
        'POST',
        `${VERSIONS}/import?name=${name}`,
        [HEADING, ...rows].join('\n'),
        {
          'content-type': 'text/csv',
        },
      );
    const wrong = await bring('Wrong', [
      line('2026-10', 100, 10, 5, 1000),
      line('2026-11', 130, 10, 5, 1300),
    ]);
    assert.equal(wrong.status, 400);
    assert.match(wrong.text, /row 3, active subscribers: 100 were there in 2026-10/);
    assert.match(
      (await bring('Empty', ['2026-10,web,plan-month,households,north,1,1,5,,,'])).text,
      /row 2, new subscribers/,
    );
    const right = await bring('Planned', [
      line('2026-10', 100, 10, 5, 1000),
      line('2026-11', 105, 10, 5, 1155),
    ]);
    assert.equal(right.status, 201, right.text);
    const { subscribers } = await cellsOf(right.body.id);
    assert.deepEqual(subscribers?.opening, [95, 100]);
    assert.deepEqual(subscribers?.recurring, [1000, 1155]);
    // 95 of those who stay pay 11 instead of 10; 10 new ones pay 11; 5 who left paid 10.
    assert.closeTo(subscribers?.priceChange[1] ?? NaN, 95, 1e-9);
    assert.closeTo(subscribers?.entered[1] ?? NaN, 110, 1e-9);
    assert.closeTo(subscribers?.revenueLost[1] ?? NaN, 50, 1e-9);

    const copy = await sample.planner.send<{ id: number }>('POST', `${VERSIONS}/copies`, {
      of: `version:${right.body.id}`,
      ...{ name: 'A year on', volume: 0.1, price: 0.05, shift: 12 },
    });
    assert.equal(copy.status, 201, copy.text);
    const copied = (await cellsOf(copy.body.id)).subscribers;
    assert.deepEqual(copied?.month, ['2027-10', '2027-11']);
    assert.closeTo(copied?.active[0] ?? NaN, 110, 1e-9);
    assert.closeTo(copied?.recurring[1] ?? NaN, 1155 * 1.1 * 1.05, 1e-9);
  });

  it('stay with what was typed when a member is merged into another one', async () => {
    const saw = starters(await cellsOf(), '2026-12');
    const typed = await type({ total: saw + 90, saw });
    assert.equal(typed.status, 200, typed.text);
    const before = await cellsOf();
    const { plan } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
    const regions = plan.dimensions.find(({ code }) => code === 'region')?.members ?? [];
    const [into, from] = regions.filter(({ id }) =>
      plan.combinations.some(({ id: line, members }) => lines.has(line) && members.includes(id)),
    );
    const merged = await sample.planner.send(
      'POST',
      `${SAMPLE}/dimensions/region/members/${from?.id}/merge`,
      { into: into?.id },
    );
    assert.equal(merged.status, 200, merged.text);
    const after = await cellsOf();
    assert.isBelow(after.subscribers?.month.length ?? 0, before.subscribers?.month.length ?? 0);
    for (const month of new Set(before.subscribers?.month)) {
      assert.closeTo(starters(after, month), starters(before, month), 1e-6, month);
      assert.closeTo(unitsIn(after, month), unitsIn(before, month), 1e-6, month);
    }
    const paidIn = (cells: VersionCells): number =>
      sumIn(cells, '2026-12', ({ recurring }) => recurring);
    assert.closeTo(paidIn(after), paidIn(before), 1e-6);
  });
});
