/** Forecast months without a value for which nothing else is told: what they are made of says why. */
import { monthText } from '../calendar/month.ts';
import { BY_DEFAULT } from '../drivers/holding.ts';
import { FORECAST_RESULTS, MEASURES, type ForecastResult } from '../measures/catalogue.ts';
import type { Model } from '../forecast/run.ts';
import type { Problem } from '../problem.ts';
import { driverNamed } from '../driver-table/driver-table.ts';
import { explainResult } from '../trace/explain-stream.ts';
import type { TraceNode } from '../trace/trace.ts';

/** The part without a value that a number without a value comes down to. */
function cause(node: TraceNode): TraceNode {
  const empty = node.parts.find(({ value }) => value === null);
  return empty ? cause(empty) : node;
}

/** Why a part has no value, in words, with the driver it is of. */
function because(
  model: Model,
  node: TraceNode,
  code: string | undefined,
): { words: string; driver?: string } {
  const { source, question } = node;
  if (question?.kind === 'driver') {
    const { name } = driverNamed(model, question.driver);
    return {
      words: `${name} has no value in ${question.month}; set it there`,
      driver: question.driver,
    };
  }
  if (question?.kind === 'table') {
    const where = model.tree.label(question.scope);
    return { words: `${where} has no value in ${monthText(question.span.from)}` };
  }
  const words =
    source?.kind === 'nothing'
      ? 'it reads months that are not there'
      : 'it divides by zero, or comes to no number';
  return { words, ...(code === undefined ? {} : { driver: code }) };
}

/**
 * One problem for each stream that has an open month without units or revenue and of which nothing
 * is told yet; it names stream, month and, where there is one, the driver.
 * @param model evaluated
 * @param told the ids of streams of which something is told already
 */
export function withoutValue(model: Model, told: ReadonlySet<number>): Problem[] {
  return model.streams.flatMap(({ stream, combination, codes, needed }, index): Problem[] => {
    if (told.has(stream.id)) return [];
    const first = FORECAST_RESULTS.flatMap((result) => {
      const series = model.results[result][index];
      const t = series?.findIndex((value, at) => at >= model.open && Number.isNaN(value)) ?? -1;
      return t < 0 ? [] : [{ result, t }];
    }).sort((a, b) => a.t - b.t)[0];
    if (!first) return [];
    const { result, t }: { result: ForecastResult; t: number } = first;
    const missingCode = codes.slice(0, needed).find((code) => {
      const holder = model.inputs[index]?.[codes.indexOf(code)]?.holders[t];
      return holder !== undefined && holder !== BY_DEFAULT;
    });
    const node = cause(explainResult(model, index, result, t));
    const { words, driver } = because(model, node, missingCode ?? codes[0]);
    const month = monthText(model.first + t);
    const label = model.tree.label(combination.members);
    return [
      {
        code: 'no-value',
        message: `${MEASURES[result].name} of ${label} has no value in ${month}: ${words}`,
        where: { stream: stream.id, month, ...(driver === undefined ? {} : { driver }) },
      },
    ];
  });
}
