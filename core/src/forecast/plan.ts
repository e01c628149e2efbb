import type { MonthText } from '../calendar/month.ts';
import type { Combination, Dimension } from '../dimensions/dimension.ts';
import type { Assumption } from '../drivers/assumption.ts';
import type { Driver } from '../drivers/driver.ts';

/** When we are. No calculation reads the clock. */
export interface Calendar {
  /** First month with history. */
  readonly first: MonthText;
  /** Last month of the horizon. */
  readonly last: MonthText;
  /** The last closed month; every month up to it shows actuals. */
  readonly closedThrough: MonthText;
  /** The date the plan is read on, `2026-10-12`. */
  readonly asOf: string;
  /** 1 to 12, the month in which fiscal years start. */
  readonly fiscalStart: number;
}

/** A workspace's currency; kept money is in its smallest part, 10^minorDigits to the unit. */
export interface Currency {
  readonly code: string;
  readonly minorDigits: number;
}

/** Sales by combination and month, one column per field, rows in any order. */
export interface ActualColumns {
  readonly combination: readonly number[];
  readonly month: readonly MonthText[];
  readonly units: readonly number[];
  /** Net revenue in minor units. */
  readonly revenue: readonly number[];
  /** Cost of sales in minor units. */
  readonly cost: readonly number[];
}

/** The codes of the methods there are. */
export type MethodCode = 'volumePrice';

/** The forecast of one combination by one method. */
export interface Stream {
  readonly id: number;
  readonly combination: number;
  readonly method: MethodCode;
}

/** Everything the core needs: what happened, what we assume, and when we are. */
export interface Plan {
  readonly calendar: Calendar;
  readonly currency: Currency;
  readonly dimensions: readonly Dimension[];
  readonly combinations: readonly Combination[];
  readonly drivers: readonly Driver[];
  readonly assumptions: readonly Assumption[];
  readonly streams: readonly Stream[];
  readonly actuals: ActualColumns;
}

/** A plan without its assumptions: what stays while they are edited. */
export type PlanFrame = Omit<Plan, 'assumptions'>;
