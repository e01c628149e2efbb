/** Ondwell's own drivers, and what is measured of the world outside its books. */
import { monthFrom, monthText } from '@dravex/core';
import { CALENDAR, REGIONS, type Region } from './company.ts';
import { funnelIn, startersOfYear } from './funnels.ts';
import { FIRST_OPEN } from './assume.ts';
import { marketIn } from './method-assumptions.ts';

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
  starters: 'New yearly subscribers',
  market: 'Dispensers sold by all',
} as const;

const measured = (measure: string, per: string | null = null) => ({ history: { measure, per } });

/** The drivers that Ondwell adds to those that methods read themselves, and where all of them are measured. */
export function drivers(): object[] {
  const percent = { maximum: 1, unit: '%' };
  const { visits, own, paid, spend, referrals, quizzes, trials, starters, market } = MEASURES;
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
      ...measured(starters, trials),
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
      const starters = startersOfYear(region, month);
      const all = { visits: own + paid, own, paid, spend, referrals, quizzes, trials, starters };
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
