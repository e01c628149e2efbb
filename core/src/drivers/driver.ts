import type { Problem } from '../problem.ts';

/** What a driver's value is; decides how it is typed, shown and checked. */
export type DriverKind = 'count' | 'wholeCount' | 'money' | 'moneyPerUnit' | 'percent' | 'ratio';

/** A named input series with a unit and bounds. Values are in the core's form: 20 % is 0.2. */
export interface Driver {
  readonly code: string;
  readonly name: string;
  readonly kind: DriverKind;
  /** In words, for headers: `units`, `€ per unit`, `%`. */
  readonly unit: string;
  readonly minimum: number | null;
  readonly maximum: number | null;
  /** What holds where no assumption does; null where an assumption is needed. */
  readonly default: number | null;
}

/** A bound as a person reads it: 0.5 of a percent driver is `50 %`. */
function inWords(driver: Driver, value: number): string {
  return driver.kind === 'percent' ? `${Number((value * 100).toPrecision(12))} %` : String(value);
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
  if (driver.kind === 'wholeCount' && !Number.isInteger(value)) {
    return refuse(`${inWords(driver, value)} is not a whole number`);
  }
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
