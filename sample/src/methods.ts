/** By which method each combination is forecast, and why; with the drivers that Ondwell adds. */
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
import { activeIn, startersIn } from './subscribers.ts';

export const FIRST_OPEN = monthFrom(CALENDAR.closedThrough) + 1;
export const LAST = monthFrom(CALENDAR.last);

const round = (value: number, digits: number): number =>
  Math.round(value * 10 ** digits) / 10 ** digits;

/** Combinations that are forecast: all but the discontinued carafe. */
export function forecastLines(): Line[] {
  return combinations().filter(({ product }) => product.to === undefined);
}

export function scopeOf({ channel, product, group, region }: Line): Record<string, string> {
  return { channel, product: product.code, group, region };
}

/** A combination's codes beside another one's: the same place, another product. */
const beside = (line: Line, product: string): Record<string, string> => ({
  ...scopeOf(line),
  product,
});

interface Chosen {
  readonly method: string;
  readonly settings: Readonly<Record<string, unknown>> & { readonly why: string };
}

/** What each cartridge is refilled into, where that is sold in the same place. */
const REFILLS: Readonly<Record<string, string>> = {
  'web cart-carafe': 'carafe-brook',
  'web cart-tap': 'tap-one',
  'stores cart-tap': 'tap-one',
  'office cart-disp': 'disp-floor',
};
/** How far back a refill looks: a filter lasts, and whoever bought one within a year buys again. */
const REFILL_MONTHS = { from: 1, to: 12 };

/** How a combination is forecast. */
export function chosenFor(line: Line): Chosen {
  const { channel, product } = line;
  const refilled = REFILLS[`${channel} ${product.code}`];
  if (refilled !== undefined) {
    const attached = { members: beside(line, refilled), ...REFILL_MONTHS };
    const why = 'Refills follow what was sold in the twelve months before';
    return { method: 'volumePrice', settings: { why, attached } };
  }
  if (product.code === 'plan-care' && line.region === 'capital') {
    const why = 'One framework contract with the office parks: what is invoiced is agreed';
    return { method: 'amount', settings: { why } };
  }
  if (product.code === 'plan-month') {
    const why = 'Who was there, less who leaves, plus who starts';
    const units = 'lag(units, 1) * (1 - refillChurn) + refillStarters';
    return { method: 'formula', settings: { why, formula: { units, revenue: null, names: [] } } };
  }
  if (product.code === 'plan-year') {
    const why = 'Yearly plans come from visits: quiz, trial, subscriber';
    return { method: 'funnel', settings: { why, funnel: funnelOf(line) } };
  }
  if (product.family === 'dispensers') {
    const why = 'The trade association counts the dispensers that are sold in each region';
    return { method: 'marketShare', settings: { why } };
  }
  if (channel === 'stores' && product.code === 'carafe-rill') {
    const why = 'Sold since May: there is no year to grow on yet';
    return { method: 'growthPeriod', settings: { why, of: 'units', base: 'quarter' } };
  }
  if (channel === 'stores' && product.family !== 'carafes') {
    const why = 'A long and steady history, and nothing planned that would change it';
    const baseline = { of: 'units', kind: 'best', settings: {} };
    return { method: 'baseline', settings: { why, baseline } };
  }
  if (product.family === 'under-sink') {
    const why = 'Installed with the building season, which comes back every year';
    return { method: 'growthLastYear', settings: { why, of: 'units' } };
  }
  if (product.code === 'cart-sink') {
    const why = 'The season repeats itself, and one rate can be argued about';
    return { method: 'growthLastYear', settings: { why, of: 'revenue' } };
  }
  return {
    method: 'volumePrice',
    settings: { why: 'Sold by the unit, with a price list that is known' },
  };
}

export function streams() {
  return forecastLines().map((line) => ({ members: scopeOf(line), ...chosenFor(line) }));
}

/** Visits, quizzes and trials behind the yearly plan; the truth behind the files of measured facts. */
export const FUNNEL = {
  quizRate: 0.15,
  trialRate: 0.12,
  subscribeRate: 0.4,
  costPerVisit: 0.8,
  trialCost: 4.5,
  referralYield: 0.3,
};
const SPEND_CUT = monthFrom('2026-06');

/** What the web shop had in a region in a month: visits by themselves and paid, referrals, spend. */
export function visitsIn(region: Region, month: Month) {
  const { weight } = REGIONS[region];
  const since = month - monthFrom(CALENDAR.first);
  const spend = Math.round((month >= SPEND_CUT ? 9000 : 13_500) * weight) * (1 + since * 0.004);
  return {
    own: Math.round(19_800 * weight * 1.008 ** since),
    spend: Math.round(spend),
    referrals: Math.round(310 * weight * 1.006 ** since),
  };
}

/** Everything that visits of a month became, as whole people. */
export function funnelIn(region: Region, month: Month) {
  const { own, spend, referrals } = visitsIn(region, month);
  const paid = Math.round(spend / FUNNEL.costPerVisit);
  const quizzes = Math.round((own + paid) * FUNNEL.quizRate);
  const referred = Math.round(referrals * FUNNEL.referralYield);
  return {
    own,
    spend,
    paid,
    referrals,
    quizzes,
    trials: Math.round(quizzes * FUNNEL.trialRate) + referred,
  };
}

function funnelOf({ region }: Line): object {
  const { trials } = funnelIn(region, FIRST_OPEN - 1);
  return {
    sources: [
      { name: 'Visits by themselves', kind: 'typed', drivers: ['ownVisits'], enters: 0 },
      { name: 'Paid visits', kind: 'paid', drivers: ['adSpend', 'costPerVisit'], enters: 0 },
      {
        name: 'Partner referrals',
        kind: 'times',
        drivers: ['referrals', 'referralYield'],
        enters: 2,
      },
    ],
    steps: [
      { name: 'Quiz', rate: 'quizRate', lag: 0, opening: [], cost: null },
      { name: 'Trial', rate: 'trialRate', lag: 0, opening: [], cost: 'trialCost' },
      { name: 'Subscriber', rate: 'subscribeRate', lag: 1, opening: [trials], cost: null },
    ],
  };
}

const ownDriver = (code: string, name: string, kind: string, more: object = {}) => ({
  code,
  name,
  kind,
  minimum: 0,
  ...more,
});

/** What the measured facts are called in their file. */
const MEASURES = {
  visits: 'Visits',
  own: 'Visits by themselves',
  paid: 'Paid visits',
  spend: 'Advertising',
  referrals: 'Partner referrals',
  quizzes: 'Quizzes taken',
  trials: 'Trials started',
  market: 'Dispensers sold by all',
} as const;
const measured = (measure: string, per: string | null = null) => ({ history: { measure, per } });

/** The drivers that Ondwell adds to those that methods read themselves, and where all of them are measured. */
export function drivers(): object[] {
  const percent = { maximum: 1, unit: '%' };
  const { visits, own, paid, spend, referrals, quizzes, trials, market } = MEASURES;
  return [
    { code: 'marketSize', ...measured(market) },
    ownDriver('ownVisits', 'Visits by themselves', 'count', { unit: 'visits', ...measured(own) }),
    ownDriver('adSpend', 'Advertising', 'money', {
      unit: 'a month',
      maximum: 250_000,
      ...measured(spend),
    }),
    ownDriver('costPerVisit', 'Cost of a paid visit', 'moneyPerUnit', {
      unit: 'per visit',
      maximum: 20,
      ...measured(spend, paid),
    }),
    ownDriver('referrals', 'Partner referrals', 'count', {
      unit: 'referrals',
      ...measured(referrals),
    }),
    ownDriver('referralYield', 'Trials of a referral', 'percent', percent),
    ownDriver('quizRate', 'Visits that take the quiz', 'percent', {
      ...percent,
      ...measured(quizzes, visits),
    }),
    ownDriver('trialRate', 'Quizzes that start a trial', 'percent', percent),
    ownDriver('subscribeRate', 'Trials that subscribe', 'percent', {
      ...percent,
      ...measured('units', trials),
    }),
    ownDriver('trialCost', 'Cost of a trial', 'moneyPerUnit', { unit: 'per trial', maximum: 100 }),
    ownDriver('refillStarters', 'New refill subscribers', 'count', { unit: 'a month' }),
    ownDriver('refillChurn', 'Refill subscribers that leave', 'percent', {
      ...percent,
      maximum: 0.5,
      // Whoever leaves was there the month before.
      weight: 'unitsBefore',
    }),
  ];
}

/** The file of measured facts: the web shop's funnel and the market of dispensers, by region. */
export function measuredRows(): string[] {
  const rows = ['month,measure,channel,product,region,value'];
  for (let month = monthFrom(CALENDAR.first); month < FIRST_OPEN; month += 1) {
    for (const region of Object.keys(REGIONS) as Region[]) {
      const { own, spend, paid, referrals, quizzes, trials } = funnelIn(region, month);
      const all = { visits: own + paid, own, paid, spend, referrals, quizzes, trials };
      for (const [key, value] of Object.entries(all)) {
        const name = MEASURES[key as keyof typeof all];
        rows.push([monthText(month), name, 'web', 'plan-year', region, value].join(','));
      }
      const market = [monthText(month), MEASURES.market, '', 'dispensers', region];
      rows.push([...market, marketIn(region, month)].join(','));
    }
  }
  return rows;
}

function months(value: (month: Month) => number): Record<string, number> {
  const values: Record<string, number> = {};
  for (let month = FIRST_OPEN; month <= LAST; month += 1) values[monthText(month)] = value(month);
  return values;
}

const assume = (driver: string, scope: object, profile: object, note: string): object => ({
  driver,
  scope,
  profile,
  note,
});
const value = (one: number): object => ({ kind: 'value', value: one });

/** Whether a combination's gross units are typed. */
const typed = (line: Line): boolean => {
  const { method, settings } = chosenFor(line);
  return method === 'volumePrice' && settings['attached'] === undefined;
};

/** Units that are typed: by the month; for the Rill in the web shop as a year with its season. */
function units(): object[] {
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
    const own = combinations().filter((line) => line.channel === channel);
    const all = (code: string, from: Month, until: Month): number => {
      let sum = 0;
      for (const line of own.filter((one) => one.product.code === code)) {
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
  const own = forecastLines().filter(({ product }) => product.family === 'dispensers');
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
  const shares = own
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

function plans(): object[] {
  const own = forecastLines().filter(({ product }) => product.family === 'plans');
  const agreed = own.filter((line) => chosenFor(line).method === 'amount');
  const monthly = own.filter(({ product }) => product.code === 'plan-month');
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
        'refillStarters',
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
    assume(
      'refillChurn',
      { product: 'plan-month' },
      value(0.034),
      'A little above what is usual since the trial offer',
    ),
  ];
}

function funnels(): object[] {
  const web = { channel: 'web', product: 'plan-year' };
  const regions = Object.keys(REGIONS) as Region[];
  const grows = (start: number, rate: number): object => ({
    kind: 'growth',
    start,
    startMonth: monthText(FIRST_OPEN),
    by: 'month',
    rate,
    stepMonth: 4,
  });
  const rates = ['quizRate', 'trialRate', 'subscribeRate', 'referralYield'] as const;
  return [
    ...regions.flatMap((region) => {
      const { own, spend, referrals } = visitsIn(region, FIRST_OPEN);
      const steps = [
        { from: monthText(FIRST_OPEN), value: spend },
        { from: '2027-04', value: Math.round(spend * 1.25) },
      ];
      return [
        assume('ownVisits', { ...web, region }, grows(own, 0.008), 'As over the last two years'),
        assume(
          'adSpend',
          { ...web, region },
          { kind: 'steps', steps },
          'A quarter more from April 2027',
        ),
        assume('referrals', { ...web, region }, grows(referrals, 0.006), 'Partners as they are'),
      ];
    }),
    ...rates.map((code) => assume(code, web, value(FUNNEL[code]), 'As measured')),
    assume('costPerVisit', web, value(FUNNEL.costPerVisit), 'As the advertisers charge'),
    assume('trialCost', web, value(FUNNEL.trialCost), 'A cartridge and the parcel'),
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
