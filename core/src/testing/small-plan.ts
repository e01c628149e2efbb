/** A small company for tests of the core: two channels, a family of two products, two regions. */
import type { Assumption, Profile } from '../drivers/assumption.ts';
import { DRIVERS } from '../drivers/catalogue.ts';
import type { Plan } from '../forecast/plan.ts';

/** Ids of the members, by name. */
export const M = {
  web: 1,
  stores: 2,
  hardware: 10,
  carafe: 11,
  tap: 12,
  plans: 13,
  north: 20,
  coast: 21,
} as const;

/** The leaves of every dimension: eight combinations of channel, product and region. */
export const COMBINATIONS = [M.web, M.stores].flatMap((channel, c) =>
  [M.carafe, M.tap].flatMap((product, p) =>
    [M.north, M.coast].map((region, r) => ({
      id: 100 + c * 4 + p * 2 + r,
      members: [channel, product, region],
    })),
  ),
);

let nextId = 1;

/** An assumption; the later made has the higher id. */
export function assume(
  driver: string,
  scope: readonly number[],
  profile: Profile | number,
  months: { from?: string; to?: string } = {},
): Assumption {
  return {
    id: nextId++,
    driver,
    scope,
    from: months.from ?? null,
    to: months.to ?? null,
    profile: typeof profile === 'number' ? { kind: 'value', value: profile } : profile,
    note: '',
  };
}

/** January 2025 to December 2026, closed through December 2025. */
export function smallPlan(assumptions: readonly Assumption[], part: Partial<Plan> = {}): Plan {
  const member = (id: number, code: string, parent: number | null = null) => ({
    id,
    code,
    name: code,
    parent,
  });
  return {
    calendar: {
      first: '2025-01',
      last: '2026-12',
      closedThrough: '2025-12',
      asOf: '2026-01-10',
      fiscalStart: 1,
    },
    currency: { code: 'EUR', minorDigits: 2 },
    dimensions: [
      {
        code: 'channel',
        name: 'Channel',
        members: [member(M.web, 'web'), member(M.stores, 'stores')],
      },
      {
        code: 'product',
        name: 'Product',
        members: [
          member(M.hardware, 'hardware'),
          member(M.carafe, 'carafe', M.hardware),
          member(M.tap, 'tap', M.hardware),
          member(M.plans, 'plans'),
        ],
      },
      {
        code: 'region',
        name: 'Region',
        members: [member(M.north, 'north'), member(M.coast, 'coast')],
      },
    ],
    combinations: COMBINATIONS,
    drivers: DRIVERS,
    assumptions,
    streams: COMBINATIONS.map(({ id }, index) => ({
      id: index + 1,
      combination: id,
      method: 'volumePrice',
    })),
    actuals: { combination: [], month: [], units: [], revenue: [], cost: [] },
    ...part,
  };
}
