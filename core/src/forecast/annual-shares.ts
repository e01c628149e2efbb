import { addsOverStreams } from '../drivers/catalogue.ts';
import { streamsIn, type Structure } from './structure.ts';
import type { Assumption } from '../drivers/assumption.ts';
import type { ShareOfTotal } from '../drivers/driver-definition.ts';
import type { ClosedMonths } from '../drivers/observed.ts';

/** Months of sales by which a total is divided. */
const MONTHS = 12;

/**
 * How a total that is given to a scope is divided over the streams of the scope that read the driver:
 * by what they sold in the last twelve closed months, money by revenue and everything else by
 * units; equally where nothing was sold. A total that does not add over streams, a market's, is
 * each stream's as it is. Source: calculations, *Drivers*.
 */
export function annualShares(
  structure: Structure,
  closed: ClosedMonths,
  readersOf: (driver: string) => ReadonlySet<string>,
): ShareOfTotal {
  const drivers = new Map(structure.plan.drivers.map((driver) => [driver.code, driver]));
  const made = new WeakMap<Assumption, ReadonlyMap<number, number>>();
  const divide = ({ driver, scope }: Assumption): ReadonlyMap<number, number> => {
    const readers = readersOf(driver);
    const series = drivers.get(driver)?.kind === 'money' ? closed.revenue : closed.units;
    const all = streamsIn(structure, scope);
    const reading = all.filter((index) =>
      structure.streams[index]?.codes.some((code) => readers.has(code)),
    );
    // What nothing reads yet can be set, and is seen, all the same.
    const streams = reading.length > 0 ? reading : all;
    const sold = streams.map((index) => {
      let sum = 0;
      for (let t = Math.max(0, closed.open - MONTHS); t < closed.open; t += 1) {
        sum += series[index]?.[t] ?? 0;
      }
      // More came back than was sold: that is no part of a total.
      return Math.max(0, sum);
    });
    const whole = sold.reduce((sum, value) => sum + value, 0);
    return new Map(
      streams.map((index, place) => [
        index,
        whole > 0 ? (sold[place] ?? 0) / whole : 1 / streams.length,
      ]),
    );
  };
  return (assumption, stream) => {
    const driver = drivers.get(assumption.driver);
    if (driver && !addsOverStreams(driver)) return 1;
    const sharesOfAssumption = made.get(assumption) ?? divide(assumption);
    made.set(assumption, sharesOfAssumption);
    return sharesOfAssumption.get(stream) ?? 0;
  };
}
