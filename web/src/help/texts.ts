import { type Value } from '../format/words.ts';

/** The texts of help, by the part that shows each first. */
export const TEXTS = {
  // HelpDrawer
  help: (title: Value): string => `Help: ${title}`,
  keysInItsTable: 'Keys in its table',
  terms: 'Terms',
  allKeysAndLegend: 'All keys and legend',
  takeTheTour: 'Take the tour',

  // TourDialog
  of: (place: Value, steps: Value): string => `${place} of ${steps}`,
  start: 'Start',
  next: 'Next',
  back: 'Back',
  skipTheTour: 'Skip the tour',
};
