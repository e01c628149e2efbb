/** What Ondwell assumes for the methods of its forecast lines, each with the reason. */
import { monthFrom, monthText, type Month } from '@dravex/core';
import {
  CALENDAR,
  combinations,
  PRODUCTS,
  REGIONS,
  RILL_STARTS,
  type Line,
  type Region,
} from './company.ts';
import { discount, expectedUnits, listPrice, returnRate, seasonIn } from './demand.ts';
import { funnels } from './funnels.ts';
import { assume, FIRST_OPEN, months, round, scopeOf, value } from './assume.ts';
import { chosenFor, forecastLines, REFILLS } from './methods.ts';
import { activeIn, startersIn } from './subscribers.ts';

/** Whether a combination's gross units are typed. */
const typed = (line: Line): boolean => {
  const { method, settings } = chosenFor(line);
  return method === 'volumePrice' && settings['attached'] === undefined;
};

/** Units that are typed: by the month; for the Rill in the web shop as a year with its season. */
export function units(): object[] {
  return forecastLines()
    .filter(typed)
    .map((line) => {
      if (line.product.from === RILL_STARTS) {
        return assume(
          'grossUnits',
          scopeOf(line),
          annualUnits(line),
          'A year’s plan with the carafes’ season',
        );
      }
      const values = months((month) => Math.round(expectedUnits(line, month)));
      return assume(
        'grossUnits',
        scopeOf(line),
        { kind: 'months', values },
        'Last year and the trend',
      );
    });
}

/** Totals of the fiscal years and the weights of their months. */
function annualUnits(line: Line): object {
  const weights = Array.from({ length: 12 }, (_, place) =>
    round(expectedUnits(line, monthFrom('2027-01') + place) / line.base, 2),
  );
  const totals: Record<string, number> = {};
  for (const year of ['2026-04', '2027-04', '2028-04']) {
    let sum = 0;
    for (let t = 0; t < 12; t += 1) sum += expectedUnits(line, monthFrom(year) + t);
    totals[year] = Math.round(sum / 10) * 10;
  }
  return { kind: 'annual', totals, weights };
}

/** Refills for every unit that was sold in the twelve months before, as it is now. */
function attachRates(): object[] {
  return Object.entries(REFILLS).map(([key, to]) => {
    const [channel = '', product = ''] = key.split(' ');
    const linesOfChannel = combinations().filter((line) => line.channel === channel);
    const all = (code: string, from: Month, until: Month): number => {
      let sum = 0;
      for (const line of linesOfChannel.filter((one) => one.product.code === code)) {
        for (let month = from; month <= until; month += 1) sum += expectedUnits(line, month);
      }
      return sum;
    };
    const refills = all(product, FIRST_OPEN - 6, FIRST_OPEN + 5) / 12;
    const rate = refills / all(to, FIRST_OPEN - 12, FIRST_OPEN - 1);
    return assume(
      'attachRate',
      { channel, product },
      value(round(rate, 3)),
      'As in the last two half-years',
    );
  });
}

function growths(): object[] {
  const steps = [
    { from: monthText(FIRST_OPEN), value: 0.07 },
    { from: '2027-04', value: 0.06 },
    { from: '2028-04', value: 0.05 },
  ];
  const rill = [
    { from: '2026-10', value: -0.12 },
    { from: '2027-01', value: -0.05 },
    { from: '2027-04', value: 0.34 },
    { from: '2027-07', value: 0.05 },
    { from: '2027-10', value: -0.24 },
    { from: '2028-01', value: -0.04 },
    { from: '2028-04', value: 0.34 },
    { from: '2028-07', value: 0.04 },
    { from: '2028-10', value: -0.25 },
    { from: '2029-01', value: -0.04 },
  ];
  const stores = { channel: 'stores', product: 'carafe-rill' };
  return [
    assume('growth', { channel: 'trade' }, { kind: 'steps', steps }, 'Two more fitters a year'),
    assume('growth', { channel: 'web' }, value(0.04), 'Below the trend while advertising is cut'),
    assume(
      'periodGrowth',
      stores,
      { kind: 'steps', steps: rill },
      'The season of the other carafes',
    ),
  ];
}

/** Dispensers sold by everybody in a region in a month, floor and wall together. */
export function marketIn(region: Region, month: Month): number {
  const years = (month - monthFrom(CALENDAR.first)) / 12;
  const size = 1450 * REGIONS[region].weight * 1.05 ** years * seasonIn('dispensers', month);
  return Math.round(size / 5) * 5;
}

function markets(): object[] {
  const dispensers = forecastLines().filter(({ product }) => product.family === 'dispensers');
  const sizes = (Object.keys(REGIONS) as Region[]).map((region) => {
    const lastYear = Array.from({ length: 12 }, (_, t) => marketIn(region, FIRST_OPEN - 12 + t));
    const whole = lastYear.reduce((sum, one) => sum + one, 0);
    const profile = {
      kind: 'annual',
      totals: Object.fromEntries(
        ['2026-04', '2027-04', '2028-04'].map((year, place) => [
          year,
          Math.round(whole * 1.04 ** (place + 0.5)),
        ]),
      ),
      weights: Array.from({ length: 12 }, (_, t) =>
        seasonIn('dispensers', monthFrom('2027-01') + t),
      ),
    };
    return assume(
      'marketSize',
      { product: 'dispensers', region },
      profile,
      'The association expects 4 % a year',
    );
  });
  // The share is the same in every region: one line of each product and group tells it.
  const shares = dispensers
    .filter(({ region }) => region === 'north')
    .map((line) => {
      const year = (from: Month): number => {
        let sum = 0;
        let market = 0;
        for (let t = 0; t < 12; t += 1) {
          sum += expectedUnits(line, from + t) * (1 - returnRate(line));
          market += marketIn('north', from + t);
        }
        return sum / market;
      };
      const last = year(FIRST_OPEN - 12);
      const scope = { product: line.product.code, group: line.group };
      const steps = [
        { from: monthText(FIRST_OPEN), value: round(last, 4) },
        { from: '2027-04', value: round(last * 1.03, 4) },
        { from: '2028-04', value: round(last * 1.06, 4) },
      ];
      return assume(
        'marketShare',
        scope,
        { kind: 'steps', steps },
        'The office parks bring a little more each year',
      );
    });
  return [...sizes, ...shares];
}

/** Of those with a care plan, so many leave in a month; of yearly plans, so many are not renewed. */
export const CARE_CHURN = 0.012;
export const NOT_RENEWED = 0.4;

export function plans(): object[] {
  const planLines = forecastLines().filter(({ product }) => product.family === 'plans');
  const agreed = planLines.filter((line) => chosenFor(line).method === 'amount');
  const care = planLines.filter(
    (line) => line.product.code === 'plan-care' && chosenFor(line).method === 'subscription',
  );
  const monthly = planLines.filter(({ product }) => product.code === 'plan-month');
  const euros = (line: Line, month: Month): number =>
    Math.round(
      (expectedUnits(line, month) * listPrice(line.product, month) * (1 - discount(line, month))) /
        100,
    ) * 100;
  return [
    ...agreed.map((line) =>
      assume(
        'amount',
        scopeOf(line),
        { kind: 'months', values: months((month) => euros(line, month)) },
        'Contracts as signed',
      ),
    ),
    ...monthly.map((line) =>
      assume(
        chosenFor(line).method === 'formula' ? 'refillStarters' : 'newSubscribers',
        { channel: line.channel, product: line.product.code, region: line.region },
        {
          kind: 'growth',
          start: Math.round(startersIn(line, FIRST_OPEN)),
          startMonth: monthText(FIRST_OPEN),
          by: 'month',
          rate: 0.006,
          stepMonth: 4,
        },
        'As before, slowly more',
      ),
    ),
    ...care.map((line) =>
      assume(
        'newSubscribers',
        scopeOf(line),
        {
          kind: 'months',
          values: months((month) => {
            const [before, then] = [expectedUnits(line, month - 1), expectedUnits(line, month)];
            return Math.max(0, Math.round(then - before * (1 - CARE_CHURN)));
          }),
        },
        'Contracts that are signed',
      ),
    ),
    assume('churnRate', { product: 'plan-care' }, value(CARE_CHURN), 'Few offices leave'),
    assume(
      'churnRate',
      { product: 'plan-year' },
      value(NOT_RENEWED),
      'Of ten whose year ends, six renew',
    ),
    ...['churnRate', 'refillChurn'].map((driver) =>
      assume(
        driver,
        { product: 'plan-month' },
        value(0.034),
        'A little above what is usual since the trial offer',
      ),
    ),
  ];
}

/** Goods cost what they are bought for; of a plan a share of what it brings is spent on it. */
function costs(): object[] {
  return PRODUCTS.map((product) =>
    product.family === 'plans'
      ? assume('costShare', { product: product.code }, value(product.costShare), 'As in the books')
      : assume(
          'unitCost',
          { product: product.code },
          value(round(listPrice(product, FIRST_OPEN) * product.costShare, 2)),
          'Purchase prices as agreed',
        ),
  );
}

/** What the methods read besides price, discount and returns. */
export function methodAssumptions(): object[] {
  return [
    ...units(),
    ...attachRates(),
    ...growths(),
    ...markets(),
    ...plans(),
    ...funnels(),
    ...costs(),
  ];
}

/** Units of a month as they were, or would be, without chance. */
export function monthly(line: Line, month: Month): number {
  return line.product.code === 'plan-month' ? activeIn(line, month) : expectedUnits(line, month);
}
