/** A plan of any size with mixed scopes: what the measurements run on. */
import { DRIVERS, type Assumption, type Plan, type Stream } from '@dravex/core';

const PRODUCTS = 50;
const MONTHS = 60;

/**
 * `streams` combinations of a product and a place, 60 open months, values of its own for each stream.
 * @param mixed by several methods, after a closed year, in place of volume x price alone
 */
export function planOf(streams: number, mixed = false): Plan {
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
  if (mixed) {
    assume('growth', [], { kind: 'value', value: 0.04 });
    for (const product of products) {
      assume('marketSize', [product], { kind: 'value', value: 10_000 + product });
    }
    for (const site of sites) {
      assume('marketShare', [site], { kind: 'value', value: (site % 7) / 100 });
      assume('amount', [site], { kind: 'value', value: 500 + site });
    }
  }
  return {
    calendar: {
      first: mixed ? '2025-01' : '2025-12',
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
    streams: combinations.map(({ id }, index) => ({
      id,
      combination: id,
      ...(mixed ? methodOf(index) : { method: 'volumePrice' as const }),
    })),
    actuals: mixed ? soldBefore(combinations.map(({ id }) => id)) : NOTHING,
  };
}

const NOTHING = { combination: [], month: [], units: [], revenue: [], cost: [] };

/** Methods in turn: half volume x price, and one in six each of three others. */
export function methodOf(index: number): Pick<Stream, 'method' | 'settings'> {
  switch (index % 6) {
    case 3:
      return { method: 'growthLastYear', settings: { of: 'revenue' } };
    case 4:
      return { method: 'marketShare' };
    case 5:
      return { method: 'amount' };
    default:
      return { method: 'volumePrice' };
  }
}

/** Twelve closed months of sales of every combination. */
function soldBefore(ids: readonly number[]): Plan['actuals'] {
  const rows = ids.flatMap((combination) =>
    Array.from({ length: 12 }, (_, t) => ({
      combination,
      month: `2025-${String(t + 1).padStart(2, '0')}`,
      units: 10 + ((combination * 3 + t) % 7),
    })),
  );
  return {
    combination: rows.map(({ combination }) => combination),
    month: rows.map(({ month }) => month),
    units: rows.map(({ units }) => units),
    revenue: rows.map(({ units }) => units * 900),
    cost: rows.map(() => 0),
  };
}
