import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { standingHeadline } from './headline.ts';
import type { StandingLine } from './use-standing.ts';

const formats = formatsFor('en-IE', 'EUR');
const said = { subject: 'Ondwell', many: false };
const line = (key: string, now: number, should: number, shouldName = ''): StandingLine =>
  ({ key, now, should, shouldName, forecast: key.startsWith('year') }) as StandingLine;

describe('where the company stands, in a sentence', () => {
  const open = [
    line('date-budget', 13e6, 12.9e6, 'Budget A'),
    line('date-before', 13e6, 9e6),
    line('date-target', 13e6, 14e6),
    line('year-budget', 24e6, 20e6, 'Budget A'),
    line('year-target', 24e6, 24.2e6),
  ];

  it('names the plan that is further away, a version by its name', () => {
    assert.equal(
      standingHeadline({ lines: open, fiscalYear: 2027, closed: false }, said, formats),
      'Ondwell sold 13 million to date, 7.1% under target to date; the year is heading for 24 million, 20.0% over Budget A',
    );
  });

  it('speaks of a closed year as closed, and of last year where nothing was planned', () => {
    const closed = [line('date-target', 20e6, 21e6), line('date-before', 20e6, 18e6)];
    assert.equal(
      standingHeadline({ lines: closed, fiscalYear: 2026, closed: true }, said, formats),
      'Ondwell sold 20 million in FY 2026, 4.8% under target',
    );
    assert.equal(
      standingHeadline({ lines: closed.slice(1), fiscalYear: 2026, closed: true }, said, formats),
      'Ondwell sold 20 million in FY 2026, 11.1% over last year',
    );
    assert.equal(
      standingHeadline({ lines: [], fiscalYear: 2029, closed: false }, said, formats),
      'FY 2029 has no budget and no target yet',
    );
  });
});
