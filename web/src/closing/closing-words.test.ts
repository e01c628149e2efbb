import { BY_HAND, type Closing } from '@dravex/contract';
import type { AccuracyTable, Comparison, LeadAccuracy } from '@dravex/core';
import { expect } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { accuracyHeadline } from './accuracy-headline.ts';
import { closingHeadline, needsOf, type Said } from './closing-words.ts';

const said: Said = {
  name: (members) => `line ${members.join('+')}`,
  money: (minor) => `${minor / 100} €`,
  percent: (now, before) => `${Math.round((now / before - 1) * 100)} %`,
  when: (moment) => moment.slice(0, 10),
};
const CLOSING: Closing = {
  month: '2026-10',
  over: true,
  due: null,
  rules: BY_HAND,
  asOf: '2026-11-02',
  asOfBy: 'hand',
  sources: [
    { name: 'october.csv', source: 'file', at: '2026-11-02T08:00:00Z', lines: 12, revenue: 500 },
  ],
  waiting: { files: 0, documents: 0 },
  jumps: [],
  unsold: [],
  late: [],
  closes: [],
};
const jump = (actual: number, forecast: number) => ({
  members: [1, 2],
  actual,
  forecast,
  yearBefore: 0,
});
const comparison = (percent: number | null): Comparison =>
  ({ total: { variance: { amount: 1, percent, judgement: 'good' } } }) as Comparison;
const percent = (share: number): string => `${(share * 100).toFixed(1)} %`;

describe('what a month needs before it is closed', () => {
  it('is settled when its sales are in and nothing is odd', () => {
    const needs = needsOf(CLOSING, said);
    expect(needs.every(({ done }) => done)).to.equal(true);
    expect(needs[0]).to.include({
      title: 'Sales of October are in',
      detail: 'october.csv, 2026-11-02, 12 lines',
    });
    expect(closingHeadline(CLOSING, comparison(0.019), needs, percent)).to.equal(
      'October is 1.9 % over its forecast; it can be closed',
    );
    expect(closingHeadline(CLOSING, comparison(0), needs, percent)).to.equal(
      'October came out as forecast; it can be closed',
    );
  });

  it('names what waits, jumps, and was not sold, and where it is settled', () => {
    const closing: Closing = {
      ...CLOSING,
      waiting: { files: 1, documents: 2 },
      jumps: [jump(100, 50), jump(10, 50), jump(30, 10), jump(1, 9)],
      unsold: [jump(0, 5000)],
      late: [{ month: '2026-09', lines: 1, revenue: 700 }],
    };
    const needs = needsOf(closing, said);
    const by = Object.fromEntries(needs.map((need) => [need.key, need]));
    expect(by['waiting']).to.deep.include({
      done: false,
      title: '1 file and 2 documents to import',
      to: { room: 'connections', query: { from: '2026-10', to: '2026-10' } },
    });
    expect(by['jumps']?.title).to.equal('4 unusual changes');
    expect(by['jumps']?.detail).to.equal('line 1+2 100 %; line 1+2 -80 %; line 1+2 200 %; 1 more');
    expect(by['unsold']?.title).to.equal('1 forecast line without a sale');
    expect(by['late']).to.include({
      done: true,
      title: '1 line came late for closed months',
      detail: 'September 2026: 1 line, 7 €',
    });
    expect(closingHeadline(closing, comparison(-0.2), needs, percent)).to.equal(
      'October is 20.0 % under its forecast; 3 things to settle before it closes',
    );
  });

  it('waits for the end of the month, and has an end itself', () => {
    const early: Closing = { ...CLOSING, over: false, jumps: [jump(1, 100)] };
    const needs = needsOf(early, said);
    expect(needs.map(({ key }) => key)).to.deep.equal(['sales', 'waiting', 'late']);
    expect(needs[0]).to.include({ done: false, title: 'October is not over' });
    expect(closingHeadline(early, comparison(-0.9), needs, percent)).to.equal(
      'October is not over; the forecast stands until it is closed',
    );
    const none = needsOf({ ...CLOSING, sources: [] }, said);
    expect(none[0]).to.include({ done: false, title: 'No sales of October yet' });
    const ended: Closing = { ...CLOSING, month: null };
    expect(needsOf(ended, said)).to.deep.equal([]);
    expect(closingHeadline(ended, undefined, [], percent)).to.equal(
      'Every month of the horizon is closed',
    );
  });
});

describe('how good forecasts were', () => {
  const lead = (ahead: number, months: number, wape: number | null): LeadAccuracy =>
    ({ lead: ahead, months, wape }) as LeadAccuracy;
  const table = (
    leads: LeadAccuracy[],
    rows: { label: string; level: number; always: 'tooHigh' | 'tooLow' | null }[] = [],
  ): AccuracyTable => ({ total: { leads }, rows }) as unknown as AccuracyTable;
  const formats = formatsFor('en-IE', 'EUR');

  it('is said by the nearest and the furthest forecast, with what always errs', () => {
    expect(accuracyHeadline(table([]), 'Ondwell', formats)).to.equal(
      'No month has a kept forecast and actuals yet',
    );
    expect(
      accuracyHeadline(table([lead(1, 3, 0.02), lead(2, 0, null)]), 'Ondwell', formats),
    ).to.equal('Forecasts of Ondwell were 2.0% off one month ahead');
    const rows = [
      { label: 'Web', level: 0, always: 'tooLow' as const },
      { label: 'Carafe', level: 1, always: 'tooHigh' as const },
    ];
    expect(
      accuracyHeadline(table([lead(1, 3, 0.02), lead(12, 1, 0.1)], rows), 'Ondwell', formats),
    ).to.equal(
      'Forecasts of Ondwell were 2.0% off one month ahead, 10.0% off twelve months ahead; Carafe always too high',
    );
  });
});
