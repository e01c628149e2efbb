/** Numbers for people, by the workspace's locale. */
import type { Display } from '@dravex/core';

/** What stands where there is no value. */
export const DASH = '–';
const MINUS = '\u2212';

/** How a number is shown: in which unit of display, with how many decimals. */
export type { Display };

/** The units a table can be shown in. */
export const UNITS = [1, 1000, 1_000_000] as const;
export type Unit = (typeof UNITS)[number];

/**
 * The unit in which the money of a company is read where nobody chose one: a year's revenue is
 * a thousand of them or more, so that the months of its parts are not all zero.
 * @param revenue of a year, in whole units of the currency
 */
export function usualUnit(revenue: number): Unit {
  const size = Math.abs(revenue);
  if (size < 1e6) return 1;
  return size < 1e10 ? 1000 : 1_000_000;
}

/** A number as it leaves for a file or the clipboard: in full, without the dust of floating point. */
export const inFull = (value: number): number => Number(value.toFixed(4));

/** How large the unit is in which a number is shown: what is counted, and prices and rates, have none. */
export const unitOf = (display: Display, unit: Unit): Unit => (display === 'money' ? unit : 1);

/** To what a shown number is rounded: to whole units, of millions to two decimals. */
export const shownStep = (display: Display, unit: Unit): number => {
  const size = unitOf(display, unit);
  return size === 1_000_000 ? size / 100 : size;
};

export interface Formats {
  /** A number of the core in its display; a dash for no value, a real minus for negative ones. */
  show(value: number | null | undefined, display: Display, unit?: Unit): string;
  /** The same with its sign always in front, for differences. */
  signed(value: number | null | undefined, display: Display, unit?: Unit): string;
  /** The whole value, for tooltips. */
  full(value: number | null | undefined, display: Display): string;
  /** The value as it is typed and pasted: full, without grouping; a percent without its sign. */
  typed(value: number | null, percent: boolean): string;
  /** Reads what a person typed: this locale's decimal sign, or a dot; `undefined` for anything else. */
  read(text: string, percent: boolean): number | undefined;
  /** In words: `13.3 million`, `720 thousand`, `512`. */
  inWords(value: number): string;
  /** `€`, `thousand €`, `million €`. */
  unitName(unit: Unit): string;
  readonly currency: string;
}

function realMinus(text: string): string {
  return text.replace(/^-/, MINUS);
}

/** Numbers in a locale and a currency. */
export function formatsFor(locale: string, currencyCode: string): Formats {
  const cache = new Map<string, Intl.NumberFormat>();
  const number = (options: Intl.NumberFormatOptions): Intl.NumberFormat => {
    const key = JSON.stringify(options);
    const known = cache.get(key);
    if (known) return known;
    const made = new Intl.NumberFormat(locale, options);
    cache.set(key, made);
    return made;
  };
  const currency =
    number({ style: 'currency', currency: currencyCode })
      .formatToParts(0)
      .find(({ type }) => type === 'currency')?.value ?? currencyCode;
  const decimal =
    number({})
      .formatToParts(1.5)
      .find(({ type }) => type === 'decimal')?.value ?? '.';
  const group =
    number({})
      .formatToParts(1e6)
      .find(({ type }) => type === 'group')?.value ?? '';

  const OPTIONS: Record<Display, Intl.NumberFormatOptions> = {
    money: { maximumFractionDigits: 0 },
    price: { minimumFractionDigits: 2, maximumFractionDigits: 2 },
    units: { maximumFractionDigits: 0 },
    score: { maximumFractionDigits: 2 },
    percent: { style: 'percent', minimumFractionDigits: 1, maximumFractionDigits: 1 },
  };

  function show(
    value: number | null | undefined,
    display: Display,
    unit: Unit = 1,
    extra: Intl.NumberFormatOptions = {},
  ): string {
    if (value === null || value === undefined || Number.isNaN(value)) return DASH;
    const size = unitOf(display, unit);
    const scaled = value / size;
    const decimals =
      size === 1_000_000 ? { minimumFractionDigits: 2, maximumFractionDigits: 2 } : {};
    const rounded = number({ ...OPTIONS[display], ...decimals, ...extra });
    const text = rounded.format(scaled);
    // What rounds to zero has no sign.
    return realMinus(/[1-9]/.test(text) ? text : rounded.format(0));
  }

  function typed(value: number | null, percent: boolean): string {
    if (value === null) return '';
    const shown = Number((percent ? value * 100 : value).toPrecision(12));
    return String(shown).replace('.', decimal);
  }

  function read(text: string, percent: boolean): number | undefined {
    let plain = text
      .trim()
      .replace(MINUS, '-')
      .replace(/\s|\u00a0|\u202f/g, '');
    // As spreadsheets and ledgers write them: in quotes, a loss in brackets, thousands by apostrophes.
    plain = plain.replace(/^"(.*)"$/, '$1');
    const loss = /^\((.+)\)$/.exec(plain);
    if (loss) plain = `-${loss[1] ?? ''}`;
    if (/^[+-]?\d{1,3}(['\u2019]\d{3})+([.,]\d+)?$/.test(plain))
      plain = plain.replace(/['\u2019]/g, '');
    if (percent) plain = plain.replace(/%$/, '');
    plain = plain.replace(currency, '');
    if (
      group !== '' &&
      new RegExp(`^-?\\d{1,3}(\\${group}\\d{3})+(\\${decimal}\\d+)?$`).test(plain)
    ) {
      plain = plain.replaceAll(group, '');
    }
    plain = plain.replace(decimal, '.');
    if (!/^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(plain)) return undefined;
    const value = Number(plain);
    // The decimal that was typed, not the double beside it: 7 % is 0.07.
    return percent ? Number((value / 100).toPrecision(15)) : value;
  }

  function inWords(value: number): string {
    const size = Math.abs(value);
    const say = (scaled: number, digits: number): string =>
      realMinus(number({ maximumFractionDigits: digits }).format(scaled));
    if (size >= 999_500) return `${say(value / 1e6, size >= 1e8 ? 0 : 1)} million`;
    if (size >= 1000) return `${say(value / 1e3, size < 9950 ? 1 : 0)} thousand`;
    return say(value, 0);
  }

  return {
    currency,
    show,
    signed: (value, display, unit) => show(value, display, unit, { signDisplay: 'exceptZero' }),
    full: (value, display) =>
      display === 'money'
        ? show(value, 'price')
        : show(value, display, 1, { maximumFractionDigits: 4 }),
    typed,
    read,
    inWords,
    unitName: (unit) =>
      unit === 1 ? currency : `${unit === 1000 ? 'thousand' : 'million'} ${currency}`,
  };
}

/** How a figure has grown on a year before, after a comma; nothing where that is not known. */
export function grownInWords(growth: number | null, { show }: Pick<Formats, 'show'>): string {
  if (growth === null) return '';
  const size = show(Math.abs(growth), 'percent');
  if (size === show(0, 'percent')) return ', as much as a year before';
  return `, ${size} ${growth > 0 ? 'more' : 'less'} than a year before`;
}
