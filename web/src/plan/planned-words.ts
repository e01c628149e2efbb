/** What is said where numbers of a plan are typed: in a version, and in a sheet of one. */
import type { SpreadBasis } from '@dravex/core';

/** By what a total is divided over the cells below it, in the order in which it is offered. */
export const DIVISIONS: Readonly<Record<SpreadBasis, string>> = {
  standing: 'in proportion',
  equal: 'equally',
  lastYear: 'like last year',
  forecast: 'like the forecast',
};
export const SPREAD_BASES = Object.keys(DIVISIONS) as SpreadBasis[];

/** Why a number is not taken. */
export const NOT_PLANNED = {
  emptied: 'A planned number is not emptied; type 0 to plan nothing',
  tooMuch: 'This is more than can be kept',
};
