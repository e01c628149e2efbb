import { assert } from 'chai';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { assume, M, smallPlan } from '../testing/small-plan.ts';
import { explainGap } from './gap.ts';
import { YearStandings } from './standing.ts';
import { PLAIN_ENTRY, targetTree, type TargetEntry, type TargetLine } from './target-tree.ts';

/**
 * A company small enough to be worked out by hand. Two sellers and nobody sell web carafes (100 in
 * north, 101 in coast), and something came back from the stores (104); one unit at 5 euros is
 * forecast in each of eight combinations, in each of the nine open months of 2026.
 */
const SOLD = [
  // seller, account, combination, month, units, euros
  ['S1', 'A1', 100, '2025-01', 10, 100],
  ['S1', 'A2', 100, '2025-02', 20, 200],
  ['S1', 'A2', 104, '2025-05', -2, -20],
  ['S1', 'A1', 100, '2025-06', 30, 300],
  ['S1', 'A1', 100, '2026-01', 10, 150],
  ['S1', 'A2', 100, '2026-02', 4, 80],
  ['S2', 'A1', 100, '2025-01', 10, 100],
  ['S2', 'A1', 100, '2025-12', 10, 100],
  ['S2', 'A1', 100, '2026-03', 4, 40],
  ['', 'A3', 101, '2025-03', 5, 50],
] as const;
const CENTS = 100;
const sales = SOLD.map(([seller, account, combination, month, units, euros]) => ({
  ...{ seller, account, combination, month: monthFrom(month), units, cost: 0 },
  revenue: euros * CENTS,
}));
const facts = [...new Set(SOLD.map(([, , combination, month]) => `${combination} ${month}`))].map(
  (key) => {
    const same = SOLD.filter(([, , combination, month]) => `${combination} ${month}` === key);
    const [combination = '', month = ''] = key.split(' ');
    const total = (column: 4 | 5): number => same.reduce((sum, line) => sum + line[column], 0);
    return { combination: Number(combination), month, units: total(4), euros: total(5) };
  },
);
const plan = smallPlan([assume('grossUnits', [], 1), assume('listPrice', [], 5)], {
  actuals: {
    combination: facts.map(({ combination }) => combination),
    month: facts.map(({ month }) => month),
    units: facts.map(({ units }) => units),
    revenue: facts.map(({ euros }) => euros * CENTS),
    cost: facts.map(() => 0),
  },
});
const model = evaluate(
  compile({ ...plan, calendar: { ...plan.calendar, closedThrough: '2026-03' } }),
);
const standings = new YearStandings(model, sales, 2026);
/** Forecast of everything in the open months, and the two sellers' last twelve closed months. */
const AHEAD = 8 * 9 * 5;
const [LAST_12, LAST_12_OF_S1] = [650, 510];

const amount = (euros: number) => ({ part: { kind: 'amount', amount: euros * CENTS } }) as const;
const entry = (id: number, parent: number | null, more: Partial<TargetEntry>): TargetEntry => ({
  ...{ id, parent, name: `N${id}`, kind: parent === null ? 'company' : 'area' },
  ...PLAIN_ENTRY,
  ...amount(0),
  ...more,
});
const person = (id: number, seller: string, more: Partial<TargetEntry> = {}): TargetEntry =>
  entry(id, 1, { kind: 'person', seller, ...more });
function laid(...entries: TargetEntry[]): (id: number) => TargetLine {
  const lines = targetTree(entries, standings, model.tree, CENTS);
  return (id) => {
    const found = lines.find((line) => line.entry.id === id);
    if (!found) throw new Error(`There is no node ${id}`);
    return found;
  };
}

describe('where people stand', () => {
  it('is what they sold, and of what is ahead their share of the last twelve closed months', () => {
    const line = laid(entry(1, null, amount(850)), person(2, 'S1'));
    assert.equal(line(1).actual, 270 * CENTS);
    assert.equal(line(1).lastYear, 830 * CENTS);
    assert.equal(line(2).actual, 230 * CENTS);
    assert.equal(line(2).outlook, Math.round((230 + (AHEAD * LAST_12_OF_S1) / LAST_12) * CENTS));
    assert.equal(line(1).best, 830 * CENTS, 'the year before; 650 in the last twelve months');
  });

  it('leaves to the rest of a person what the particular parts do not have, ahead as well', () => {
    const line = laid(
      entry(1, null, amount(850)),
      person(2, 'S1', amount(600)),
      entry(3, 2, { scope: [M.carafe] }),
      entry(4, 2, {}),
    );
    // Carafes are half of what is forecast; all that S1 sold were carafes.
    const carafes = ((AHEAD / 2) * LAST_12_OF_S1) / LAST_12;
    assert.equal(line(3).outlook, Math.round((230 + carafes) * CENTS));
    assert.equal(line(4).actual, 0);
    assert.equal(line(4).outlook, Math.round(carafes * CENTS));
    assert.equal(line(2).others?.actual, 0);
    assert.approximately(line(2).others?.outlook ?? NaN, 0, 1);
  });

  it('has months only while somebody is there, and none for a month in which goods came back', () => {
    const months = (more: Partial<TargetEntry>) =>
      laid(entry(1, null, amount(850)), person(2, 'S1', { ...amount(600), ...more }))(2).months;
    const euros = (...values: number[]): number[] => values.map((value) => value * CENTS);
    assert.deepEqual(months({}), euros(100, 200, 0, 0, 0, 300, 0, 0, 0, 0, 0, 0));
    assert.deepEqual(
      months({ until: monthFrom('2026-02') }),
      euros(200, 400, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0),
    );
    assert.deepEqual(
      months({ from: monthFrom('2026-07') }),
      euros(0, 0, 0, 0, 0, 0, 100, 100, 100, 100, 100, 100),
    );
  });

  it('asks of each month left what is missing, of those in which they are there', () => {
    const pace = (more: Partial<TargetEntry>) =>
      laid(entry(1, null, amount(850)), person(2, 'S1', { ...amount(410), ...more }))(2).pace;
    assert.equal(pace({}), 20 * CENTS);
    assert.equal(pace({ from: monthFrom('2026-07') }), 30 * CENTS);
    assert.equal(pace({ until: monthFrom('2026-05') }), 90 * CENTS);
    assert.isNull(pace({ until: monthFrom('2026-03') }));
  });

  it('adds up what people can sell, from when they join and as they ramp up', () => {
    const line = laid(
      entry(1, null, amount(850)),
      person(2, 'S1', { full: 1000 }),
      person(3, 'S2', { full: 500, from: monthFrom('2026-10'), ramp: [0.5] }),
      person(4, 'S3', {}),
    );
    assert.deepEqual(
      [1, 2, 3, 4].map((id) => line(id).capacity),
      [13_250, 12_000, 1_250, null],
    );
  });

  it('lets a cushion be handed out, and no more', () => {
    const parts = (first: number, second: number) => {
      const { assignable, cushionUsed, unassigned, overAssigned } = laid(
        entry(1, null, { ...amount(1000), cushion: 5 }),
        person(2, 'S1', amount(first)),
        person(3, 'S2', amount(second)),
      )(1);
      return [assignable, unassigned, cushionUsed, overAssigned].map((one) => (one ?? 0) / CENTS);
    };
    assert.deepEqual(parts(600, 390), [1050, 10, 0, 0]);
    assert.deepEqual(parts(600, 430), [1050, 0, 30, 0]);
    assert.deepEqual(parts(600, 480), [1050, 0, 50, 30]);
  });
});

describe('why the company is behind', () => {
  const stepsWith = (s2: Partial<TargetEntry>): Record<string, number> => {
    // So much is asked that growth is by far the largest step: what is left of rounding is there.
    const entries = [entry(1, null, amount(8500)), person(2, 'S1'), person(3, 'S2', s2)];
    const gap = explainGap(targetTree(entries, standings, model.tree, CENTS), 1, standings, CENTS);
    assert.equal(gap?.due, 4500 * CENTS);
    assert.equal(gap?.actual, 270 * CENTS);
    return Object.fromEntries(gap?.steps.map(({ kind, value }) => [kind, value]) ?? []);
  };
  // Of last year 450 of 830 fell into these months; of its season, in which returns are none, 450 of 850.
  const asked = { growth: -415_843, phasing: 10_843 };

  it('is of those who left what is no longer sold, and of the others volume and price', () => {
    assert.deepEqual(stepsWith({ until: monthFrom('2025-12') }), {
      ...asked,
      leavers: -60 * CENTS,
      // 30 carafes at 10 euros became 14 for 230 euros; the coast sold none.
      volume: -160 * CENTS,
      price: 90 * CENTS,
      discontinued: -50 * CENTS,
    });
  });

  it('is of those who joined in these months what they sold, and nothing of who is still to come', () => {
    assert.equal(stepsWith({ from: monthFrom('2026-02') })['joiners'], -60 * CENTS);
    const later = stepsWith({ from: monthFrom('2026-05') });
    assert.isUndefined(later['joiners']);
    assert.equal(later['volume'], -220 * CENTS);
    assert.isUndefined(stepsWith({ until: monthFrom('2026-03') })['leavers']);
  });
});
