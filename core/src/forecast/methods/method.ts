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

/** What a method computes for every stream and month. */
export type Result = 'units' | 'revenue';

/** A factor of a product: a driver as it is, what a rate leaves (1 - rate), or another result. */
export type Factor =
  | { readonly kind: 'driver'; readonly driver: string }
  | { readonly kind: 'rest'; readonly driver: string }
  | { readonly kind: 'result'; readonly result: Result };

/** How a stream is computed: one module with this shape a method. */
export interface Method {
  readonly code: string;
  /** The codes of the drivers it needs, in the order in which it reads them. */
  readonly inputs: readonly string[];
  /** What each result is made of; a result computes and explains itself from here. */
  readonly products: Readonly<Record<Result, readonly Factor[]>>;
  compute(stretch: Stretch): void;
}

/**
 * A method whose results are products of its drivers. Numbers and explanations are made from the
 * same factors, so they cannot disagree.
 * @param products units first: revenue may use them
 */
export function productMethod(
  code: string,
  inputs: readonly string[],
  products: Method['products'],
): Method {
  const steps = (['units', 'revenue'] as const).map((result) => ({
    result,
    factors: products[result].map((factor) => ({
      kind: factor.kind,
      place: factor.kind === 'result' ? -1 : inputs.indexOf(factor.driver),
      result: factor.kind === 'result' ? factor.result : result,
    })),
  }));
  return {
    code,
    inputs,
    products,
    compute(stretch: Stretch): void {
      const { offset, from, to } = stretch;
      for (const { result, factors } of steps) {
        const out = stretch[result];
        out.fill(1, offset + from, offset + to);
        for (const { kind, place, result: other } of factors) {
          const series = kind === 'result' ? stretch[other] : stretch.inputs[place];
          if (!series) throw new RangeError(`${code} has ${inputs.length} inputs`);
          const shift = kind === 'result' ? offset : 0;
          if (kind === 'rest') {
            for (let t = from; t < to; t += 1)
              out[offset + t] = (out[offset + t] ?? NaN) * (1 - (series[t] ?? NaN));
          } else {
            for (let t = from; t < to; t += 1)
              out[offset + t] = (out[offset + t] ?? NaN) * (series[shift + t] ?? NaN);
          }
        }
      }
    },
  };
}
