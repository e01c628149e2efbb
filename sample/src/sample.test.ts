/** The sample must show what the job is about; this holds its files to that. */
import { readdirSync, readFileSync } from 'node:fs';
import { METHODS } from '@dravex/core';
import { assert } from 'chai';
import { parse } from 'csv-parse/sync';
import { SELLERS } from './company.ts';
import { faultyFile } from './faulty.ts';
import { FAULTY_FILE, SAMPLE_FOLDER } from './index.ts';
import { streams } from './methods.ts';
import { drivers } from './drivers.ts';
import { assumptions, budgetRows } from './plans.ts';
import { targets } from './targets.ts';
import { Random } from './random.ts';

type Row = Record<string, string>;

const rowsOf = (text: string): Row[] => parse(text, { columns: true });
const read = (name: string): string => readFileSync(`${SAMPLE_FOLDER}/${name}`, 'utf8');
const amount = (rows: readonly Row[], column = 'net amount'): number =>
  rows.reduce((sum, row) => sum + Number(row[column]), 0);

describe('the sample company', () => {
  const sales = readdirSync(`${SAMPLE_FOLDER}/sales`).flatMap((file) =>
    rowsOf(read(`sales/${file}`)),
  );
  const budget = rowsOf(read('budget-fy2027.csv'));
  const year = sales.filter(({ date = '' }) => date >= '2026-04-01' && date <= '2026-09-30');

  it('has 42 months of sales lines, at least 60,000, and some days of October', () => {
    const months = new Set(sales.map(({ date = '' }) => date.slice(0, 7)));
    assert.equal(months.size, 43);
    assert.isAtLeast(sales.filter(({ date = '' }) => date < '2026-10-01').length, 60_000);
    const october = sales.filter(({ date = '' }) => date >= '2026-10-01');
    assert.isTrue(october.length > 0 && october.every(({ date = '' }) => date <= '2026-10-12'));
  });

  it('has every document line once', () => {
    const lines = new Set(sales.map((row) => `${row['document']} ${row['line number']}`));
    assert.equal(lines.size, sales.length);
  });

  it('is forecast by every method, each with its reason', () => {
    const sampleStreams = streams();
    assert.sameMembers(
      [...new Set(sampleStreams.map(({ method }) => method))],
      Object.keys(METHODS),
    );
    assert.isTrue(sampleStreams.every(({ settings }) => settings.why.length > 20));
    assert.isTrue(sampleStreams.some(({ settings }) => settings['attached'] !== undefined));
  });

  it('has a channel below budget and one above', () => {
    const against = (channel: string): number => {
      const planned = budget.filter(
        (row) => row['channel'] === channel && (row['month'] ?? '') < '2026-10',
      );
      return (
        amount(year.filter((row) => row['channel'] === channel)) / amount(planned, 'revenue') - 1
      );
    };
    assert.isBelow(against('web'), -0.03);
    assert.isAbove(against('office'), 0.03);
  });

  it('has a discontinued product, a new one, and a price that stepped up', () => {
    const months = (product: string): string[] =>
      sales
        .filter((row) => row['product'] === product)
        .map(({ date = '' }) => date.slice(0, 7))
        .sort();
    assert.equal(months('carafe-dew').at(-1), '2026-05');
    assert.equal(months('carafe-rill')[0], '2026-05');
    const price = (month: string): number => {
      const lines = sales.filter(
        ({ date, product, channel, quantity }) =>
          date?.startsWith(month) &&
          product === 'tap-duo' &&
          channel === 'web' &&
          Number(quantity) > 0,
      );
      return amount(lines) / amount(lines, 'quantity');
    };
    assert.closeTo(price('2025-06') / price('2025-04'), 1.04, 0.005);
  });

  it('has a November offer that sells more for less', () => {
    const carafes = (month: string): Row[] =>
      sales.filter(
        ({ date, product, channel }) =>
          date?.startsWith(month) && product === 'carafe-brook' && channel === 'web',
      );
    const [october, november] = [carafes('2025-10'), carafes('2025-11')];
    assert.isAbove(amount(november, 'quantity'), amount(october, 'quantity') * 1.3);
    assert.isBelow(
      amount(november) / amount(november, 'quantity'),
      amount(october) / amount(october, 'quantity'),
    );
  });

  it('has a seller who left in mid-year, and nobody else gone', () => {
    for (const { code, left } of SELLERS) {
      const last =
        sales
          .filter(({ seller }) => seller === code)
          .map(({ date = '' }) => date)
          .sort()
          .at(-1) ?? '';
      if (left === undefined) assert.isAbove(last.localeCompare('2026-10-01'), 0, code);
      else assert.isAtMost(last.localeCompare(left), 0, code);
    }
  });

  it('has one cohort of subscribers that leaves faster than the others', () => {
    const left = (cohort: string, start: string, after: string): number => {
      const active = (month: string): number =>
        amount(
          sales.filter(
            ({ customer, date }) => customer === `from ${cohort}` && date?.startsWith(month),
          ),
          'quantity',
        );
      return 1 - active(after) / active(start);
    };
    const usual = left('2026-02', '2026-02', '2026-08');
    const trial = left('2026-03', '2026-03', '2026-09');
    assert.isBelow(usual, 0.25);
    assert.isAbove(trial, 0.5);
  });

  it('comes out of its generator as it is kept', () => {
    assert.deepEqual(JSON.parse(read('streams.json')), { streams: streams() });
    assert.deepEqual(JSON.parse(read('drivers.json')), drivers());
    assert.deepEqual(
      JSON.parse(read('assumptions.json')),
      JSON.parse(JSON.stringify({ assumptions: assumptions() })),
    );
    assert.deepEqual(JSON.parse(read('targets.json')), JSON.parse(JSON.stringify(targets())));
    assert.equal(read('budget-fy2027.csv'), `${budgetRows(new Random(20_260_931)).join('\n')}\n`);
    assert.equal(readFileSync(FAULTY_FILE, 'utf8'), faultyFile());
  });
});
