/** Worked numbers from an independent implementation, as a table against the core. */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { assert } from 'chai';
import {
  allocate,
  attainment,
  attribution,
  divide,
  DivisionError,
  fiscalYearOf,
  monthOf,
  phase,
  ratio,
  sharesOf,
  spreadAsTheyStand,
  accuracyOf,
  crossover,
  funnelStages,
  headsFor,
  lineWithSeason,
  METHODS,
  movementOf,
  netRevenueRetention,
  billedAhead,
  bridge,
  capacityByMonth,
  dealPlan,
  plateauOf,
  termsBegun,
  smooth,
  expectedMonths,
  worthOf,
  type Child,
  type DealPlanInput,
  type Churn,
  type PricePolicy,
  type MethodCode,
  type SeasonKind,
} from './index.ts';

interface Case {
  readonly case: string;
  readonly about: string;
  readonly input: unknown;
  readonly expected: unknown;
}

interface CapacityOfCase {
  start: number;
  end?: number;
  ramp: number[];
  full: number;
}

interface VolumePriceInput {
  lines: Record<'units' | 'price' | 'discount' | 'returns' | 'market', number[]>[];
}

/** What the core says to a case's input, in the shape of its expectation. */
const ANSWERS: Record<string, (input: never) => unknown> = {
  'fiscal-year': ({ months }: { months: { year: number; month: number; startMonth: number }[] }) =>
    months.map(({ year, month, startMonth }) => fiscalYearOf(monthOf(year, month), startMonth)),
  'spread-as-they-stand': ({ total, cells }: { total: number; cells: number[] }) =>
    spreadAsTheyStand(total, cells),
  'spread-negative': ({ total, weights }: { total: number; weights: number[] }) =>
    divide(total, weights),
  'ramped-capacity': ({ people, months }: { people: CapacityOfCase[]; months: number }) =>
    capacityByMonth(
      people.map(({ start, end, ...rest }) => ({ ...rest, from: start, until: end ?? null })),
      0,
      months,
    ),
  'variance-bridge': ({ items }: { items: Record<'q0' | 'p0' | 'q1' | 'p1', number>[] }) => {
    const { withoutUnits: _, ...steps } = bridge(
      items.map(({ q0, p0, q1, p1 }) => ({
        ...{ plannedUnits: q0, plannedRevenue: q0 * p0, units: q1, revenue: q1 * p1 },
      })),
    );
    return steps;
  },
  'driver-attribution': ({ plan, actual }: Record<'plan' | 'actual', Record<string, number>>) => {
    const drivers = Object.keys(plan);
    return attribution(drivers)((isNow) =>
      drivers.reduce((all, one) => all * ((isNow(one) ? actual : plan)[one] ?? NaN), 1),
    );
  },
  'deal-mix': (input: DealPlanInput) => dealPlan(input),
  allocation: ({ total, children }: { total: number; children: Child[] }) =>
    allocate(total, children),
  'allocation-over-committed': ({ total, children }: { total: number; children: Child[] }) => {
    try {
      return allocate(total, children);
    } catch (error) {
      if (!(error instanceof DivisionError)) throw error;
      return { error: error.code, excess: error.excess };
    }
  },
  phasing: ({ total, weights }: { total: number; weights: number[] }) => phase(total, weights),
  attainment: (input: Record<'weights' | 'actual' | 'forecast', number[]> & { target: number }) =>
    attainment(input.target, input.weights, input.actual, input.forecast),
  'volume-price': volumePriceAnswer,
  'growth-on-last-year': growthAnswer,
  funnel: funnelAnswer,
  'line-with-season': ({ history, ahead }: { history: number[]; ahead: number }) =>
    lineWithSeason(history, ahead),
  'smoothing-additive': smoothingAnswer,
  'smoothing-multiplicative': smoothingAnswer,
  crossover: ({ a, b }: { a: number[]; b: number[] }) => crossover(a, b),
  'annual-prepaid': (input: { new: number[]; renewalRate: number; annualPrice: number[] }) =>
    asLists(
      billedAhead(
        termsBegun({
          opening: { byAge: [], price: 0 },
          starters: input.new,
          churn: { kind: 'atRenewal', term: 12, rate: 1 - input.renewalRate },
          price: input.annualPrice,
          pricePolicy: 'current',
        }),
        input.annualPrice,
      ),
    ),
  'cohorts-at-renewal-current': cohortsAnswer,
  'cohorts-at-renewal-keptFromStart': cohortsAnswer,
  'cohorts-by-age-current': cohortsAnswer,
  'cohorts-by-age-keptFromStart': cohortsAnswer,
  'cohorts-constant-current': cohortsAnswer,
  'cohorts-constant-keptFromStart': cohortsAnswer,
  'plateau-at-renewal': plateauAnswer,
  'plateau-by-age': plateauAnswer,
  'plateau-constant': plateauAnswer,
  'recurring-revenue-movement': movementAnswer,
  'retention-measures': retentionAnswer,
  'whole-customers-leave-every-n-months': (
    input: Record<'opening' | 'every' | 'rate', number> & { new: number[] },
  ) => {
    const { active, lost } = movementOf({
      opening: { byAge: [input.opening], price: 1 },
      starters: input.new,
      churn: { kind: 'atRenewal', term: input.every, rate: input.rate },
      churnFactor: input.new.map(() => input.rate),
      price: input.new.map(() => 1),
      pricePolicy: 'current',
      whole: { every: input.every, first: 0 },
    });
    return asLists({ active, lost });
  },
  headcount: ({ customers, perHead }: { customers: number[]; perHead: number }) =>
    customers.map((count) => headsFor(count, perHead)),
  'forecast-accuracy': (input: Record<'actual' | 'forecast' | 'history', number[]>) =>
    accuracyOf(input.actual, input.forecast, input.history),
};

/** Runs a method over all months from `open` on. */
function compute(
  method: MethodCode,
  inputs: Float64Array[],
  units: Float64Array,
  revenue: Float64Array,
  open: number,
): void {
  const count = revenue.length;
  METHODS[method].compute({
    stream: { id: 1, combination: 1, method },
    inputs,
    results: { units, revenue, cost: new Float64Array(count) },
    others: [],
    givers: () => [],
    from: open,
    to: count,
    open,
    count,
    first: 0,
    fiscalStart: 1,
    prepared: undefined,
  });
}

function growthAnswer({ history, growth }: Record<'history' | 'growth', number[]>): number[] {
  const closed = history.length;
  const revenue = Float64Array.from([...history, ...growth.map(() => 0)]);
  const rates = Float64Array.from([...history.map(() => 0), ...growth]);
  compute('growthLastYear', [rates], new Float64Array(revenue.length), revenue, closed);
  return [...revenue.subarray(closed)];
}

interface FunnelInput {
  entries: number[];
  stages: { rate: number | number[]; lag: number }[];
  opening: number[][];
}

function funnelAnswer({ entries, stages, opening }: FunnelInput): number[][] {
  const steps = stages.map(({ rate, lag }, place) => ({
    rate: typeof rate === 'number' ? entries.map(() => rate) : rate,
    lag,
    opening: opening[place] ?? [],
  }));
  return funnelStages([entries], steps, entries.length).map((stage) => [...stage]);
}

/** Series as plain lists. */
const asLists = (series: object): Record<string, number[]> =>
  Object.fromEntries(
    Object.entries(series as Record<string, Float64Array>).map(([name, values]) => [
      name,
      [...values],
    ]),
  );

interface CohortsInput {
  opening: number;
  openingPrice: number;
  new: number[];
  churn: Churn;
  price: number[];
  pricePolicy: PricePolicy;
}
function cohortsAnswer({ opening, openingPrice, new: starters, ...rest }: CohortsInput): unknown {
  const base = { byAge: [opening], price: openingPrice };
  const { active, lost, revenue } = movementOf({ ...rest, opening: base, starters });
  return asLists({ active, lost, recurringRevenue: revenue.closing });
}

function movementAnswer(
  input: Omit<CohortsInput, 'churn' | 'pricePolicy'> & { churnRate: number },
): unknown {
  const { revenue } = movementOf({
    opening: { byAge: [input.opening], price: input.openingPrice },
    starters: input.new,
    churn: { kind: 'constant', rate: input.churnRate },
    price: input.price,
    pricePolicy: 'current',
  });
  return input.new.map((_, t) =>
    Object.fromEntries(Object.entries(revenue).map(([name, values]) => [name, values[t]])),
  );
}

function plateauAnswer(input: { gain: number; churn: Churn; fraction: number }): unknown {
  return plateauOf(input.gain, input.churn, input.fraction);
}

function retentionAnswer(
  input: Record<
    | 'price'
    | 'margin'
    | 'churnRate'
    | 'acquisitionCost'
    | 'opening'
    | 'lost'
    | 'expansion'
    | 'contraction',
    number
  >,
): unknown {
  const { price, margin, churnRate, acquisitionCost, opening, lost } = input;
  const churn = { kind: 'constant', rate: churnRate } as const;
  return {
    ...worthOf(price, margin, expectedMonths(churn), acquisitionCost),
    netRevenueRetention: netRevenueRetention(opening, lost, input.expansion, input.contraction),
  };
}

interface SmoothingInput {
  kind: SeasonKind;
  history: number[];
  alpha: number;
  beta: number;
  gamma: number;
  ahead: number;
}
function smoothingAnswer({ kind, history, ahead, ...rates }: SmoothingInput): unknown {
  return smooth(history, kind, rates, ahead);
}

function volumePriceAnswer({ lines }: VolumePriceInput): unknown {
  const months = lines[0]?.units.length ?? 0;
  const computed = lines.map((line) => {
    const units = new Float64Array(months);
    const revenue = new Float64Array(months);
    const inputs = [line.units, line.price, line.discount, line.returns].map((values) =>
      Float64Array.from(values),
    );
    compute('volumePrice', inputs, units, revenue, 0);
    return { units: [...units], revenue: [...revenue], market: line.market };
  });
  const byMonth = <T>(of: (t: number) => T): T[] => Array.from({ length: months }, (_, t) => of(t));
  const sum = (t: number, of: 'units' | 'revenue'): number =>
    computed.reduce((total, line) => total + (line[of][t] ?? 0), 0);
  const shares = (of: 'units' | 'revenue'): (number | null)[][] =>
    computed.map((_, place) =>
      byMonth((t) => sharesOf(computed.map((line) => line[of][t] ?? 0))[place] ?? null),
    );
  return {
    revenue: computed.map(({ revenue }) => revenue),
    totalRevenue: byMonth((t) => sum(t, 'revenue')),
    netUnits: byMonth((t) => sum(t, 'units')),
    averagePrice: byMonth((t) => ratio(sum(t, 'revenue'), sum(t, 'units'))),
    shareOfRevenue: shares('revenue'),
    shareOfUnits: shares('units'),
    marketShare: computed.map(({ units, market }) =>
      byMonth((t) => ratio(units[t] ?? 0, market[t] ?? 0)),
    ),
  };
}

/** Within 1e-9 of the larger of 1 and both numbers; whole numbers exactly. */
function assertAlike(actual: unknown, expected: unknown, where: string): void {
  if (typeof expected === 'number' && typeof actual === 'number') {
    if (Number.isInteger(expected) && Number.isInteger(actual))
      assert.equal(actual, expected, where);
    const allowed = 1e-9 * Math.max(1, Math.abs(actual), Math.abs(expected));
    assert.isAtMost(Math.abs(actual - expected), allowed, `${where}: ${actual} for ${expected}`);
  } else if (typeof expected === 'object' && expected !== null) {
    assert.equal(typeof actual, 'object', where);
    for (const [key, value] of Object.entries(expected)) {
      assertAlike((actual as Record<string, unknown>)[key], value, `${where}.${key}`);
    }
  } else assert.strictEqual(actual, expected, where);
}

const OWN = fileURLToPath(new URL('../cases/', import.meta.url));
/** More cases of the same kinds may lie beside the clone. */
const BESIDE = fileURLToPath(new URL('../../../shared/cases/', import.meta.url));

describe('worked cases', () => {
  for (const folder of [OWN, BESIDE].filter((path) => existsSync(path))) {
    for (const file of readdirSync(folder).sort()) {
      const worked = JSON.parse(readFileSync(`${folder}${file}`, 'utf8')) as Case;
      const answer = ANSWERS[worked.case];
      if (!answer) continue;
      it(`${worked.case}${folder === OWN ? '' : ', from beside the clone'}: ${worked.about}`, () => {
        assertAlike(answer(worked.input as never), worked.expected, worked.case);
      });
    }
  }

  it('has every kind it knows', () => {
    const kinds = readdirSync(OWN).map((file) => file.replace('.json', ''));
    assert.sameMembers(kinds, Object.keys(ANSWERS));
  });
});
