/** A driver's series for one stream: its values, and which assumption gave each. */
export interface HeldSeries {
  /** NaN where nothing holds: a missing input is never silently zero. */
  readonly values: Float64Array;
  /** The id of the assumption that holds in each month; `BY_DEFAULT`, `BY_FORMULA` or `MISSING` where none does. */
  readonly holders: Int32Array;
  /** The values before they were adjusted; left out where nothing is adjusted. */
  readonly unadjusted?: Float64Array | undefined;
}
