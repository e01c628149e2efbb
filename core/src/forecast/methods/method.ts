/** The arrays a method reads and writes, all over the same months. */
export interface Stretch {
  /** One series per input, in the order of the method's `inputs`. */
  readonly inputs: readonly Float64Array[];
  /** Net units, written by the method. */
  readonly units: Float64Array;
  /** Revenue in currency units, written by the method. */
  readonly revenue: Float64Array;
  /** Where this stream's block starts in `units` and `revenue`. */
  readonly offset: number;
  /** First month to compute, as an index from the plan's first month. */
  readonly from: number;
  /** One past the last month to compute. */
  readonly to: number;
}

/** How a stream is computed: one module with this shape a method. */
export interface Method {
  readonly code: string;
  /** The codes of the drivers it needs, in the order in which it reads them. */
  readonly inputs: readonly string[];
  compute(stretch: Stretch): void;
}
