import type { Nature } from '../measures/nature.ts';
import type { Problem } from '../problem.ts';

/** What a driver's value is; decides how it is typed, shown and checked. */
export type DriverKind =
  'count' | 'wholeCount' | 'money' | 'moneyPerUnit' | 'percent' | 'ratio' | 'yesNo' | 'choice';

/** A value that can be chosen, and what it is called. */
export interface DriverChoice {
  readonly value: number;
  readonly label: string;
}

/** Closed months of a driver from what was measured: a measure, or one over another. */
export interface DriverHistory {
  /** A measured fact by its code, or `units` or `revenue` of the sales lines. */
  readonly measure: string;
  /** What it is divided by; null for nothing. */
  readonly per: string | null;
}

/** A named input series with a unit and bounds. Values are in the core's form: 20 % is 0.2. */
export interface Driver {
  readonly code: string;
  readonly name: string;
  readonly kind: DriverKind;
  /** In words, for headers: `units`, `per unit`, `%`. */
  readonly unit: string;
  readonly minimum: number | null;
  readonly maximum: number | null;
  /** By how much a step of a control changes it; null for any. */
  readonly step: number | null;
  /** What holds where no assumption does; null where an assumption is needed. */
  readonly default: number | null;
  /** Of a choice: the values there are. Empty for all other kinds. */
  readonly choices: readonly DriverChoice[];
  /** How it is computed from other drivers where no assumption holds; null where it is not. */
  readonly formula: string | null;
  /** What its closed months are read from, where sales lines alone do not say it. */
  readonly history?: DriverHistory | null | undefined;
  /** How it rolls up over scopes and months; left out, its kind says so. */
  readonly nature?: Nature | undefined;
  /**
   * Of a ratio: what weighs streams and months in its mean. A driver by its code, or of the stream
   * its `units`, its `revenue`, or `unitsBefore`, the units of the month before. Left out, it is
   * what the driver acts on where a method tells it, else all weigh the same.
   */
  readonly weight?: string | null | undefined;
}

/** What of a stream itself can weigh a driver of one's own. */
export const STREAM_WEIGHTS = ['units', 'revenue', 'unitsBefore'] as const;

/** How a driver rolls up: as it says, else counts and money flow, prices and rates are ratios. */
export function natureOf({ nature, kind }: Pick<Driver, 'kind' | 'nature'>): Nature {
  if (nature !== undefined) return nature;
  switch (kind) {
    case 'count':
    case 'wholeCount':
    case 'money':
      return 'flow';
    case 'yesNo':
    case 'choice':
      return 'level';
    default:
      return 'ratio';
  }
}

/** A bound as a person reads it: 0.5 of a percent driver is `50 %`. */
function inWords(driver: Driver, value: number): string {
  return driver.kind === 'percent' ? `${Number((value * 100).toPrecision(12))} %` : String(value);
}

/** Why a driver's kind cannot be a value, in words; undefined when it can. */
function refuseKind(driver: Driver, value: number): string | undefined {
  switch (driver.kind) {
    case 'wholeCount':
      return Number.isInteger(value) ? undefined : `${value} is not a whole number`;
    case 'yesNo':
      return value === 0 || value === 1 ? undefined : `${value} is neither yes (1) nor no (0)`;
    case 'choice':
      return driver.choices.some((choice) => choice.value === value)
        ? undefined
        : `${value} is none of ${driver.choices.map((c) => `${c.value} (${c.label})`).join(', ')}`;
    default:
      return undefined;
  }
}

/**
 * Why a driver cannot take a value, or nothing when it can.
 * @param value in the core's form (a rate as a fraction)
 */
export function refuseValue(driver: Driver, value: number): Problem | undefined {
  const refuse = (message: string): Problem => ({
    code: 'value-refused',
    message: `${driver.name}: ${message}`,
    where: { driver: driver.code },
  });
  if (!Number.isFinite(value)) return refuse('this is not a number that can be used');
  if (Math.abs(value) > 1e15) return refuse('this is more than fifteen digits; check the unit');
  const kind = refuseKind(driver, value);
  if (kind !== undefined) return refuse(kind);
  if (driver.minimum !== null && value < driver.minimum) {
    return refuse(
      `${inWords(driver, value)} is below the minimum of ${inWords(driver, driver.minimum)}`,
    );
  }
  if (driver.maximum !== null && value > driver.maximum) {
    return refuse(
      `${inWords(driver, value)} is above the maximum of ${inWords(driver, driver.maximum)}`,
    );
  }
  return undefined;
}

/** Whether a driver can take a value: the answer of `refuseValue` without its words. */
export function takesValue(driver: Driver, value: number): boolean {
  if (!(Math.abs(value) <= 1e15)) return false;
  if (driver.minimum !== null && value < driver.minimum) return false;
  if (driver.maximum !== null && value > driver.maximum) return false;
  return refuseKind(driver, value) === undefined;
}

/** What is wrong with a driver itself: bounds that exclude each other, a default outside them. */
export function checkDriver(driver: Driver): Problem[] {
  const problems: Problem[] = [];
  const where = { driver: driver.code };
  const { minimum, maximum, choices } = driver;
  if (minimum !== null && maximum !== null && minimum > maximum) {
    const message = `${driver.name}: the minimum of ${inWords(driver, minimum)} is above the maximum of ${inWords(driver, maximum)}`;
    problems.push({ code: 'bounds-crossed', message, where });
  }
  if (driver.kind === 'choice' && choices.length === 0) {
    const message = `${driver.name}: a choice needs values to choose from`;
    problems.push({ code: 'no-choices', message, where });
  }
  if (driver.default !== null) {
    const refusal = refuseValue(driver, driver.default);
    if (refusal) problems.push({ ...refusal, message: `${refusal.message} (its default)` });
  }
  return problems;
}
