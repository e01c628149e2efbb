/** How Ondwell wins subscribers: visits, referrals, and what becomes of them, region by region. */
import { monthFrom, monthText, type Month } from '@dravex/core';
import { CALENDAR, REGIONS, type Line, type Region } from './company.ts';
import { assume, FIRST_OPEN, value } from './assume.ts';

/** Visits, quizzes and trials behind the yearly plan; the truth behind the files of measured facts. */
export const FUNNEL = {
  quizRate: 0.15,
  trialRate: 0.12,
  subscribeRate: 0.16,
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
  // Whoever a partner sends tries a month later.
  const before = visitsIn(region, month - 1);
  const referred = Math.round(before.referrals * FUNNEL.referralYield);
  return {
    own,
    spend,
    paid,
    referrals,
    quizzes,
    trials: Math.round(quizzes * FUNNEL.trialRate) + referred,
  };
}

/** Where a yearly plan ends with its year: whoever stays tries and subscribes anew. */
export const ENDS_WITH_ITS_YEAR: Region = 'capital';
/** Of those who try there, the ones who had it before are among them. */
const SUBSCRIBE_ANEW = 0.4;
const subscribing = (region: Region): number =>
  region === ENDS_WITH_ITS_YEAR ? SUBSCRIBE_ANEW : FUNNEL.subscribeRate;

/** New yearly subscribers of a month: those who tried the month before, and stay. */
export const startersOfYear = (region: Region, month: Month): number =>
  Math.round(funnelIn(region, month - 1).trials * subscribing(region));

export function funnelOf({ region }: Line): object {
  const { trials, referrals } = funnelIn(region, FIRST_OPEN - 1);
  return {
    sources: [
      { name: 'Visits by themselves', kind: 'typed', drivers: ['ownVisits'], enters: 0 },
      { name: 'Paid visits', kind: 'paid', drivers: ['adSpend', 'costPerVisit'], enters: 0 },
      {
        name: 'Partner referrals',
        kind: 'typed',
        drivers: ['referrals'],
        steps: [
          {
            name: 'Referred trial',
            rate: 'referralYield',
            lag: 1,
            opening: [referrals],
            cost: null,
          },
        ],
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

export function funnels(): object[] {
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
    assume(
      'subscribeRate',
      { ...web, region: ENDS_WITH_ITS_YEAR },
      value(SUBSCRIBE_ANEW),
      'Those who had it before subscribe anew',
    ),
    assume('costPerVisit', web, value(FUNNEL.costPerVisit), 'As the advertisers charge'),
    assume('trialCost', web, value(FUNNEL.trialCost), 'A cartridge and the parcel'),
  ];
}
