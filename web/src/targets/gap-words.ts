import type { TargetGap } from '@dravex/contract';

/** What each step of a gap is called, and what it is. */
export const GAP_WORDS: Readonly<
  Record<TargetGap['steps'][number]['kind'], { readonly name: string; readonly says: string }>
> = {
  growth: { name: 'Growth asked for', says: 'what the target asks beyond last year’s sales' },
  phasing: { name: 'Months', says: 'what is due otherwise than by last year’s months' },
  joiners: { name: 'Joined', says: 'more sold by people who joined' },
  leavers: { name: 'Left', says: 'last year’s sales of people who left' },
  volume: { name: 'Volume', says: 'more or fewer units than last year, at its average price' },
  mix: { name: 'Mix', says: 'dearer or cheaper items than last year' },
  price: { name: 'Price', says: 'the same items at other prices' },
  new: { name: 'New', says: 'items that were not sold last year' },
  discontinued: { name: 'No longer sold', says: 'items of last year without a sale' },
  other: { name: 'Without units', says: 'sales that have no units' },
};
