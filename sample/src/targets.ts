/** What Ondwell aims for: objectives of FY 2027, divided among areas and people. */
import { REGIONS, SELLERS, type Region, type Seller } from './company.ts';

/** A node of an objective's tree, with codes in place of ids; money in cents, capacity a month. */
export interface TargetNode {
  readonly name: string;
  readonly kind: 'area' | 'person';
  readonly scope?: Readonly<Record<string, string>>;
  readonly seller?: string;
  readonly account?: string;
  readonly manager?: string;
  readonly until?: string;
  readonly full?: number;
  readonly cushion?: number;
  readonly part: { readonly kind: 'percent'; readonly percent: number };
  readonly below?: readonly TargetNode[];
}
export interface Objective {
  readonly name: string;
  readonly measure: 'revenue' | 'newSubscribers' | 'score';
  readonly amount: number;
  readonly below: readonly TargetNode[];
}

interface Area {
  readonly percent: number;
  readonly web: number;
  readonly people: readonly [number, number, number];
  readonly manager: string;
  readonly cushion?: number;
}
const AREAS: Readonly<Record<Region, Area>> = {
  north: { percent: 29.5, web: 29, people: [34, 20, 16], manager: 'Una Keldby', cushion: 4 },
  coast: { percent: 27.5, web: 29, people: [33, 20, 15], manager: 'Marek Solvang' },
  lakes: { percent: 15.5, web: 28, people: [34, 20, 16], manager: 'Iris Dornau' },
  capital: { percent: 24.5, web: 30, people: [33, 19, 16], manager: 'Teo Lindgaard' },
};

/** What each seller can sell in a month when in full swing, in cents. */
const FULL: Readonly<Record<string, number>> = {
  ...{ S01: 19_500_000, S02: 14_000_000, S03: 13_500_000, S04: 18_000_000, S05: 13_000_000 },
  ...{ S06: 12_500_000, S07: 10_500_000, S08: 7_500_000, S09: 7_000_000, S10: 17_000_000 },
  ...{ S11: 12_000_000, S12: 11_500_000 },
};

const percent = (value: number) => ({ kind: 'percent', percent: value }) as const;

/** One account and one product of Rosa Velden's year, and the rest of it. */
const PARTS: Readonly<Record<string, readonly TargetNode[]>> = {
  S04: [
    { name: 'ST-CO-001', kind: 'area', account: 'ST-CO-001', part: percent(15) },
    { name: 'Cartridges', kind: 'area', scope: { product: 'cartridges' }, part: percent(45) },
    { name: 'Rest of the stores', kind: 'area', part: percent(40) },
  ],
};

function personOf(seller: Seller, share: number): TargetNode {
  const below = PARTS[seller.code];
  return {
    name: seller.name,
    kind: 'person',
    scope: { region: seller.region, channel: seller.channel },
    seller: seller.code,
    ...(seller.left ? { until: seller.left.slice(0, 7) } : {}),
    ...(FULL[seller.code] === undefined ? {} : { full: FULL[seller.code] }),
    part: percent(share),
    ...(below ? { below } : {}),
  };
}

/** Revenue: 3 % of the objective is with nobody, and parts of the areas too. */
function revenue(): Objective {
  const below = (Object.keys(REGIONS) as Region[]).map((region): TargetNode => {
    const { percent: share, web, people, manager, cushion } = AREAS[region];
    const sellers = SELLERS.filter((seller) => seller.region === region);
    return {
      name: REGIONS[region].name,
      kind: 'area',
      scope: { region },
      manager,
      ...(cushion === undefined ? {} : { cushion }),
      part: percent(share),
      below: [
        {
          name: 'Web shop',
          kind: 'area',
          scope: { region, channel: 'web' },
          part: percent(web),
        },
        ...sellers.map((seller, place) => personOf(seller, people[place] ?? 0)),
      ],
    };
  });
  return { name: 'Revenue', measure: 'revenue', amount: 2_650_000_000, below };
}

/** New subscribers of two plans, and a score of service that does not add up. */
function others(): Objective[] {
  const plan = (name: string, code: string, share: number): TargetNode => ({
    ...{ name, kind: 'area', scope: { product: code }, part: percent(share) },
  });
  return [
    {
      name: 'New subscribers',
      measure: 'newSubscribers',
      amount: 4_900,
      below: [plan('Monthly plan', 'plan-month', 85), plan('Yearly plan', 'plan-year', 15)],
    },
    { name: 'Service score', measure: 'score', amount: 8_600, below: [] },
  ];
}

/** The objectives of FY 2027. */
export function targets() {
  return { fiscalYear: 2027, objectives: [revenue(), ...others()] };
}
