/** Lists of what a company can have: currencies, ways to write, the length of its horizon. */

import { TEXTS } from './texts.ts';

export interface Listed {
  readonly value: string;
  readonly name: string;
}

const LOCALES = [
  ...['bg-BG', 'cs-CZ', 'da-DK', 'de-AT', 'de-CH', 'de-DE', 'el-GR', 'en-AU', 'en-CA', 'en-GB'],
  ...['en-IE', 'en-IN', 'en-NZ', 'en-US', 'en-ZA', 'es-ES', 'es-MX', 'et-EE', 'fi-FI', 'fr-BE'],
  ...['fr-CA', 'fr-CH', 'fr-FR', 'hr-HR', 'hu-HU', 'it-IT', 'ja-JP', 'lt-LT', 'lv-LV', 'nb-NO'],
  ...['nl-BE', 'nl-NL', 'pl-PL', 'pt-BR', 'pt-PT', 'ro-RO', 'sk-SK', 'sl-SI', 'sv-SE', 'tr-TR'],
];

const byName = (a: Listed, b: Listed): number => a.name.localeCompare(b.name, 'en');

/** Ways to write numbers and dates, each with a number as an example. */
export function locales(own: string): Listed[] {
  const names = new Intl.DisplayNames('en', { type: 'language', languageDisplay: 'standard' });
  return [...new Set([...LOCALES, own])]
    .map((value) => ({
      value,
      name: `${names.of(value) ?? value}, ${new Intl.NumberFormat(value).format(1234.5)}`,
    }))
    .sort(byName);
}

/** All currencies in use, with their codes. */
export function currencies(): Listed[] {
  const names = new Intl.DisplayNames('en', { type: 'currency' });
  return Intl.supportedValuesOf('currency')
    .map((value) => ({ value, name: `${value}, ${names.of(value) ?? value}` }))
    .sort(byName);
}

/** The digits of a currency's smallest part. */
export function minorDigits(code: string): number {
  const options = { style: 'currency', currency: code } as const;
  const digits = new Intl.NumberFormat('en', options).resolvedOptions().maximumFractionDigits;
  return Math.min(3, digits ?? 2);
}

/** How long a plan can be, in years after the last closed month. */
export const HORIZONS = Array.from({ length: 9 }, (_, index) => ({
  value: index + 2,
  name: TEXTS.years(index + 2),
}));
