import type { PlanFile, WorkspacePlan } from '@dravex/contract';
import {
  checkPlan,
  compile,
  evaluate,
  forecastFigures,
  monthFrom,
  type Plan,
  type Stream,
} from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('methods, drivers of one’s own and overrides', () => {
  const sample = withSample();

  const plan = async (): Promise<WorkspacePlan['plan']> =>
    (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body.plan;
  const must = async (method: string, path: string, body?: object): Promise<void> => {
    const { status, text } = await sample.planner.send(method, `${SAMPLE}${path}`, body);
    assert.isBelow(status, 300, `${path}: ${text}`);
  };
  /** What a stream comes to in a month, by the core on the plan that the server gives. */
  const value = async (stream: Stream, measure: 'units' | 'revenue', month: string) => {
    const model = evaluate(compile(await plan()));
    const index = model.streams.findIndex((one) => one.stream.id === stream.id);
    return model.results[measure][index]?.[monthFrom(month) - model.first] ?? Number.NaN;
  };
  const streamAt = async (place: number): Promise<Stream> => {
    const stream = (await plan()).streams[place];
    assert.isDefined(stream);
    return stream as Stream;
  };

  it('a driver of one’s own is typed or computed by a formula, checked before it is kept', async () => {
    const spend = { code: 'flyerSpend', name: 'Flyer spend', kind: 'money', default: 5000 };
    await must('POST', '/drivers', spend);
    await must('POST', '/drivers', {
      code: 'clickCost',
      name: 'Cost per click',
      kind: 'moneyPerUnit',
      unit: 'per click',
      default: 0.5,
    });
    const clicks = { code: 'clicks', name: 'Clicks', kind: 'count', unit: 'clicks' };
    const refusals: [string, string][] = [
      ['flyerSpend + clickCost', 'money and money per click cannot be added'],
      ['flyerSpend * 2', 'the formula comes to money, the driver is click'],
      ['flyerSpend / nothing', 'there is no driver "nothing"'],
      ['flyerSpend / (clickCost', 'bracket is not closed'],
      ['lag(clicks, 600)', 'whole number of months'],
      ['lag(clicks, 200)', 'reads 200 months back'],
      ['clicks + 1', 'circle: Clicks → Clicks'],
    ];
    for (const [formula, message] of refusals) {
      const refused = await sample.planner.send('POST', `${SAMPLE}/drivers`, {
        ...clicks,
        formula,
      });
      assert.equal(refused.status, 400, formula);
      assert.include(refused.problem?.detail, message, formula);
    }
    await must('POST', '/drivers', { ...clicks, formula: 'flyerSpend / clickCost' });
    const twice = await sample.planner.send('POST', `${SAMPLE}/drivers`, spend);
    assert.equal(twice.status, 409);
    const reserved = await sample.planner.send('POST', `${SAMPLE}/drivers`, {
      ...spend,
      code: 'lag',
    });
    assert.equal(reserved.status, 400);
    const kept = await sample.planner.send('DELETE', `${SAMPLE}/drivers/flyerSpend`);
    assert.equal(kept.status, 409);
    assert.include(kept.problem?.detail, 'the formula of Clicks');
    const builtIn = await sample.planner.send('PATCH', `${SAMPLE}/drivers/discount`, {
      name: 'Rebate',
    });
    assert.equal(builtIn.status, 400);
    const crossed = await sample.planner.send('PATCH', `${SAMPLE}/drivers/discount`, {
      minimum: 2,
    });
    assert.include(crossed.problem?.detail, 'above the maximum');
    const outside = await sample.planner.send('PATCH', `${SAMPLE}/drivers/listPrice`, {
      maximum: 1,
    });
    assert.equal(outside.status, 409);
    assert.include(outside.problem?.detail, 'outside these bounds');
    await must('PATCH', '/drivers/discount', { maximum: 0.9 });
    const discount = (await plan()).drivers.find(({ code }) => code === 'discount');
    assert.equal(discount?.maximum, 0.9);
  });

  it('an assumption is set by its whole profile, and refused with what is wrong with it', async () => {
    const { dimensions } = await plan();
    const web = dimensions[0]?.members[0]?.id ?? 0;
    const path = '/drivers/flyerSpend/assumptions';
    const profile = {
      kind: 'annual',
      totals: { '2026-10': 120_000 },
      weights: [1, 1, 1, 1, 1, 1, 1, 1, 1, 3, 1, 1],
    };
    await must('POST', path, { scope: [web], profile, note: 'as agreed' });
    const set = (await plan()).assumptions.find(({ driver }) => driver === 'flyerSpend');
    assert.deepInclude(set, { note: 'as agreed', scope: [web] });
    await must('POST', path, { id: set?.id, scope: [web], profile: { kind: 'value', value: 1 } });
    const after = (await plan()).assumptions.filter(({ driver }) => driver === 'flyerSpend');
    assert.lengthOf(after, 1, 'it replaces the one that it names');
    const wrong: [object, string][] = [
      [{ ...profile, weights: profile.weights.map(() => 0) }, 'all zero'],
      [{ ...profile, weights: [1, 2] }, 'twelve'],
      [{ kind: 'lastYear', growth: -3 }, '-100 %'],
    ];
    for (const [given, message] of wrong) {
      const refused = await sample.planner.send('POST', `${SAMPLE}${path}`, {
        scope: [web],
        profile: given,
      });
      assert.equal(refused.status, 400, message);
      assert.include(refused.problem?.detail, message);
    }
    await must('DELETE', `${path}/${after[0]?.id ?? 0}`);
    assert.isEmpty((await plan()).assumptions.filter(({ driver }) => driver === 'flyerSpend'));
  });

  it('streams take any method, the same numbers as the core, and what does not fit is refused', async () => {
    const [a, b] = [await streamAt(0), await streamAt(1)];
    const set = (body: object) => sample.planner.send('PUT', `${SAMPLE}/streams/method`, body);
    await must('PUT', '/streams/method', {
      streams: [a.id, b.id],
      method: 'growthLastYear',
      settings: { of: 'revenue' },
    });
    const actual = forecastFigures(evaluate(compile(await plan())));
    const index = actual.combinations.findIndex(({ id }) => id === a.combination);
    const before =
      actual.measures.revenue[index * actual.count + monthFrom('2025-11') - actual.first];
    assert.closeTo(await value(a, 'revenue', '2026-11'), (before ?? 0) * 1.04, 1e-6);
    await must('PUT', '/streams/method', {
      streams: [a.id],
      method: 'baseline',
      settings: { baseline: { of: 'units', kind: 'best', settings: {} } },
    });
    assert.isAbove(await value(a, 'units', '2027-06'), 0);
    await must('PUT', '/streams/method', {
      streams: [b.id],
      method: 'volumePrice',
      settings: { attached: { combination: a.combination, from: 1, to: 3 } },
    });
    assert.isNaN(await value(b, 'units', '2027-06'), 'an attach rate is missing');
    const refusals: [object, string][] = [
      [
        {
          method: 'formula',
          settings: { formula: { units: null, revenue: 'flyerSpend +', names: [] } },
        },
        'missing at the end',
      ],
      [
        {
          method: 'formula',
          settings: { formula: { units: null, revenue: 'nobody * 2', names: [] } },
        },
        '"nobody"',
      ],
      [
        {
          method: 'formula',
          settings: {
            formula: {
              units: null,
              revenue: 'that',
              names: [{ name: 'that', combination: a.combination, measure: 'revenue' }],
            },
          },
        },
        'circle',
      ],
      [{ method: 'funnel', settings: { funnel: { sources: [], steps: [] } } }, 'no source'],
      [
        { method: 'volumePrice', settings: { attached: { combination: 999_999, from: 1, to: 2 } } },
        'not there',
      ],
    ];
    for (const [body, message] of refusals) {
      const refused = await set({ streams: [a.id], ...body });
      assert.equal(refused.status, 400, `${message}: ${refused.text}`);
      assert.include(refused.problem?.detail, message);
    }
    assert.equal((await set({ streams: [999_999], method: 'amount' })).status, 404);
    assert.equal((await set({ streams: [a.id], method: 'magic' })).status, 400);
    const reader = await sample.served.reader();
    const body = { streams: [a.id], method: 'amount' };
    assert.equal((await reader.send('PUT', `${SAMPLE}/streams/method`, body)).status, 403);
  });

  it('subscribers change over to another subscription, and to nothing else', async () => {
    const streams = (await plan()).streams.filter(({ method }) => method === 'subscription');
    const [monthly, yearly] = streams;
    if (!monthly || !yearly) throw new Error('The sample has subscriptions');
    const other = await streamAt(0);
    const before = await value(yearly, 'units', '2028-06');
    const changing = (combination: number, more: object = {}) => ({
      streams: [monthly.id],
      method: 'subscription',
      settings: {
        ...monthly.settings,
        changesOver: { combination, age: 3, share: 0.2, ...more },
      },
    });
    const set = (body: object) => sample.planner.send('PUT', `${SAMPLE}/streams/method`, body);
    const refusals: [object, string][] = [
      [changing(other.combination), 'is no subscription'],
      [changing(monthly.combination), 'not to their own'],
      [changing(999_999), 'is not there'],
      [changing(yearly.combination, { age: 0 }), 'at least one month'],
      [changing(yearly.combination, { share: 1.5 }), ''],
      [changing(yearly.combination, { share: null }), ''],
    ];
    for (const [body, message] of refusals) {
      const refused = await set(body);
      assert.equal(refused.status, 400, message);
      assert.include(refused.problem?.detail, message);
    }
    assert.equal((await set(changing(yearly.combination))).status, 200);
    assert.isAbove(await value(yearly, 'units', '2028-06'), before);
    const gone = await sample.planner.send('POST', `${SAMPLE}/streams/delete`, {
      streams: [yearly.id],
    });
    assert.equal(gone.status, 409);
    assert.include(gone.problem?.detail, 'change over to');
    const file = (
      await sample.planner.send<{ plan: { streams: Stream[] } }>('GET', `${SAMPLE}/plan-file`)
    ).body;
    assert.deepInclude(
      file.plan.streams.map(({ settings }) => settings?.changesOver),
      { combination: yearly.combination, age: 3, share: 0.2 },
    );
    await must('POST', '/undo');
    assert.equal(await value(yearly, 'units', '2028-06'), before);
  });

  it('a subscription is set, computed from new subscribers and churn, and refused where it cannot be', async () => {
    const line = await streamAt(5);
    const { combinations } = await plan();
    const scope = combinations.find(({ id }) => id === line.combination)?.members ?? [];
    for (const [driver, amount] of [
      ['newSubscribers', 40],
      ['churnRate', 0.04],
      ['listPrice', 9],
      ['discount', 0],
    ] as const) {
      const profile = { kind: 'value', value: amount };
      await must('POST', `/drivers/${driver}/assumptions`, { scope, profile, note: '' });
    }
    const set = (subscription: object) =>
      sample.planner.send('PUT', `${SAMPLE}/streams/method`, {
        streams: [line.id],
        method: 'subscription',
        settings: { subscription },
      });
    const usual = { churn: 'constant', pricePolicy: 'current', billing: 'monthly', opening: [100] };
    assert.equal((await set(usual)).status, 200);
    assert.closeTo(await value(line, 'units', '2026-10'), 136, 1e-9);
    assert.closeTo(await value(line, 'revenue', '2026-10'), 136 * 9, 1e-9);
    assert.closeTo(await value(line, 'units', '2026-11'), 136 * 0.96 + 40, 1e-9);
    assert.equal((await set({ ...usual, churn: 'byAge', rates: [0.5, 0.1] })).status, 200);
    assert.closeTo(await value(line, 'units', '2026-11'), (50 + 0) * 0.9 + 20 + 40, 1e-9);
    for (const [more, message] of [
      [{ churn: 'byAge', rates: [1.2] }, 'rates'],
      [{ churn: 'byAge' }, 'name a rate for age 1'],
      [{ churn: 'atRenewal', term: 0 }, 'at least one month'],
      [{ opening: [-1] }, 'at least 0'],
      [{ billing: 'weekly' }, 'billing'],
    ] as const) {
      const refused = await set({ ...usual, ...more });
      assert.equal(refused.status, 400, refused.text);
      assert.include(refused.text, message);
    }
  });

  it('open months are forecast anew or left blank, overrides kept or dropped, and go back', async () => {
    const line = await streamAt(4);
    const revenue = (month: string): Promise<number> => value(line, 'revenue', month);
    const { combinations } = await plan();
    const scope = combinations.find(({ id }) => id === line.combination)?.members ?? [];
    const months = ['2026-11', '2026-12', '2027-01', '2027-02'];
    const before = await Promise.all(months.map(revenue));
    await must('POST', '/overrides', {
      typed: [
        { scope, from: '2026-12', to: '2026-12', measure: 'revenue', total: 777 },
        { scope, from: '2027-02', to: '2027-02', measure: 'revenue', total: 778 },
      ],
      why: 'agreed',
    });
    const mean = {
      of: 'revenue',
      kind: 'mean',
      settings: { span: { from: '2026-07', to: '2026-09' } },
    };
    const anew = { streams: [line.id], from: '2026-11', to: '2027-01', baseline: mean };
    await must('PUT', '/streams/anew', { ...anew, overrides: 'keep', why: 'a calm quarter' });
    const sold = await Promise.all(['2026-07', '2026-08', '2026-09'].map(revenue));
    const average = sold.reduce((sum, one) => sum + one, 0) / 3;
    assert.closeTo(await revenue('2026-11'), average, 1e-6);
    assert.closeTo(await revenue('2026-12'), 777, 1e-6, 'what was typed stands');
    await must('PUT', '/streams/anew', { ...anew, overrides: 'drop' });
    assert.closeTo(await revenue('2026-12'), average, 1e-6);
    assert.closeTo(await revenue('2027-02'), 778, 1e-6, 'other months are left alone');
    const blank = {
      of: 'revenue',
      kind: 'lastMonth',
      settings: { blank: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12] },
    };
    await must('PUT', '/streams/anew', {
      ...anew,
      from: '2026-12',
      to: '2026-12',
      baseline: blank,
      overrides: 'keep',
    });
    assert.equal(await revenue('2026-12'), 0);
    assert.closeTo(await revenue('2027-01'), average, 1e-6);
    await must('PUT', '/streams/anew', { ...anew, baseline: null, overrides: 'keep' });
    const after = await Promise.all(months.slice(0, 3).map(revenue));
    assert.deepEqual(after, before.slice(0, 3), 'as the method says');
    const refusals: [object, number, string][] = [
      [{ ...anew, from: '2026-09' }, 400, 'not all open'],
      [{ ...anew, to: '2050-01' }, 400, 'not all open'],
      [{ ...anew, from: '2027-03' }, 400, 'ends before it starts'],
      [{ ...anew, streams: [999_999] }, 404, 'forecast lines'],
      [
        { ...anew, baseline: { ...mean, settings: { span: { from: '2010-01', to: '2010-06' } } } },
        400,
        'none of the chosen months',
      ],
    ];
    for (const [body, status, message] of refusals) {
      const refused = await sample.planner.send('PUT', `${SAMPLE}/streams/anew`, {
        ...body,
        overrides: 'keep',
      });
      assert.equal(refused.status, status, refused.text);
      assert.include(refused.text, message);
    }
    await must('POST', '/overrides/drop', { overrides: 'all' });
  });

  it('a total typed over the forecast is spread to the cent, stands, and is dropped', async () => {
    const { dimensions } = await plan();
    const stores = dimensions[0]?.members[1]?.id ?? 0;
    const span = { from: '2026-11', to: '2027-01' };
    const total = async (): Promise<number> => {
      const { text } = await sample.planner.send(
        'GET',
        `${SAMPLE}/table?rows=channel&columns=time&from=2026-11&to=2027-01&grain=year&scope=${stores}`,
      );
      return (JSON.parse(text) as { total: { total: { value: number } } }).total.total.value;
    };
    const before = await total();
    const typed = { scope: [stores], ...span, measure: 'revenue', total: 1_234_567.89 };
    const stale = await sample.planner.send('POST', `${SAMPLE}/overrides`, {
      typed: [{ ...typed, saw: 1 }],
    });
    assert.equal(stale.status, 409);
    assert.closeTo(stale.problem?.conflicts?.[0]?.now ?? 0, before, 0.01);
    await must('POST', '/overrides', {
      typed: [{ ...typed, saw: before }],
      why: 'the chain said so',
    });
    assert.closeTo(await total(), 1_234_567.89, 1e-6);
    const overrides = (await plan()).overrides ?? [];
    const cents = overrides.reduce((sum, { value: one }) => sum + Math.round(one * 100), 0);
    assert.equal(cents, 123_456_789, 'the parts add up to the cent');
    assert.isTrue(overrides.every(({ by, why }) => by !== '' && why === 'the chain said so'));
    await must('PUT', '/drivers/listPrice/values', {
      values: [{ scope: [], month: '2026-12', value: 99 }],
    });
    assert.closeTo(await total(), 1_234_567.89, 1e-6, 'they stand when drivers change');
    const closed = { ...typed, from: '2026-09' };
    assert.equal(
      (await sample.planner.send('POST', `${SAMPLE}/overrides`, { typed: [closed] })).status,
      400,
    );
    const [one] = overrides;
    await must('POST', '/overrides/drop', {
      overrides: [one].map((row) => ({
        combination: row?.combination,
        month: row?.month,
        measure: row?.measure,
      })),
    });
    assert.lengthOf((await plan()).overrides ?? [], overrides.length - 1);
    await must('POST', '/overrides/drop', { overrides: 'all' });
    assert.isEmpty((await plan()).overrides);
    assert.equal(
      (await sample.planner.send('POST', `${SAMPLE}/overrides/drop`, { overrides: 'all' })).status,
      404,
    );
    await must('POST', '/undo');
    await must('POST', '/undo');
    assert.lengthOf((await plan()).overrides ?? [], overrides.length, 'all are back');
  });

  it('a plan file holds all of it and computes to the same numbers', async () => {
    const { body: file } = await sample.planner.send<PlanFile>('GET', `${SAMPLE}/plan-file`);
    const fromFile = evaluate(compile(file.plan as Plan));
    assert.isEmpty(
      checkPlan(file.plan as Plan).filter(
        ({ code }) => code !== 'missing-input' && code !== 'no-value',
      ),
    );
    const made = await sample.planner.send<{ id: number }>('POST', '/workspaces/plan-file', file);
    assert.equal(made.status, 201, made.text);
    const { body } = await sample.planner.send<WorkspacePlan>(
      'GET',
      `/workspaces/${made.body.id}/plan`,
    );
    const again = evaluate(compile(body.plan));
    assert.equal(again.streams.length, fromFile.streams.length);
    fromFile.streams.forEach(({ combination }, index) => {
      const label = fromFile.tree.label(combination.members);
      const other = again.streams.findIndex(
        (one) => again.tree.label(one.combination.members) === label,
      );
      for (let t = 0; t < fromFile.count; t += 1) {
        const [x, y] = [fromFile.results.revenue[index]?.[t], again.results.revenue[other]?.[t]];
        if (Number.isNaN(x)) assert.isNaN(y, label);
        else
          assert.closeTo(
            y ?? Number.NaN,
            x ?? Number.NaN,
            1e-6 * Math.max(1, Math.abs(x ?? 0)),
            label,
          );
      }
    });
  });

  it('merging members takes along what is typed over, and who reads whom', async () => {
    const { dimensions, streams, combinations } = await plan();
    const attached = streams.find(({ settings }) => settings?.attached);
    const source = combinations.find(({ id }) => id === attached?.settings?.attached?.combination);
    const regions = dimensions[3];
    const from = source?.members[3];
    const into = regions?.members.find(({ id }) => id !== from)?.id;
    await must('POST', `/dimensions/${regions?.code ?? ''}/members/${from ?? 0}/merge`, { into });
    const after = await plan();
    const combinationIds = new Set(after.combinations.map(({ id }) => id));
    for (const { settings } of after.streams) {
      if (settings?.attached) assert.isTrue(combinationIds.has(settings.attached.combination));
    }
    for (const { combination } of after.overrides ?? [])
      assert.isTrue(combinationIds.has(combination));
    evaluate(compile(after));
  });
});
