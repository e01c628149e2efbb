/** Results of a whole model as plain lists, for comparing models. */
import { RESULTS, type ResultCode } from '../measures/catalogue.ts';
import type { Model } from '../forecast/run.ts';

/** Every result, stream after stream, months innermost. */
export function allResults({ results }: Model): Record<ResultCode, number[]> {
  const list = (code: ResultCode): number[] => results[code].flatMap((series) => [...series]);
  return Object.fromEntries(RESULTS.map((code) => [code, list(code)])) as Record<
    ResultCode,
    number[]
  >;
}
