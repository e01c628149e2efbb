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
      place: factor.kind === 'result' ? -1 : inputs.indexOf(factor.driver),
      result: factor.kind === 'result' ? factor.result : result,
      rest: factor.kind === 'rest',
    })),
  }));
  return {
    code,
    inputs,
    products,
    compute(stretch: Stretch): void {
      for (const { result, factors } of steps) {
        const operands = factors.map(({ place, result: other, rest }) => {
          const series = place < 0 ? stretch[other] : stretch.inputs[place];
          if (!series) throw new RangeError(`${code} has ${inputs.length} inputs`);
          return operand(series, place < 0 ? stretch.offset : 0, rest);
        });
        const [first, second, third = ONE, ...others] = operands;
        if (!first) throw new RangeError(`${code} has a result without factors`);
        // A single factor is multiplied by what is 1 wherever it has a value.
        multiply(stretch[result], first, second ?? { ...first, start: 1, sign: 0 }, third, stretch);
        for (const other of others) {
          const already = operand(stretch[result], stretch.offset, false);
          multiply(stretch[result], already, other, ONE, stretch);
        }
      }
    },
  };
}

/** A factor over its months: start + sign x value, which is the value itself or 1 - value. */
interface Operand {
  readonly series: Float64Array;
  readonly shift: number;
  readonly start: number;
  readonly sign: number;
}

function operand(series: Float64Array, shift: number, rest: boolean): Operand {
  return { series, shift, start: rest ? 1 : 0, sign: rest ? -1 : 1 };
}

/** In place of a third factor that is not there. */
const ONE: Operand = { series: new Float64Array(0), shift: 0, start: 1, sign: 0 };

/** Three factors at a time, so that each result is written once: memory is what it costs. */
function multiply(
  out: Float64Array,
  { series: a, shift: aShift, start: aStart, sign: aSign }: Operand,
  { series: b, shift: bShift, start: bStart, sign: bSign }: Operand,
  { series: c, shift: cShift, start: cStart, sign: cSign }: Operand,
  { offset, from, to }: Stretch,
): void {
  if (c.length === 0) {
    for (let t = from; t < to; t += 1) {
      out[offset + t] =
        (aStart + aSign * (a[aShift + t] ?? NaN)) * (bStart + bSign * (b[bShift + t] ?? NaN));
    }
    return;
  }
  for (let t = from; t < to; t += 1) {
    out[offset + t] =
      (aStart + aSign * (a[aShift + t] ?? NaN)) *
      (bStart + bSign * (b[bShift + t] ?? NaN)) *
      (cStart + cSign * (c[cShift + t] ?? NaN));
  }
}
