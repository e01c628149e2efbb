import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { driverTable } from '../driver-table/driver-table.ts';
import { COST_DRIVERS } from '../drivers/catalogue.ts';
import { RESULTS } from '../measures/catalogue.ts';
import { ByTheBook } from '../testing/by-the-book.ts';
import { somePlan } from '../testing/rich-plan.ts';
import { M } from '../testing/small-plan.ts';
import type { Plan, Stream } from './plan.ts';
import { compile, evaluate } from './run.ts';

const IN_BOOK = new Set(['amount', 'volumePrice', 'growthLastYear', 'growthPeriod', 'marketShare']);

/** A plan of the book's methods only, without what is typed over and profiles of the year before. */
const plainPlan: fc.Arbitrary<Plan> = somePlan.map((plan) => ({
  ...plan,
  overrides: [],
  assumptions: plan.assumptions.filter(({ profile }) => profile.kind !== 'lastYear'),
  streams: plan.streams.map((stream): Stream => {
    const { attached } = stream.settings ?? {};
    if (!IN_BOOK.has(stream.method)) return { ...stream, method: 'marketShare', settings: {} };
    if (!attached) return { ...stream, settings: { ...stream.settings, anew: [] } };
    return { ...stream, settings: { attached: { ...attached, from: Math.max(1, attached.from) } } };
  }),
}));

function same(found: number, expected: number, what: string): void {
  const most = 1e-9 * Math.max(1, Math.abs(found), Math.abs(expected));
  const equal = Number.isNaN(expected) ? Number.isNaN(found) : Math.abs(found - expected) <= most;
  assert.isTrue(equal, `${what}: ${found} in place of ${expected}`);
}

describe('the calculation, held to its description', () => {
  const [first, last] = [monthFrom('2026-01'), monthFrom('2026-12')];

  it('gives every result of every stream and month', () => {
    fc.assert(
      fc.property(plainPlan, (plan) => {
        const book = new ByTheBook(plan);
        const model = evaluate(compile(plan));
        plan.streams.forEach((stream) => {
          const place = model.placeOf.get(stream.combination) ?? -1;
          for (const result of RESULTS) {
            for (let month = first; month <= last; month += 1) {
              const found = model.results[result][place]?.[month - model.first] ?? Number.NaN;
              const name = `${result} of ${stream.combination} (${stream.method}) in ${month - first + 1}`;
              same(found, book.result(result, stream, month), name);
            }
          }
        });
      }),
      { numRuns: 100 },
    );
  });

  it('gives every row of every driver’s table, by month and in all', () => {
    fc.assert(
      fc.property(plainPlan, (plan) => {
        const book = new ByTheBook(plan);
        const model = evaluate(compile(plan));
        const read = new Set([...model.streams.flatMap(({ codes }) => codes), ...COST_DRIVERS]);
        // A market's size counts once; tests of its own hold that.
        read.delete('marketSize');
        for (const driver of read) {
          const rows = driverTable(model, {
            driver,
            rows: ['channel', 'product'],
            scope: [M.north],
            span: { from: first, to: last },
          });
          for (const row of rows) {
            const name = `${driver} of ${row.label}`;
            const scope = [...row.scope, M.north];
            row.values.forEach((value, t) => {
              const expected = book.total(driver, scope, first + t, first + t);
              same(value, expected, `${name} in ${t + 1}`);
            });
            same(row.total, book.total(driver, scope, first, last), `${name}, all`);
          }
        }
      }),
      { numRuns: 100 },
    );
  });
});
