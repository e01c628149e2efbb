import { monthFrom, type Profile } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { longMonth, monthName } from '../format/periods.ts';

/** What a profile does, in a few words: `grows by 5.0% a year, in April`. */
export function profileInWords(profile: Profile, formats: Formats): string {
  switch (profile.kind) {
    case 'value':
      return 'one value';
    case 'steps':
      return `${profile.steps.length} ${profile.steps.length === 1 ? 'step' : 'steps'}`;
    case 'months':
      return `month by month, ${Object.keys(profile.values).length} months`;
    case 'growth': {
      const { by, rate, stepMonth, startMonth } = profile;
      const start = `from ${longMonth(monthFrom(startMonth))}`;
      const share = formats.show(rate, 'percent');
      const month = monthName(stepMonth);
      if (by === 'month') return `grows by ${share} a month ${start}`;
      if (by === 'compound') return `grows by ${share} a year, month by month, ${start}`;
      if (by === 'yearRate') return `grows by ${share} every ${month} ${start}`;
      return `grows by ${formats.show(rate, 'price')} every ${month} ${start}`;
    }
    case 'annual':
      return `a total of a year over the months by its season${profile.each === true ? ', for each forecast line' : ''}`;
    case 'level':
      return 'a level with a season';
    case 'lastYear':
      return `the same month a year before and ${formats.show(profile.growth, 'percent')}`;
  }
}
