/** What a run lacks: inputs that nobody set, values that cannot be computed. */
import { monthText } from '../calendar/month.ts';
import { MISSING } from '../drivers/holding.ts';
import type { Problem } from '../problem.ts';
import type { Model } from '../forecast/run.ts';
import type { Span } from '../calendar/period.ts';
import { readsIn } from '../forecast/structure.ts';

/**
 * The open months in which a stream reads a driver that has no value there, as stretches.
 * @param input the place of the driver among the stream's codes
 */
export function missingMonths(model: Model, index: number, input: number): Span[] {
  const compiled = model.streams[index];
  const values = model.inputs[index]?.[input]?.values;
  const stretches: { from: number; to: number }[] = [];
  if (!compiled || !values) return stretches;
  for (let t = model.open; t < values.length; t += 1) {
    if (!Number.isNaN(values[t]) || !readsIn(compiled, input, t)) continue;
    const month = model.first + t;
    const last = stretches.at(-1);
    if (last?.to === month - 1) last.to = month;
    else stretches.push({ from: month, to: month });
  }
  return stretches;
}

/** Stretches of months in words: `2026-11 to 2027-03, 2027-06`. */
const inWords = (stretches: readonly Span[]): string =>
  stretches
    .map(({ from, to }) =>
      from === to ? monthText(from) : `${monthText(from)} to ${monthText(to)}`,
    )
    .join(', ');

/** Every open month in which a stream lacks an input, as problems that name driver, stream and month. */
export function missingInputs(model: Model): Problem[] {
  const problems: Problem[] = [];
  model.streams.forEach(({ stream, combination, codes }, index) => {
    codes.forEach((driver, input) => {
      const held = model.inputs[index]?.[input];
      if (!held) return;
      const stretches = missingMonths(model, index, input);
      const [firstStretch] = stretches;
      if (!firstStretch) return;
      const at = firstStretch.from - model.first;
      const driverRead = model.plan.drivers.find(({ code }) => code === driver);
      if (!driverRead) return;
      const month = monthText(model.first + at);
      const holder = held.holders[at] ?? MISSING;
      // A value that the driver forbids is told where it is set, once.
      const derived = model.drivers.holdings.get(driver)?.derived(holder);
      if (holder > 0 && !derived && !held.unadjusted) return;
      const where = { driver, stream: stream.id, month };
      const label = model.tree.label(combination.members);
      problems.push(
        holder === MISSING
          ? {
              code: 'missing-input',
              message: `${driverRead.name} is missing for ${label} in ${inWords(stretches)}; set it there or for a wider scope`,
              where,
            }
          : {
              code: 'no-value',
              message: model.drivers.whyNone(driver, combination.members, index, at),
              where,
            },
      );
    });
  });
  return problems;
}
