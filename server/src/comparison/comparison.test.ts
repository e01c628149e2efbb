import type { Comparison, Table } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('the comparison', () => {
  const sample = withSample();

  const ask = (query: string) =>
    sample.planner.send<Comparison>('GET', `${SAMPLE}/comparison?version=1&${query}`);
  const table = async (query: string): Promise<Table> =>
    (await sample.planner.send<Table>('GET', `${SAMPLE}/table?${query}`)).body;
  const FRAME = 'rows=channel,product&from=2026-04&to=2027-03';

  it('has the numbers of the two tables, cut at the last closed month', async () => {
    for (const measure of ['revenue', 'units', 'cost', 'averagePrice']) {
      const { status, body, text } = await ask(`measure=${measure}&${FRAME}`);
      assert.equal(status, 200, text);
      assert.isTrue(body.cut, 'the open months are not compared');
      // What closed months have is actuals, of the forecast line too.
      const closed = `measure=${measure}&rows=channel,product&from=2026-04&to=2026-09`;
      const [actual, planned] = [await table(closed), await table(`${closed}&version=1`)];
      assert.deepEqual(body.total?.actual, actual.total.total, measure);
      assert.deepEqual(body.total?.plan, planned.total.total, measure);
      const kept = new Map(planned.rows.map((row) => [row.key, row.total]));
      const sold = new Map(actual.rows.map((row) => [row.key, row.total]));
      assert.sameMembers(
        body.rows.map(({ key }) => key),
        [...new Set([...kept.keys(), ...sold.keys()])],
      );
      for (const row of body.rows) {
        if (row.variance) {
          const { value: now } = sold.get(row.key) ?? { value: 0 };
          const { value: then } = kept.get(row.key) ?? { value: 0 };
          assert.closeTo(row.variance.amount, (now ?? 0) - (then ?? 0), 1e-6, row.label);
        }
      }
    }
  });

  it('judges by what the measure means: more cost is bad, more revenue good', async () => {
    for (const [measure, more] of [
      ['revenue', 'good'],
      ['cost', 'bad'],
    ] as const) {
      const { body } = await ask(`measure=${measure}&${FRAME}`);
      const judged = body.rows.flatMap(({ variance }) => variance ?? []);
      assert.isNotEmpty(judged);
      for (const { amount, judgement } of judged) {
        const other = more === 'good' ? 'bad' : 'good';
        assert.equal(judgement, amount === 0 ? 'even' : amount > 0 ? more : other);
      }
    }
  });

  it('says in its file which measure, unit, version and period, and money to the cent', async () => {
    const { text } = await sample.planner.send(
      'GET',
      `${SAMPLE}/comparison.csv?version=1&measure=revenue&${FRAME}`,
    );
    const [head = '', ...lines] = text
      .replace(/^\uFEFF/, '')
      .trim()
      .split('\r\n');
    assert.equal(
      head,
      'Channel,Product,Period,"Actual, Revenue, EUR","Budget FY 2027, Revenue, EUR","Variance, Revenue, EUR","Variance, fraction",Judgement',
    );
    const { body } = await ask(`measure=revenue&${FRAME}`);
    assert.lengthOf(lines, body.rows.length + 1);
    const total = lines.at(-1)?.split(',') ?? [];
    assert.equal(total[2], '2026-04 to 2026-09');
    assert.equal(total[3], body.total?.actual.value?.toFixed(2));
    assert.match(total[5] ?? '', /^-?\d+\.\d\d$/);
  });

  it('refuses what cannot be compared, with what to do', async () => {
    assert.equal((await ask('measure=joy&rows=channel&from=2026-04&to=2026-09')).status, 400);
    assert.equal((await ask('measure=revenue&rows=planet&from=2026-04&to=2026-09')).status, 400);
    const turned = await ask('measure=revenue&rows=channel&from=2026-09&to=2026-04');
    assert.equal(turned.problem?.errors?.[0]?.path, 'to');
    const nobody = await sample.planner.send(
      'GET',
      `${SAMPLE}/comparison?version=999&measure=revenue&rows=channel&from=2026-04&to=2026-09`,
    );
    assert.equal(nobody.status, 404);
    const open = `version=1&measure=revenue&rows=channel&from=2026-11&to=2027-03`;
    const { body } = await sample.planner.send<Comparison>('GET', `${SAMPLE}/comparison?${open}`);
    assert.isNull(body.span);
    const file = await sample.planner.send('GET', `${SAMPLE}/comparison.csv?${open}`);
    assert.include(file.problem?.detail, 'nothing to compare');
  });
});
