/** What a run lacks: inputs that nobody set, values that cannot be computed. */
import { monthText } from '../calendar/month.ts';
import { MISSING } from '../drivers/holding.ts';
import type { Problem } from '../problem.ts';
import type { Model } from '../forecast/run.ts';

/** The first open month without a value; −1 where all have one. Asked after every edit. */
function firstMissing(values: Float64Array, open: number): number {
  for (let t = open; t < values.length; t += 1) if (Number.isNaN(values[t])) return t;
  return -1;
}

/** Every open month in which a stream lacks an input, as problems that name driver, stream and month. */
export function missingInputs(model: Model): Problem[] {
  const problems: Problem[] = [];
  model.streams.forEach(({ stream, combination, codes, needed }, index) => {
    codes.slice(0, needed).forEach((driver, input) => {
      const held = model.inputs[index]?.[input];
      if (!held) return;
      const at = firstMissing(held.values, model.open);
      if (at < 0) return;
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
              message: `${driverRead.name} is missing for ${label} from ${month}; set it there or for a wider scope`,
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
