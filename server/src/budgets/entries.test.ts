import type {
  ComparisonAnswer,
  CopyLook,
  EntriesResult,
  TypedEntry,
  VersionCells,
  VersionEntries,
  WorkspacePlan,
} from '@dravex/contract';
import type { RevenueNeeded, Table } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample, type Answer } from '../testing/serve.ts';

describe('entries', () => {
  const sample = withSample();
  let version = 0;
  let member: (dimension: number, name: string) => number;
  let members: ReadonlyMap<number, readonly number[]>;
  before(async () => {
    const { plan } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
    member = (dimension, code) =>
      plan.dimensions[dimension]?.members.find((m) => m.code === code)?.id ?? 0;
    members = new Map(plan.combinations.map((c) => [c.id, c.members]));
    version =
      (await sample.planner.send<{ id: number }[]>('GET', `${SAMPLE}/versions`)).body[0]?.id ?? 0;
  });

  async function sum(scope: readonly number[], from: string, to: string) {
    const { body } = await sample.planner.send<VersionCells>(
      'GET',
      `${SAMPLE}/versions/${version}/cells`,
    );
    const total = { units: 0, revenue: 0, cost: 0, cells: 0 };
    body.combination.forEach((combination, i) => {
      const month = body.month[i] ?? '';
      const membersOfCombination = members.get(combination) ?? [];
      if (month < from || month > to || !scope.every((id) => membersOfCombination.includes(id)))
        return;
      total.units += body.units[i] ?? 0;
      total.revenue += body.revenue[i] ?? 0;
      total.cost += body.cost[i] ?? 0;
      total.cells += 1;
    });
    return total;
  }
  function type(typed: Partial<TypedEntry>, who = sample.planner): Promise<Answer<EntriesResult>> {
    const whole = { from: '2026-12', to: '2026-12', measure: 'revenue', ...typed };
    return who.send('POST', `${SAMPLE}/versions/${version}/entries`, {
      typed: [whole],
      why: 'as agreed',
    });
  }

  it('spreads a typed total to the cent over months and combinations, as entries with a reason', async () => {
    const scope = [member(0, 'web')];
    const before = await sum(scope, '2026-12', '2027-01');
    const total = before.revenue + 1_234_567;
    const sent = await type({ scope, from: '2026-12', to: '2027-01', total, saw: before.revenue });
    assert.equal(sent.status, 200, sent.text);
    assert.isAbove(sent.body.cells, 10);
    const after = await sum(scope, '2026-12', '2027-01');
    assert.equal(after.revenue, total);
    assert.equal(after.units, before.units);
    const list = await sample.planner.send<VersionEntries>(
      'GET',
      `${SAMPLE}/versions/${version}/entries?scope=${scope.join()}&from=2026-12&to=2027-01`,
    );
    assert.equal(list.body.base.revenue, before.revenue);
    const [entry] = list.body.entries;
    assert.deepInclude(entry, { by: 'Mara Ellingsen', why: 'as agreed', revenue: 1_234_567 });
    assert.equal(entry?.cells, sent.body.cells);
  });

  it('lets units bring revenue along, and a price move it, and says what stale totals are now', async () => {
    const scope = [member(0, 'web'), member(1, 'tap-one')];
    const before = await sum(scope, '2026-12', '2026-12');
    assert.isAbove(before.units, 0);
    const double = { scope, measure: 'units' as const, total: before.units * 2, saw: before.units };
    assert.equal((await type(double)).status, 200);
    const doubled = await sum(scope, '2026-12', '2026-12');
    assert.equal(doubled.units, before.units * 2);
    assert.isAtMost(Math.abs(doubled.revenue - before.revenue * 2), doubled.cells);
    const stale = await type({ ...double, total: before.units * 3 });
    assert.equal(stale.status, 409);
    assert.deepInclude(stale.problem?.conflicts?.[0], {
      now: before.units * 2,
      by: 'Mara Ellingsen',
    });
    const price = 1000;
    const saw = doubled.revenue / doubled.units;
    assert.equal((await type({ scope, measure: 'averagePrice', total: price, saw })).status, 200);
    const priced = await sum(scope, '2026-12', '2026-12');
    assert.equal(priced.revenue, price * priced.units);
  });

  it('spreads by another basis on request', async () => {
    const scope = [member(0, 'stores')];
    const { revenue } = await sum(scope, '2026-11', '2026-11');
    const month = { from: '2026-11', to: '2026-11' };
    for (const basis of ['equal', 'lastYear', 'forecast'] as const) {
      const sent = await type({ scope, ...month, total: revenue, saw: revenue, basis });
      assert.equal(sent.status, 200, sent.text);
      assert.equal((await sum(scope, '2026-11', '2026-11')).revenue, revenue);
    }
  });

  it('refuses what cannot be, names it, and changes nothing', async () => {
    const scope = [member(0, 'web')];
    const before = await sum(scope, '2026-04', '2027-03');
    const { revenue } = await sum(scope, '2026-12', '2026-12');
    const wrong: [Partial<TypedEntry>, number, string][] = [
      [{ scope, total: 0.5, saw: revenue }, 400, 'whole number'],
      [{ scope: [999_999], total: 1, saw: 0 }, 400, 'no member'],
      [{ scope, from: '2029-01', to: '2029-01', total: 1, saw: 0 }, 400, 'covers'],
      [{ scope, from: '2027-01', to: '2026-12', total: 1, saw: 0 }, 400, 'ends before'],
      [{ scope, total: 1e300, saw: revenue }, 400, 'total'],
      [{ scope, measure: 'cost', total: 1, saw: 1e9 }, 409, 'nothing was overwritten'],
    ];
    for (const [typed, status, words] of wrong) {
      const answer = await type(typed);
      assert.equal(answer.status, status, answer.text);
      assert.include(answer.text, words);
    }
    assert.deepEqual(await sum(scope, '2026-04', '2027-03'), before);
  });

  it('copies with an uplift that is exact in total, and takes nothing once it is sealed', async () => {
    const before = await sum([], '2026-04', '2027-03');
    const copy = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/versions/copies`, {
      of: `version:${version}`,
      name: 'Budget FY 2028',
      volume: 0.04,
      shift: 12,
    });
    assert.equal(copy.status, 201, copy.text);
    const first = version;
    version = copy.body.id;
    const copied = await sum([], '2027-04', '2028-03');
    assert.equal(copied.cells, before.cells);
    assert.equal(copied.revenue, Math.round(before.revenue * 1.04));
    const sealed = await sample.planner.send<{ state: string }>(
      'POST',
      `${SAMPLE}/versions/${version}/seal`,
    );
    assert.equal(sealed.body.state, 'sealed');
    const refused = await type({ scope: [], from: '2027-04', to: '2027-04', total: 5, saw: 0 });
    assert.equal(refused.status, 409);
    assert.include(refused.problem?.detail, 'is locked');
    assert.equal(
      (await sample.planner.send('POST', `${SAMPLE}/versions/${version}/seal`)).status,
      409,
    );
    version = first;
    const far = { of: `version:${version}`, name: 'Too far', volume: 0, shift: 120 };
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/versions/copies`, far)).status, 400);
  });

  /** Revenue of a version in minor units. */
  const revenueOf = async (id: number): Promise<number> => {
    const { body } = await sample.planner.send<VersionCells>(
      'GET',
      `${SAMPLE}/versions/${id}/cells`,
    );
    return body.revenue.reduce((sum, value) => sum + value, 0);
  };

  it('copies by volume and price, without what has ended and with what is new', async () => {
    const path = `${SAMPLE}/versions/copies`;
    const { body: look } = await sample.planner.send<CopyLook>(
      'GET',
      `${path}?of=version:1&shift=12`,
    );
    assert.isAbove(look.discontinued.combinations, 0, 'a product of the sample ended in spring');
    assert.isAbove(look.added.combinations, 0, 'and another one took its place');
    const before = await revenueOf(1);
    const copy = async (body: object): Promise<number> => {
      const made = await sample.planner.send<{ id: number }>('POST', path, {
        of: 'version:1',
        ...body,
      });
      assert.equal(made.status, 201, made.text);
      return revenueOf(made.body.id);
    };
    const years = { volume: 0.1, price: 0.02, shift: 12 };
    const factor = 1.1 * 1.02;
    const all = await copy({ name: 'All of it', ...years });
    assert.equal(all, Math.round(before * factor));
    const followed = await copy({
      ...{ name: 'What sells', ...years },
      ...{ discontinued: 'leaveOut', added: 'forecast' },
    });
    const left = Math.round((before - look.discontinued.revenue) * factor);
    assert.equal(followed, left + look.added.revenue);
    // Any number of months is as good as twelve, as far as the plan goes.
    await copy({ name: 'A month later', shift: 1 });
    for (const [body, said] of [
      [{ shift: 1.5 }, 'months are whole'],
      [{ volume: -2 }, 'less than nothing is left'],
      [{ uplift: 0.04 }, 'uplift'],
      [{ discontinued: 'maybe' }, 'discontinued'],
      [{ of: 'lastYear' }, 'copied is actual, forecast, or a version'],
      [{ of: 'actual' }, 'say from which month to which'],
      [{ of: 'actual', from: '2026-09', to: '2026-10' }, 'Sales are known through 2026-09'],
      [{ of: 'forecast', from: '2026-09', to: '2026-04' }, 'it ends before it starts'],
      [{ from: '2028-04' }, 'covers 2026-04 to 2027-03'],
      [{ uplifts: [{ scope: [], volume: 1 }] }, 'choose whose sales'],
      [{ uplifts: [{ scope: [999_999], volume: 1 }] }, '999999'],
    ] as const) {
      const refused = await sample.planner.send('POST', path, {
        of: 'version:1',
        name: 'Refused',
        ...body,
      });
      assert.equal(refused.status, 400, JSON.stringify(body));
      assert.include(refused.text, said);
    }
    assert.equal((await sample.planner.send('GET', `${path}?of=version:99`)).status, 404);
  });

  it('copies the forecast and last year’s sales, each line by the narrowest uplift', async () => {
    const path = `${SAMPLE}/versions/copies`;
    const copy = (body: object) =>
      sample.planner.send<{ id: number }>('POST', path, { of: 'actual', ...body });
    const { plan } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
    const member = (code: string): number =>
      plan.dimensions.flatMap(({ members }) => members).find((one) => one.code === code)?.id ?? 0;
    const web = member('web');
    const inWeb = new Set(
      plan.combinations.flatMap(({ id, members }) => (members.includes(web) ? [id] : [])),
    );
    const cellsOf = async (id: number) =>
      (await sample.planner.send<VersionCells>('GET', `${SAMPLE}/versions/${id}/cells`)).body;
    const split = (cells: VersionCells) => {
      const sums = { web: 0, rest: 0 };
      cells.revenue.forEach((value, at) => {
        sums[inWeb.has(cells.combination[at] ?? 0) ? 'web' : 'rest'] += value;
      });
      return sums;
    };
    const year = { from: '2025-04', to: '2026-03', shift: 24 };
    const plain = await copy({ name: 'As sold', ...year });
    assert.equal(plain.status, 201, plain.text);
    const before = split(await cellsOf(plain.body.id));
    const sold = await sample.planner.send<Table>(
      'GET',
      `${SAMPLE}/table?rows=channel&from=2025-04&to=2026-03`,
    );
    assert.closeTo((before.web + before.rest) / 100, sold.body.total.total.value ?? 0, 0.5);
    const uplifts = [{ scope: [web], volume: 0.2, price: 0.1 }];
    const made = await copy({ name: 'More web', ...year, volume: 0.05, uplifts });
    const cells = await cellsOf(made.body.id);
    assert.equal(cells.month.toSorted()[0], '2027-04');
    const after = split(cells);
    assert.equal(after.web, Math.round(before.web * 1.2 * 1.1));
    assert.equal(after.rest, Math.round(before.rest * 1.05));
    const forecast = await copy({
      ...{ of: 'forecast', name: 'As forecast', from: '2026-04', to: '2027-03', shift: 12 },
    });
    assert.isAbove((await cellsOf(forecast.body.id)).subscribers?.month.length ?? 0, 0);
    const crossing = [{ scope: [web] }, { scope: [member('carafe-brook')] }];
    const refused = await copy({ name: 'Crossing', ...year, uplifts: crossing });
    assert.equal(refused.status, 400);
    assert.include(refused.problem?.detail, 'both hold some sales');
    assert.equal(refused.problem?.errors?.[0]?.path, 'uplifts.1.scope');
  });

  it('says which revenue leaves a profit, and entered it does', async () => {
    const path = `${SAMPLE}/versions/${version}/revenue-needed`;
    const months = 'from=2026-12&to=2026-12';
    const asked = `${path}?scope=${member(0, 'web')}&${months}&fixed=1000000&profit=500000`;
    const { status, text, body } = await sample.planner.send<RevenueNeeded>('GET', asked);
    assert.equal(status, 200, text);
    const scope = [member(0, 'web')];
    const before = await sum(scope, '2026-12', '2026-12');
    assert.equal(body.revenue, before.revenue);
    assert.equal(body.needed, Math.round(1_500_000 / (1 - body.cost / body.revenue)));
    const entered = await type({
      ...{ scope, from: '2026-12', to: '2026-12', keeps: 'price' },
      ...{ total: body.needed, saw: body.revenue },
    });
    assert.equal(entered.status, 200, entered.text);
    const after = await sample.planner.send<RevenueNeeded>('GET', asked);
    assert.equal(after.body.revenue, body.needed);
    const left = after.body.revenue - after.body.cost - 1_000_000;
    assert.closeTo(left, 500_000, 2 * entered.body.cells);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    for (const [query, said] of [
      [`${months}&fixed=5&profit=-9`, 'nothing to earn'],
      [`${months}&fixed=-5&profit=9`, 'costs are zero or more'],
      [`${months}&fixed=x&profit=9`, 'not an amount'],
      ['from=2029-01&to=2029-02&fixed=5&profit=9', 'plans no revenue here'],
      ['from=2025-04&to=2025-05&fixed=5&profit=9', 'plans no revenue here'],
    ] as const) {
      const refused = await sample.planner.send('GET', `${path}?${query}`);
      assert.equal(refused.status, 400, query);
      assert.include(refused.text, said);
    }
  });

  it('is read back as it was after every entry, cell by cell', async () => {
    const path = `${SAMPLE}/versions/${version}`;
    const cells = async (at?: string): Promise<VersionCells> => {
      const address = `${path}/cells${at === undefined ? '' : `?at=${at}`}`;
      const { status, body, text } = await sample.planner.send<VersionCells>('GET', address);
      assert.equal(status, 200, text);
      return body;
    };
    /** A moment lies between two acts: they are told apart by the second. */
    const apart = () => new Promise((resolve) => setTimeout(resolve, 1100));
    const now = (): string => `${new Date().toISOString().slice(0, 19)}Z`;
    const states: { at: string; cells: VersionCells }[] = [];
    const remember = async (): Promise<void> => {
      await apart();
      states.push({ at: now(), cells: await cells() });
      await apart();
    };
    const scope = [member(0, 'web')];
    await remember();
    for (const [month, factor] of [
      ['2026-11', 1.3],
      ['2026-12', 0],
      ['2026-11', 0.5],
    ] as const) {
      const { revenue } = await sum(scope, month, month);
      const total = Math.round(revenue * factor);
      const typed = await type({ scope, from: month, to: month, total, saw: revenue });
      assert.equal(typed.status, 200, typed.text);
      await remember();
    }
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    await apart();
    const last = await cells();
    const plain = ({ combination, month, units, revenue, cost }: VersionCells) => ({
      ...{ combination, month, units, revenue, cost },
    });
    for (const { at, cells: then } of states)
      assert.deepEqual(plain(await cells(at)), plain(then), at);
    assert.notDeepEqual(states[1]?.cells.revenue, states[2]?.cells.revenue);
    assert.deepEqual(plain(await cells(now())), plain(last));
    // The same in tables, in entries and against itself.
    const asked = 'rows=channel&from=2026-11&to=2026-11&scope=';
    const before = await sample.planner.send<Table>(
      'GET',
      `${SAMPLE}/table?${asked}&version=${version}&at=${states[1]?.at ?? ''}`,
    );
    const inMonth = (state: VersionCells | undefined): number =>
      state?.revenue.reduce(
        (all, value, at) => (state.month[at] === '2026-11' ? all + value : all),
        0,
      ) ?? NaN;
    const total = before.body.total.total.value ?? NaN;
    assert.closeTo(total, inMonth(states[1]?.cells) / 100, 1e-6, before.text);
    const against = `${SAMPLE}/comparison?${asked}&of=version:${version}&against=version:${version}@${states[1]?.at ?? ''}`;
    const compared = await sample.planner.send<ComparisonAnswer>('GET', against);
    assert.closeTo(
      compared.body.total?.variance?.amount ?? NaN,
      (inMonth(last) - inMonth(states[1]?.cells)) / 100,
      1e-6,
      compared.text,
    );
    const entries = await sample.planner.send<VersionEntries>(
      'GET',
      `${path}/entries?scope=${scope.join()}&from=2026-11&to=2026-11&at=${states[0]?.at ?? ''}`,
    );
    const since = await sample.planner.send<VersionEntries>(
      'GET',
      `${path}/entries?scope=${scope.join()}&from=2026-11&to=2026-11`,
    );
    assert.isBelow(entries.body.entries.length, since.body.entries.length);
    for (const [address, said] of [
      [`${path}/cells?at=yesterday`, 'write a moment as'],
      [`${path}/cells?at=2020-01-01T00:00:00Z`, 'choose a later moment'],
      [`${SAMPLE}/table?${asked}&at=2026-11-20T10:00:00Z`, 'name one as version'],
    ] as const) {
      const refused = await sample.planner.send('GET', address);
      assert.equal(refused.status, 400, address);
      assert.include(refused.text, said);
    }
  });

  it('takes a line that is not planned yet, by members never seen together, and lets it go again', async () => {
    const path = `${SAMPLE}/versions/${version}/lines`;
    const line = {
      members: { channel: 'web', product: 'disp-floor', group: 'households', region: 'lakes' },
      ...{ from: '2026-11', to: '2027-03', units: 7, revenue: 100_001, cost: 50_000 },
    };
    const { plan: before } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`))
      .body;
    const added = await sample.planner.send<{ scope: number[] }>('POST', path, line);
    assert.equal(added.status, 201, added.text);
    const { scope } = added.body;
    const { plan: after } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`))
      .body;
    assert.equal(after.combinations.length, before.combinations.length + 1);
    const made = after.combinations.find(({ members: of }) => of.join() === scope.join());
    const cellsOf = async (): Promise<(number | null | undefined)[][]> => {
      const { body } = await sample.planner.send<VersionCells>(
        'GET',
        `${SAMPLE}/versions/${version}/cells`,
      );
      return body.combination.flatMap((id, at) =>
        id === made?.id ? [[body.units[at], body.revenue[at], body.cost[at]]] : [],
      );
    };
    const cells = await cellsOf();
    assert.equal(cells.length, 5);
    const totals = [0, 1, 2].map((of) => cells.reduce((all, cell) => all + (cell[of] ?? 0), 0));
    assert.deepEqual(totals, [7, 100_001, 50_000]);
    // It is in tables at once, and is typed over like any other.
    const table = await sample.planner.send<Table>(
      'GET',
      `${SAMPLE}/table?rows=product&scope=${scope.join()}&from=2026-11&to=2027-03&version=${version}`,
    );
    assert.closeTo(table.body.total.total.value ?? 0, 1000.01, 1e-9);
    const typed = await type({ scope, from: '2026-11', to: '2026-11', total: 5, saw: 20_001 });
    assert.include([200, 409], typed.status);
    for (const [body, said] of [
      [line, 'already; enter its numbers in the table'],
      [{ ...line, members: { channel: 'web' } }, 'is missing'],
      [{ ...line, members: { ...line.members, channel: 'moon' } }, 'is not a code of'],
      [{ ...line, members: { ...line.members, moon: 'web' } }, 'no dimension'],
      [{ ...line, members: { ...line.members, product: 'carafes' } }, 'members below it'],
      [{ ...line, units: 0, revenue: 0, cost: null }, 'enter what it sells'],
      [{ ...line, revenue: -4 }, 'zero or more'],
      [{ ...line, from: '2026-01' }, 'is outside'],
    ] as const) {
      const refused = await sample.planner.send('POST', path, body);
      assert.isAtLeast(refused.status, 400);
      assert.isBelow(refused.status, 500);
      assert.include(refused.text, said);
    }
    if (typed.status === 200) await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.isTrue((await cellsOf()).flat().every((value) => !value));
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/redo`)).status, 200);
    assert.deepEqual(await cellsOf(), cells);
  });

  it('keeps a version in which a colleague has typed', async () => {
    const colleague = await sample.served.colleague();
    const kept = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/versions`, {
      name: 'Shared',
      from: '2026-12',
      to: '2026-12',
    });
    const first = version;
    version = kept.body.id;
    const { revenue } = await sum([], '2026-12', '2026-12');
    assert.equal((await type({ scope: [], total: 7, saw: revenue }, colleague)).status, 200);
    const undo = await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal(undo.status, 409);
    assert.include(undo.problem?.detail, 'Ilse Tarn');
    version = first;
  });
});
