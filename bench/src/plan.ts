/** A plan of any size with mixed scopes: what the measurements run on. */
import { DRIVERS, type Assumption, type Plan } from '@dravex/core';

const PRODUCTS = 50;
const MONTHS = 60;

/** `streams` combinations of a product and a place, 60 open months, values of its own for each stream. */
export function planOf(streams: number): Plan {
  const places = Math.ceil(streams / PRODUCTS);
  const products = Array.from({ length: PRODUCTS }, (_, i) => i + 1);
  const sites = Array.from({ length: places }, (_, i) => 1000 + i);
  const member = (id: number) => ({ id, code: `m${id}`, name: `m${id}`, parent: null });
  const combinations = sites
    .flatMap((site) => products.map((product) => [product, site]))
    .slice(0, streams)
    .map((members, index) => ({ id: index + 1, members }));
  const months = Array.from(
    { length: MONTHS },
    (_, t) => `${2026 + Math.floor(t / 12)}-${String((t % 12) + 1).padStart(2, '0')}`,
  );
  const assumptions: Assumption[] = [];
  const assume = (driver: string, scope: number[], profile: Assumption['profile']): void => {
    assumptions.push({
      id: assumptions.length + 1,
      driver,
      scope,
      from: null,
      to: null,
      profile,
      note: '',
    });
  };
  combinations.forEach(({ members }, index) => {
    const values = Object.fromEntries(
      months.map((month, t) => [month, 100 + ((index * 7 + t * 13) % 91)]),
    );
    assume('grossUnits', members, { kind: 'months', values });
  });
  for (const product of products) {
    assume('listPrice', [product], {
      kind: 'steps',
      steps: [
        { from: '2026-01', value: product },
        { from: '2028-01', value: product * 1.05 },
      ],
    });
  }
  for (const site of sites) assume('discount', [site], { kind: 'value', value: (site % 10) / 100 });
  assume('returnRate', [], { kind: 'value', value: 0.02 });
  return {
    calendar: {
      first: '2025-12',
      last: '2030-12',
      closedThrough: '2025-12',
      asOf: '2026-01-01',
      fiscalStart: 1,
    },
    currency: { code: 'EUR', minorDigits: 2 },
    dimensions: [
      { code: 'product', name: 'Product', members: products.map(member) },
      { code: 'place', name: 'Place', members: sites.map(member) },
    ],
    combinations,
    drivers: DRIVERS,
    assumptions,
    streams: combinations.map(({ id }) => ({
      id,
      combination: id,
      method: 'volumePrice' as const,
    })),
    actuals: { combination: [], month: [], units: [], revenue: [], cost: [] },
  };
}
