import { type Value } from '../format/words.ts';

/** The texts of charts, by the part that shows each first. */
export const TEXTS = {
  // PartsChart
  over: (over: Value, under: Value, headings: Value): string =>
    `${over} over ${under}, ${headings}`,

  // PlateauChart
  activeSubscribers: 'Active subscribers',

  // PriceVolume
  aYearBefore: ', a year before',
  at: (dataset: Value, was: Value, x: Value, y: Value): string => `${dataset}${was}: ${x} at ${y}`,

  // RetentionChart
  fitted: 'Fitted',
  observed: 'Observed',
  monthsAfterStart: 'Months after the start',

  // SmallMultiples
  overTime: (part: Value): string => `${part} over time`,
};
