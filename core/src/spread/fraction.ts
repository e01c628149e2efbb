/** A decimal number as an exact fraction of integers; the denominator is a power of ten. */
export interface Fraction {
  readonly numerator: bigint;
  readonly denominator: bigint;
}

const DECIMAL = /^([+-]?)(\d+)(?:\.(\d+))?(?:e([+-]?\d+))?$/i;

/**
 * The decimal number that was typed, exactly: 0.1 is one tenth, not the double beside it.
 * A double has one shortest decimal that reads back to it, and that is the one a person typed.
 * @throws RangeError for NaN and infinities
 */
export function fractionOf(value: number): Fraction {
  const match = DECIMAL.exec(String(value));
  if (!match) throw new RangeError(`${value} is not a number that can be divided`);
  const [, sign = '', whole = '0', decimals = '', exponent = '0'] = match;
  const shift = Number(exponent) - decimals.length;
  const digits = BigInt(whole + decimals) * (sign === '-' ? -1n : 1n);
  return shift >= 0
    ? { numerator: digits * 10n ** BigInt(shift), denominator: 1n }
    : { numerator: digits, denominator: 10n ** BigInt(-shift) };
}

/** The same ratios as whole numbers: every value times the common denominator. */
export function toWholeRatios(values: readonly number[]): bigint[] {
  // Whole numbers are their own ratios; reading them as decimals takes ten times as long.
  if (values.every((value) => Number.isSafeInteger(value))) return values.map(BigInt);
  const fractions = values.map(fractionOf);
  const common = fractions.reduce((most, f) => (f.denominator > most ? f.denominator : most), 1n);
  return fractions.map((f) => f.numerator * (common / f.denominator));
}
