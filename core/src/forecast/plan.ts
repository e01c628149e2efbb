import type { MonthText } from '../calendar/month.ts';
import type { BaselineKind, BaselineSettings } from '../baselines/baseline.ts';
import type { Combination, Dimension, Scope } from '../dimensions/dimension.ts';
import type { Assumption } from '../drivers/assumption.ts';
import type { Driver } from '../drivers/driver.ts';
import type { Adjustment } from '../drivers/adjustment.ts';
import type { ForecastResult } from '../measures/catalogue.ts';
import type { Nature } from '../measures/nature.ts';
import type { PricePolicy } from '../subscriptions/movement.ts';
import type { Changes, Churn } from '../subscriptions/survival.ts';

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
  /** Units that came back, above zero and part of the net units; left out where nobody knows. */
  readonly returned?: readonly number[] | undefined;
  /** What of it was entered by hand and is not in the books; left out where everything is. */
  readonly byHand?: HandColumns | undefined;
}

/** The part of some rows of sales that was entered by hand: it is counted in them. */
export interface HandColumns {
  /** Which row of the sales, counted from 0. */
  readonly row: readonly number[];
  readonly units: readonly number[];
  /** In minor units, as the rows are. */
  readonly revenue: readonly number[];
  readonly cost: readonly number[];
  /** Whether nothing of the row is in the books. */
  readonly only: readonly boolean[];
}

/** What was measured of something else than sales for a scope, month by month. */
export interface FactColumns {
  readonly measure: string;
  readonly nature: Nature;
  readonly scope: Scope;
  readonly months: readonly MonthText[];
  readonly values: readonly number[];
}

/** The codes of the methods there are. */
export type MethodCode =
  | 'amount'
  | 'volumePrice'
  | 'growthLastYear'
  | 'growthPeriod'
  | 'marketShare'
  | 'funnel'
  | 'baseline'
  | 'subscription'
  | 'formula';

/** Gross units from what another stream sold before: attach rate x its net units of these months. */
export interface Attached {
  /** The combination of the other stream. */
  readonly combination: number;
  /** The nearest and the farthest month that count, in months before: 1 and 12 are the last year. */
  readonly from: number;
  readonly to: number;
}

/** Where items enter a funnel from. */
export interface FunnelSource {
  readonly name: string;
  /** `typed`: the driver; `paid`: the first over the second; `times`: the first times the second. */
  readonly kind: 'typed' | 'paid' | 'times';
  /** One driver, or two for `paid` (spend, cost of one) and `times` (referrals, yield). */
  readonly drivers: readonly string[];
  /** Steps of its own, which they pass before they enter the common ones; none where left out. */
  readonly steps?: readonly FunnelStep[] | undefined;
  /** After how many common steps they enter: 0 before the first. */
  readonly enters: number;
}

/** A conversion step: its rate in a month applies to what the step before had some months earlier. */
export interface FunnelStep {
  readonly name: string;
  /** The driver of the rate. */
  readonly rate: string;
  readonly lag: number;
  /** What the step before had in the `lag` months before the first open one, oldest first. */
  readonly opening: readonly number[];
  /** The driver of what an item that passes costs; null for nothing. */
  readonly cost: string | null;
}

export interface Funnel {
  readonly sources: readonly FunnelSource[];
  readonly steps: readonly FunnelStep[];
}

/** A statistical baseline of a stream's own history. */
export interface BaselineChoice {
  /** What is continued: units, which the price drivers value; or revenue, and units beside it. */
  readonly of: ForecastResult;
  /** `best` is the one that did best over the last twelve closed months. */
  readonly kind: BaselineKind | 'best';
  readonly settings: BaselineSettings;
}

/** Open months of a stream that are forecast from a baseline, whatever its method says of them. */
export interface AnewMonths {
  /** The first and the last of them. */
  readonly from: MonthText;
  readonly to: MonthText;
  readonly baseline: BaselineChoice;
}

/**
 * How subscribers of a stream stay, pay and leave. New ones are a driver, or come out of the stream's
 * funnel where it has one.
 */
export interface Subscription {
  /**
   * With one rate a month, with a rate for each age, or at the end of each term; or whole customers at
   * the end of every n-th month, without cohorts.
   */
  readonly churn: Churn['kind'] | 'whole';
  /** Of `byAge`: the part of those of each age that leaves, from age 1 on; the last goes on. */
  readonly rates?: readonly number[] | undefined;
  /** Months of a term, for churn and prices at renewal, and n of whole customers; 12 where left out. */
  readonly term?: number | undefined;
  /** Of whole customers: the month from which months are counted; the first open one where left out. */
  readonly countedFrom?: MonthText | undefined;
  readonly pricePolicy: PricePolicy;
  /** Yearly plans are billed ahead, at a list price for the year, and earned by the month. */
  readonly billing: 'monthly' | 'yearly';
  /**
   * Of yearly billing, what its units and revenue are: subscribers and what is earned of them, or the
   * terms that begin and what is billed for them, as sales lines have it.
   */
  readonly counts?: 'earned' | 'billed' | undefined;
  /** Those who are there before the first open month, by age; from the history where left out. */
  readonly opening?: readonly number[] | undefined;
  /** Of yearly billing: what was billed before and is earned in the open months, one by one. */
  readonly deferred?: readonly number[] | undefined;
}

/** A name in a formula of a stream that stands for another stream. */
export interface StreamName {
  readonly name: string;
  readonly combination: number;
  readonly measure: ForecastResult;
}

/** Formulas of a stream over drivers, other streams, and its own `units` and `revenue`. */
export interface StreamFormula {
  /** Net units; null for none. */
  readonly units: string | null;
  /** Revenue; null for units x list price x (1 - discount). */
  readonly revenue: string | null;
  readonly names: readonly StreamName[];
}

/** Subscribers who go over to another subscription when they reach an age. */
export interface ChangesOver extends Changes {
  /** The combination of the stream that they go to. */
  readonly combination: number;
}

/** How a method is set for one stream; each method reads its own part. */
export interface StreamSettings {
  /** Why it is forecast so, in the planner's words; no calculation reads it. */
  readonly why?: string | undefined;
  /** Of volume x price: where units come from; the driver where it is left out. */
  readonly attached?: Attached | undefined;
  /** Of a subscription: who goes over to another one. */
  readonly changesOver?: ChangesOver | undefined;
  /** Of growth: what grows. Units are valued by the price drivers; revenue takes units along. */
  readonly of?: ForecastResult | undefined;
  /** Of growth on the period before. */
  readonly base?: 'month' | 'quarter' | undefined;
  readonly funnel?: Funnel | undefined;
  readonly baseline?: BaselineChoice | undefined;
  readonly formula?: StreamFormula | undefined;
  readonly subscription?: Subscription | undefined;
  /** Of every method: months that are forecast anew, in their order; none lies in two of them. */
  readonly anew?: readonly AnewMonths[] | undefined;
}

/** The forecast of one combination by one method. */
export interface Stream {
  readonly id: number;
  readonly combination: number;
  readonly method: MethodCode;
  readonly settings?: StreamSettings | undefined;
}

/** A forecast value typed over the computed one: net units, or revenue in currency units. */
export interface Override {
  readonly combination: number;
  readonly month: MonthText;
  readonly measure: ForecastResult;
  readonly value: number;
  /** Who typed it, why and when; the core passes it on. */
  readonly by: string;
  readonly why: string;
  readonly at?: string | undefined;
}

/** What an override lies over. */
export type OverrideCell = Pick<Override, 'combination' | 'month' | 'measure'>;

/** Overrides that take the place of those of the same cells, and cells that lose theirs. */
export interface OverrideChange {
  readonly put: readonly Override[];
  readonly drop: readonly OverrideCell[];
}

/** Everything the core needs: what happened, what we assume, and when we are. */
export interface Plan {
  readonly calendar: Calendar;
  readonly currency: Currency;
  readonly dimensions: readonly Dimension[];
  readonly combinations: readonly Combination[];
  readonly drivers: readonly Driver[];
  readonly assumptions: readonly Assumption[];
  /** Changes that were typed over whatever holds, in the order in which they were made. */
  readonly adjustments?: readonly Adjustment[] | undefined;
  readonly streams: readonly Stream[];
  readonly actuals: ActualColumns;
  readonly overrides?: readonly Override[] | undefined;
  /** Measured facts that drivers take their history from. */
  readonly facts?: readonly FactColumns[] | undefined;
}

/** What of a plan stays while its assumptions and adjustments are edited. */
export type StablePlan = Omit<Plan, 'assumptions' | 'adjustments'>;
