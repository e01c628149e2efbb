import type { ComparisonAnswer, TargetTree, WorkspacePlan } from '@dravex/contract';
import {
  DRIVER_STEPS,
  monthFrom,
  REVENUE_STEPS,
  type Comparison,
  type MeasuredTable,
  type Table,
} from '@dravex/core';
import { assert } from 'chai';
import ExcelJS from 'exceljs';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('the comparison', () => {
  const sample = withSample();

  const ask = (query: string) =>
    sample.planner.send<Comparison>('GET', `${SAMPLE}/comparison?version=1&${query}`);
  const table = async (query: string): Promise<Table> =>
    (await sample.planner.send<Table>('GET', `${SAMPLE}/table?${query}`)).body;
  const FRAME = 'rows=channel,product&from=2026-04&to=2027-03';

  it('holds subscriptions against a budget: closed months by records, and the same numbers as each side', async () => {
    const { body: versions } = await sample.planner.send<{ id: number }[]>(
      'GET',
      `${SAMPLE}/versions`,
    );
    const version = versions[0]?.id ?? 0;
    const of = async (measure: string, window: string, side: string) => {
      const frame = `measure=${measure}&rows=product&${window}`;
      const { body, status, text } = await sample.planner.send<Comparison>(
        'GET',
        `${SAMPLE}/comparison?${frame}&of=${side}&version=${version}`,
      );
      assert.equal(status, 200, text);
      const total = async (more: string): Promise<number | null | undefined> =>
        (
          await sample.planner.send<MeasuredTable>(
            'GET',
            `${SAMPLE}/table/measured?measures=${measure}&rows=product&${window}${more}`,
          )
        ).body.totals[0]?.total.value;
      const [forecast, kept] = [await total(''), await total(`&version=${version}`)];
      assert.equal(body.total?.actual.value, forecast);
      assert.equal(body.total?.plan.value, kept);
      return body;
    };
    for (const measure of [
      'newSubscribers',
      'activeSubscribers',
      'recurringRevenue',
      'netRetention',
    ]) {
      const { rows, total } = await of(measure, 'from=2026-10&to=2027-03', 'forecast');
      assert.isNotEmpty(rows);
      assert.isTrue(rows.every(({ label }) => !label.includes('Carafe')));
      assert.isNotNull(total?.variance);
    }
    const closed = await of('newSubscribers', 'from=2026-04&to=2026-09', 'actual');
    const monthly = closed.rows.find(({ label }) => label === 'Refill plan, monthly');
    assert.isAbove(monthly?.actual.value ?? 0, 1000, 'who came is in subscriber records');
    const year = await sample.planner.send<Comparison>(
      'GET',
      `${SAMPLE}/comparison?measure=activeSubscribers&rows=product&from=2026-04&to=2026-09&of=actual&against=lastYear`,
    );
    assert.isAbove(year.body.total?.plan.value ?? 0, 1000);
  });

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

  it('holds any source against any other, over the months that both have', async () => {
    const sides = (query: string) =>
      sample.planner.send<ComparisonAnswer>('GET', `${SAMPLE}/comparison?${query}`);
    const total = async (query: string): Promise<number | null> =>
      (await table(`measure=revenue&rows=channel&${query}`)).total.total.value;
    // The whole year: what was sold and is forecast, against the budget's year.
    const year = 'from=2026-04&to=2027-03';
    const { body: whole } = await sides(`rows=channel&${year}&of=forecast&against=version:1`);
    assert.deepInclude(whole.names, { actual: 'Forecast', plan: 'Budget FY 2027' });
    assert.isFalse(whole.cut);
    assert.equal(whole.total?.actual.value, await total(year));
    assert.equal(whole.total?.plan.value, await total(`${year}&version=1`));
    const { body: before } = await sides(`rows=channel&${year}&against=lastYear`);
    assert.deepEqual(before.span, { from: monthFrom('2026-04'), to: monthFrom('2026-09') });
    assert.equal(before.total?.plan.value, await total('from=2025-04&to=2025-09'));
    const { body: long } = await sides(`rows=channel&${year}&of=lastYear&against=yearBeforeLast`);
    assert.equal(long.total?.actual.value, await total('from=2025-04&to=2026-03'));
    assert.equal(long.total?.plan.value, await total('from=2024-04&to=2025-03'));
    // Twelve months against six are six against six, and a year without a common month is nothing.
    const { body: cut } = await sides('rows=channel&from=2025-10&to=2026-09&version=1');
    assert.deepInclude(cut, { cut: true, span: before.span });
    const { body: apart } = await sides('rows=channel&from=2025-04&to=2026-03&version=1');
    assert.deepInclude(apart, { span: null, rows: [], total: null, bridge: null });
    const none = await sample.planner.send(
      'GET',
      `${SAMPLE}/comparison.csv?rows=channel&from=2025-04&to=2026-03&version=1`,
    );
    assert.equal(none.status, 400);
    assert.include(none.text, 'Actual and Budget FY 2027 have no month');
    const file = await sample.planner.send(
      'GET',
      `${SAMPLE}/comparison.csv?rows=channel&${year}&of=forecast&against=lastYear`,
    );
    assert.include(
      file.text.split('\r\n')[0] ?? '',
      '"Forecast, Revenue, EUR","Last year, Revenue',
    );
  });

  it('holds the target and others beside: where each channel ends against all of them', async () => {
    const year = 'from=2026-04&to=2027-03';
    const ask = (query: string) =>
      sample.planner.send<ComparisonAnswer>('GET', `${SAMPLE}/comparison?${query}`);
    const whole = `rows=channel&${year}&of=forecast&version=1&beside=target,lastYear`;
    const { body, text } = await ask(whole);
    assert.deepEqual(body.names.beside, ['Target FY 2027', 'Last year'], text);
    const { nodes } = (await sample.planner.send<TargetTree>('GET', `${SAMPLE}/targets/2027`)).body;
    const [target, before] = body.total?.beside ?? [];
    assert.equal(target?.plan.value, (nodes[0]?.amount ?? NaN) / 100);
    const alone = await ask(`rows=channel&${year}&of=forecast&against=lastYear`);
    assert.deepEqual(before?.plan, alone.body.total?.plan);
    // The web shop's target is that of the web shops of all areas.
    const web = body.rows.find(({ label }) => label === 'Web shop');
    const shops = nodes.filter(({ name }) => name === 'Web shop');
    const sum = shops.reduce((all, { amount }) => all + amount, 0) / 100;
    assert.closeTo(web?.beside[0]?.plan.value ?? NaN, sum, 0.005);
    assert.lengthOf(web?.beside[0]?.of ?? [], shops.length);
    // Half the year is half of each: unlike spans are cut for all.
    const half = await ask(`rows=region&${year}&version=1&beside=target`);
    const north = half.body.rows.find(({ label }) => label === 'North')?.beside[0]?.plan.value;
    const months = nodes.find(({ name }) => name === 'North')?.months?.slice(0, 6) ?? [];
    assert.closeTo(north ?? NaN, months.reduce((a, b) => a + b, 0) / 100, 0.005);
    const file = await sample.planner.send('GET', `${SAMPLE}/comparison.csv?${whole}`);
    assert.include(
      file.text.split('\r\n')[0] ?? '',
      '"Target FY 2027, Revenue, EUR","Variance from Target FY 2027, Revenue, EUR"',
    );
    for (const [query, said] of [
      ['beside=budget', 'beside are target, actual'],
      ['beside=lastYear,lastYear', 'each is named once'],
      ['beside=target&measure=cost', 'FY 2027 has no target in cost'],
      ['beside=actual,forecast,lastYear,yearBeforeLast,target', 'at most 4'],
    ] as const) {
      const refused = await ask(`rows=channel&${year}&version=1&${query}`);
      assert.equal(refused.status, 400, query);
      assert.include(refused.text, said);
    }
    const gone = await ask(`rows=channel&${year}&version=1&beside=version:99`);
    assert.equal(gone.status, 404);
  });

  it('says why revenue differs, in steps that add up to the difference', async () => {
    for (const rows of ['channel', 'product', 'channel,product', 'region,group']) {
      const { body } = await ask(`rows=${rows}&from=2026-04&to=2027-03`);
      const { bridge } = body as ComparisonAnswer;
      assert.isNotNull(bridge);
      if (!bridge) return;
      const steps = REVENUE_STEPS.reduce((sum, step) => sum + bridge[step], 0);
      assert.closeTo(steps, body.total?.variance?.amount ?? NaN, 1e-6, rows);
    }
    const { body } = await ask(`measure=units&${FRAME}`);
    assert.isNull((body as ComparisonAnswer).bridge);
  });

  it('stands month by month and measure by measure, and a target on either side', async () => {
    const compared = async (query: string): Promise<ComparisonAnswer> => {
      const path = `${SAMPLE}/comparison?rows=channel&from=2026-04&to=2027-03&${query}`;
      const { status, body, text } = await sample.planner.send<ComparisonAnswer>('GET', path);
      assert.equal(status, 200, text);
      return body;
    };
    const { across, total } = await compared('version=1&across=month');
    assert.equal(across?.columns.length, 13);
    const cells = across?.total?.cells ?? [];
    // Actual ends in September: from October on nothing is compared, and nothing is 0.
    assert.deepEqual(
      cells.map((cell) => cell !== null),
      [true, ...Array.from({ length: 12 }, (_, month) => month < 6)],
    );
    assert.equal(cells[0]?.variance?.amount, total?.variance?.amount);
    const june = await table('rows=channel&from=2026-06&to=2026-06&version=1');
    assert.closeTo(cells[3]?.plan.value ?? NaN, june.total.total.value ?? NaN, 1e-6);
    const three = await compared('version=1&across=month&beside=lastYear,target');
    const [lastYear, target2] = three.across?.total?.cells[3]?.beside ?? [];
    const inJune = await sample.planner.send<ComparisonAnswer>(
      'GET',
      `${SAMPLE}/comparison?rows=channel&from=2026-06&to=2026-06&version=1&beside=lastYear,target`,
    );
    assert.deepEqual(lastYear, inJune.body.total?.beside[0]);
    assert.closeTo(target2?.plan.value ?? NaN, inJune.body.total?.beside[1]?.plan.value ?? 0, 1e-6);
    const measures = await compared('version=1&across=measures&measures=units,revenue,marginRate');
    for (const [place, measure] of (['units', 'revenue', 'marginRate'] as const).entries()) {
      const alone = await compared(`version=1&measure=${measure}`);
      const cell = measures.across?.total?.cells[place];
      assert.deepEqual(cell?.variance, alone.total?.variance, measure);
    }
    const target = await compared('against=target&of=forecast');
    const turned = await compared('of=target&against=forecast');
    const beside = await compared('of=forecast&version=1&beside=target');
    assert.isAbove(target.total?.plan.value ?? 0, 0);
    assert.equal(target.total?.plan.value, beside.total?.beside[0]?.plan.value);
    assert.equal(turned.total?.variance?.amount, -(target.total?.variance?.amount ?? NaN));
    assert.isNull(target.bridge, 'of a target nothing says why');
    const file = `rows=channel&from=2026-04&to=2026-06&version=1&across=month`;
    const saved = await sample.planner.send('GET', `${SAMPLE}/comparison.csv?${file}`);
    const csv = saved.text.trim().split('\r\n');
    assert.include(csv[0], 'Variance, fraction');
    assert.lengthOf(csv.at(-1)?.split(',') ?? [], 1 + 4 * 4);
    const book = new ExcelJS.Workbook();
    const bytes = await sample.planner.readFile(`${SAMPLE}/comparison.xlsx?${file}`);
    await book.xlsx.load(bytes.buffer as ArrayBuffer);
    const [sheet] = book.worksheets;
    const formulas: string[] = [];
    sheet?.eachRow((row) =>
      row.eachCell((cell) => {
        if (!cell.formula) return;
        formulas.push(cell.formula);
        const [one, other] = cell.formula.split('-').map((at) => Number(sheet.getCell(at).value));
        if (/^[A-Z]+\d+-[A-Z]+\d+$/.test(cell.formula)) {
          assert.closeTo(Number(cell.result), (one ?? NaN) - (other ?? NaN), 0.011, cell.formula);
        }
      }),
    );
    assert.isAbove(formulas.length, 30);
  });

  it('says what cannot be compared', async () => {
    for (const [query, said] of [
      ['', 'name what it is compared with'],
      ['version=1&against=forecast', 'name what it is compared with'],
      ['against=budget', 'a side is target, actual, forecast'],
      ['against=version:0', 'a side is target, actual, forecast'],
      ['of=target&against=target', 'compared with something else'],
      ['of=target&version=1&across=measures&measures=revenue,units', 'set in one measure'],
      ['of=target&version=1&measure=cost', 'has no target in cost'],
      ['version=1&across=measures', 'name the measures'],
      ['version=1&across=decade', 'across'],
      ['version=1&measures=revenue', 'several measures stand across=measures'],
      ['version=1&across=measures&measures=revenue,revenue', 'each is named once'],
    ] as const) {
      const { status, text } = await sample.planner.send(
        'GET',
        `${SAMPLE}/comparison?${FRAME}&${query}`,
      );
      assert.equal(status, 400, query);
      assert.include(text, said);
    }
    const gone = await sample.planner.send(
      'GET',
      `${SAMPLE}/comparison?${FRAME}&against=version:99`,
    );
    assert.equal(gone.status, 404);
  });

  it('is by who sold and who bought, of sales and their earlier years, to the cent', async () => {
    const ask = (query: string) =>
      sample.planner.send<ComparisonAnswer>('GET', `${SAMPLE}/comparison?${query}`);
    const window = 'from=2026-04&to=2026-09&against=lastYear';
    const { plan } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
    const ofCode = (code: string): number =>
      plan.dimensions.flatMap(({ members }) => members).find((one) => one.code === code)?.id ?? 0;
    for (const scope of [
      '',
      String(ofCode('trade')),
      `${ofCode('trade')},${ofCode('under-sink')}`,
    ]) {
      for (const measure of ['revenue', 'units', 'marginRate']) {
        const asked = `${window}&measure=${measure}&scope=${scope}`;
        const whole = (await ask(`${asked}&rows=channel,product`)).body;
        for (const rows of ['seller', 'customer', 'seller,customer', 'product,seller']) {
          const { body, status, text } = await ask(`${asked}&rows=${rows}`);
          assert.equal(status, 200, text);
          const { total } = body;
          const of = `${rows} of ${scope}, ${measure}`;
          assert.closeTo(total?.actual.value ?? NaN, whole.total?.actual.value ?? NaN, 1e-6, of);
          assert.closeTo(total?.plan.value ?? NaN, whole.total?.plan.value ?? NaN, 1e-6, of);
          if (measure !== 'revenue') continue;
          assert.isNotNull(body.bridge);
          assert.isNull(body.drivers);
          const own = body.rows.filter(({ level }) => level === 0);
          const sum = own.reduce((all, { actual }) => all + (actual.value ?? 0), 0);
          assert.closeTo(sum, total?.actual.value ?? NaN, 1e-6, of);
        }
      }
    }
    const sellers = (await ask(`${window}&rows=seller`)).body.rows.map(({ label }) => label);
    assert.include(sellers, 'Ivo Tarnow', 'by the name that targets have');
    assert.include(sellers, 'No seller');
    // A line that two share is each one's by its part, as in targets.
    const { rows: lines } = await sample.served.connections.pool.query<{ net: string }>(
      `select sum(s.net_amount)::text as net from seller_month s join import_batch b
        on b.workspace_id = s.workspace_id and b.id = s.batch_id and b.state = 'applied'
        where s.seller = 'S01' and s.month between '2026-04-01' and '2026-09-01'`,
    );
    const ivo = (await ask(`${window}&rows=seller`)).body.rows.find(
      ({ label }) => label === 'Ivo Tarnow',
    );
    assert.closeTo(ivo?.actual.value ?? NaN, Number(lines[0]?.net) / 100, 1e-6);
    const across = (await ask(`${window}&rows=seller&across=month&beside=yearBeforeLast`)).body;
    assert.equal(across.across?.columns.length, 7);
    const books = (await ask(`${window}&rows=customer&origin=books`)).body;
    const all = (await ask(`${window}&rows=channel&origin=books`)).body;
    assert.closeTo(books.total?.actual.value ?? NaN, all.total?.actual.value ?? NaN, 1e-6);
    const csv = await sample.planner.readFile(`${SAMPLE}/comparison.csv?${window}&rows=seller`);
    assert.include(csv.toString(), 'Ivo Tarnow,2026-04 to 2026-09,');
  });

  it('says of what is not known by seller that it is not', async () => {
    for (const against of ['version:1', 'forecast', 'target']) {
      const { status, problem } = await sample.planner.send(
        'GET',
        `${SAMPLE}/comparison?from=2026-04&to=2026-09&rows=seller&against=${against}`,
      );
      assert.equal(status, 400);
      assert.include(problem?.detail, 'Sellers and customers are known of sales');
    }
    const subscribers = await sample.planner.send(
      'GET',
      `${SAMPLE}/comparison?from=2026-04&to=2026-09&rows=seller&against=lastYear&measure=activeSubscribers`,
    );
    assert.equal(subscribers.status, 400);
    const twice = await sample.planner.send(
      'GET',
      `${SAMPLE}/comparison?from=2026-04&to=2026-09&rows=seller,seller&against=lastYear`,
    );
    assert.equal(twice.status, 400);
  });

  it('says of subscriptions who came and who left', async () => {
    const { plan } = (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
    const plans = plan.dimensions
      .flatMap(({ members }) => members)
      .find(({ code }) => code === 'plans');
    const asked = `from=2026-04&to=2026-09&rows=product&scope=${plans?.id}&version=1`;
    const { body } = await sample.planner.send<ComparisonAnswer>(
      'GET',
      `${SAMPLE}/comparison?${asked}`,
    );
    const { drivers } = body;
    assert.isNotNull(drivers);
    if (!drivers) return;
    const steps = DRIVER_STEPS.reduce((all, step) => all + drivers[step], 0);
    assert.closeTo(drivers.plan + steps, drivers.actual, 1e-6);
    assert.notEqual(drivers.newSubscribers, 0);
    assert.notEqual(drivers.churnRate, 0);
    // What entered the funnel and how much of it came through was measured in both years.
    const years = (
      await sample.planner.send<ComparisonAnswer>(
        'GET',
        `${SAMPLE}/comparison?${asked.replace('version=1', 'against=lastYear')}`,
      )
    ).body.drivers;
    assert.isNotNull(years);
    assert.notEqual(years?.entered, 0);
    assert.notEqual(years?.conversion, 0);
    const all = DRIVER_STEPS.reduce((sum, step) => sum + (years?.[step] ?? 0), 0);
    assert.closeTo((years?.plan ?? 0) + all, years?.actual ?? NaN, 1e-6);
  });
});
