/** Ondwell: what it sells, where, to whom, and who sells it. All of it is made up. */
import { monthFrom, type Month } from '@dravex/core';

export const CALENDAR = {
  first: '2023-04',
  last: '2029-03',
  closedThrough: '2026-09',
  asOf: '2026-10-12',
  fiscalStart: 4,
} as const;

export type Channel = 'web' | 'stores' | 'trade' | 'office';
export type Region = 'north' | 'coast' | 'lakes' | 'capital';
export type Group = 'households' | 'landlords' | 'offices' | 'cafes';
export type Family = 'carafes' | 'tap-units' | 'under-sink' | 'dispensers' | 'cartridges' | 'plans';

export const CHANNELS: Readonly<
  Record<
    Channel,
    { name: string; growth: number; discount: number; returns: number; linesAMonth: number }
  >
> = {
  web: { name: 'Web shop', growth: 0.13, discount: 0.02, returns: 0.045, linesAMonth: 18 },
  stores: {
    name: 'Home-goods stores',
    growth: 0.02,
    discount: 0.31,
    returns: 0.015,
    linesAMonth: 12,
  },
  trade: { name: 'Trade partners', growth: 0.07, discount: 0.22, returns: 0.008, linesAMonth: 10 },
  office: {
    name: 'Office sales team',
    growth: 0.09,
    discount: 0.08,
    returns: 0.004,
    linesAMonth: 7,
  },
};

export const REGIONS: Readonly<Record<Region, { name: string; weight: number }>> = {
  north: { name: 'North', weight: 0.3 },
  coast: { name: 'Coast', weight: 0.28 },
  lakes: { name: 'Lakes', weight: 0.16 },
  capital: { name: 'Capital', weight: 0.26 },
};

export const GROUPS: Readonly<Record<Group, string>> = {
  households: 'Households',
  landlords: 'Landlords',
  offices: 'Offices',
  cafes: 'Cafés',
};

export const FAMILIES: Readonly<Record<Family, string>> = {
  carafes: 'Carafes',
  'tap-units': 'Tap units',
  'under-sink': 'Under-sink units',
  dispensers: 'Office dispensers',
  cartridges: 'Cartridges',
  plans: 'Plans',
};

export interface Product {
  readonly code: string;
  readonly name: string;
  readonly family: Family;
  /** List price in euros at the start of the history. */
  readonly price: number;
  /** Cost of sales as a share of the list price. */
  readonly costShare: number;
  readonly from?: Month;
  readonly to?: Month;
  /** The product that it came in place of. */
  readonly replaces?: string;
}

export const DEW_ENDS = monthFrom('2026-05');
export const RILL_STARTS = monthFrom('2026-05');

export const PRODUCTS: readonly Product[] = [
  { code: 'carafe-brook', name: 'Brook carafe', family: 'carafes', price: 34.9, costShare: 0.44 },
  {
    code: 'carafe-dew',
    name: 'Dew carafe',
    family: 'carafes',
    price: 24.9,
    costShare: 0.5,
    to: DEW_ENDS,
  },
  {
    code: 'carafe-rill',
    name: 'Rill glass carafe',
    family: 'carafes',
    price: 49,
    costShare: 0.46,
    from: RILL_STARTS,
    replaces: 'carafe-dew',
  },
  { code: 'tap-one', name: 'Tap unit One', family: 'tap-units', price: 69, costShare: 0.48 },
  { code: 'tap-duo', name: 'Tap unit Duo', family: 'tap-units', price: 98, costShare: 0.47 },
  { code: 'sink-base', name: 'Under-sink Base', family: 'under-sink', price: 189, costShare: 0.52 },
  { code: 'sink-pro', name: 'Under-sink Pro', family: 'under-sink', price: 349, costShare: 0.5 },
  {
    code: 'disp-floor',
    name: 'Floor dispenser',
    family: 'dispensers',
    price: 780,
    costShare: 0.57,
  },
  { code: 'disp-wall', name: 'Wall dispenser', family: 'dispensers', price: 540, costShare: 0.56 },
  {
    code: 'cart-carafe',
    name: 'Carafe cartridges, 3',
    family: 'cartridges',
    price: 19.9,
    costShare: 0.31,
  },
  { code: 'cart-tap', name: 'Tap cartridge', family: 'cartridges', price: 29.9, costShare: 0.33 },
  {
    code: 'cart-sink',
    name: 'Under-sink cartridge',
    family: 'cartridges',
    price: 59,
    costShare: 0.35,
  },
  {
    code: 'cart-disp',
    name: 'Dispenser cartridge',
    family: 'cartridges',
    price: 79,
    costShare: 0.36,
  },
  {
    code: 'plan-month',
    name: 'Refill plan, monthly',
    family: 'plans',
    price: 9.9,
    costShare: 0.38,
  },
  { code: 'plan-year', name: 'Refill plan, yearly', family: 'plans', price: 99, costShare: 0.38 },
  { code: 'plan-care', name: 'Care plan', family: 'plans', price: 39, costShare: 0.3 },
];

/** Units a month over all regions at the start of the history, by what is sold where to whom. */
export const DEMAND: readonly (readonly [Channel, string, Group, number])[] = [
  ['web', 'carafe-brook', 'households', 1900],
  ['web', 'carafe-dew', 'households', 1400],
  ['web', 'carafe-rill', 'households', 1150],
  ['web', 'tap-one', 'households', 820],
  ['web', 'tap-duo', 'households', 690],
  ['web', 'cart-carafe', 'households', 4100],
  ['web', 'cart-tap', 'households', 1500],
  ['web', 'cart-sink', 'households', 380],
  ['web', 'plan-month', 'households', 6200],
  ['web', 'plan-year', 'households', 240],
  ['stores', 'carafe-brook', 'households', 6400],
  ['stores', 'carafe-dew', 'households', 4100],
  ['stores', 'carafe-rill', 'households', 2300],
  ['stores', 'tap-one', 'households', 1500],
  ['stores', 'cart-carafe', 'households', 13_400],
  ['stores', 'cart-tap', 'households', 2300],
  ['trade', 'sink-base', 'landlords', 560],
  ['trade', 'sink-base', 'cafes', 330],
  ['trade', 'sink-pro', 'landlords', 140],
  ['trade', 'sink-pro', 'cafes', 190],
  ['trade', 'tap-duo', 'landlords', 430],
  ['trade', 'cart-sink', 'landlords', 820],
  ['trade', 'cart-sink', 'cafes', 640],
  ['office', 'disp-floor', 'offices', 84],
  ['office', 'disp-floor', 'cafes', 44],
  ['office', 'disp-wall', 'offices', 71],
  ['office', 'disp-wall', 'cafes', 38],
  ['office', 'cart-disp', 'offices', 590],
  ['office', 'cart-disp', 'cafes', 280],
  ['office', 'plan-care', 'offices', 1900],
];

export interface Seller {
  readonly code: string;
  readonly name: string;
  readonly region: Region;
  readonly channel: Channel;
  /** The last day somebody sold, for those who left. */
  readonly left?: string;
}

export const SELLERS: readonly Seller[] = [
  { code: 'S01', name: 'Ivo Tarnow', region: 'north', channel: 'stores' },
  { code: 'S02', name: 'Lene Maurits', region: 'north', channel: 'trade' },
  { code: 'S03', name: 'Piet Ansgar', region: 'north', channel: 'office' },
  { code: 'S04', name: 'Rosa Velden', region: 'coast', channel: 'stores' },
  { code: 'S05', name: 'Karel Ostby', region: 'coast', channel: 'trade', left: '2026-07-31' },
  { code: 'S06', name: 'Mina Strandau', region: 'coast', channel: 'office' },
  { code: 'S07', name: 'Odo Feldern', region: 'lakes', channel: 'stores' },
  { code: 'S08', name: 'Sanne Birkholt', region: 'lakes', channel: 'trade' },
  { code: 'S09', name: 'Jaro Lindmark', region: 'lakes', channel: 'office' },
  { code: 'S10', name: 'Edda Corvin', region: 'capital', channel: 'stores' },
  { code: 'S11', name: 'Nils Abendrot', region: 'capital', channel: 'trade' },
  { code: 'S12', name: 'Tilda Groven', region: 'capital', channel: 'office' },
];

/** One combination that is sold, by its codes. */
export interface Line {
  readonly channel: Channel;
  readonly product: Product;
  readonly group: Group;
  readonly region: Region;
  readonly base: number;
}

/** Every combination that Ondwell sells or has sold. */
export function combinations(): Line[] {
  return DEMAND.flatMap(([channel, code, group, total]) => {
    const product = PRODUCTS.find((candidate) => candidate.code === code);
    if (!product) throw new RangeError(`There is no product ${code}`);
    return (Object.keys(REGIONS) as Region[]).map((region) => ({
      channel,
      product,
      group,
      region,
      base: total * REGIONS[region].weight,
    }));
  });
}
