/** By which method each combination is forecast, and why; with the drivers that Ondwell adds. */
import { FIRST_OPEN, scopeOf } from './assume.ts';
import { combinations, type Line } from './company.ts';
import { ENDS_WITH_ITS_YEAR, funnelOf } from './funnels.ts';
import { byAgeIn } from './subscribers.ts';

/** Combinations that are forecast: all but the discontinued carafe. */
export function forecastLines(): Line[] {
  return combinations().filter(({ product }) => product.to === undefined);
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
export const REFILLS: Readonly<Record<string, string>> = {
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
  if (product.code === 'plan-care') {
    const why = 'Offices sign for the month and stay for years';
    const subscription = { churn: 'constant', pricePolicy: 'current', billing: 'monthly' };
    return { method: 'subscription', settings: { why, subscription } };
  }
  if (product.code === 'plan-month' && line.region !== 'capital') {
    const why = 'Subscribers by the month of their start: who comes, who leaves, what they pay';
    const opening = byAgeIn(line, FIRST_OPEN - 1);
    const subscription = { churn: 'constant', pricePolicy: 'current', billing: 'monthly', opening };
    return { method: 'subscription', settings: { why, subscription } };
  }
  if (product.code === 'plan-month') {
    const why = 'Who was there, less who leaves, plus who starts, as it was planned before';
    const units = 'lag(units, 1) * (1 - refillChurn) + refillStarters';
    return { method: 'formula', settings: { why, formula: { units, revenue: null, names: [] } } };
  }
  if (product.code === 'plan-year' && line.region === ENDS_WITH_ITS_YEAR) {
    const why =
      'Here the plan ends with its year: whoever stays comes through the funnel once more';
    return { method: 'funnel', settings: { why, funnel: funnelOf(line) } };
  }
  if (product.code === 'plan-year') {
    const why = 'Yearly plans are won by visits and partners, and renewed after twelve months';
    const subscription = {
      ...{ churn: 'atRenewal', term: 12, pricePolicy: 'atRenewal' },
      ...{ billing: 'yearly', counts: 'billed' },
    };
    return { method: 'subscription', settings: { why, subscription, funnel: funnelOf(line) } };
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
