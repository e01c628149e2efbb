import { assert } from 'chai';
import fc from 'fast-check';
import { monthFrom } from '../calendar/month.ts';
import { compile, evaluate } from '../forecast/run.ts';
import { assume, COMBINATIONS, M, smallPlan } from '../testing/small-plan.ts';
import { targetProblems } from './check-entry.ts';
import { explainGap } from './gap.ts';
import { retarget } from './retarget.ts';
import { YearStandings } from './standing.ts';
import {
  EVERYTHING,
  PLAIN_ENTRY,
  targetTree,
  type TargetEntry,
  type TargetLine,
} from './target-tree.ts';

/** Three months of the year are closed; every combination sold in both years, half of it by S1. */
const months = ['2025-01', '2025-06', '2025-12', '2026-02'];
const rows = COMBINATIONS.flatMap(({ id }, place) =>
  months.map((month, at) => ({ combination: id, month, revenue: 10_000 * (place + 1) * (at + 1) })),
);
const unitsAt = (place: number): number => 1 + ((place * 3) % 7);
const whole = smallPlan([assume('grossUnits', [], 1), assume('listPrice', [], 5)], {
  actuals: {
    combination: rows.map(({ combination }) => combination),
    month: rows.map(({ month }) => month),
    // Unlike prices, so that a difference has a mix, and steps to be rounded.
    units: rows.map((_, place) => unitsAt(place)),
    revenue: rows.map(({ revenue }) => revenue),
    cost: rows.map(() => 0),
  },
});
const plan = { ...whole, calendar: { ...whole.calendar, closedThrough: '2026-03' } };
const model = evaluate(compile(plan));
const halves = (seller: string) =>
  rows.map(({ combination, month, revenue }, place) => ({
    ...{ seller, combination },
    month: monthFrom(month),
    account: 'A1',
    revenue: revenue / 2,
    ...{ units: unitsAt(place) / 2, cost: 0 },
  }));
const standings = new YearStandings(model, [...halves('S1'), ...halves('S2').slice(0, 8)], 2026);
const { tree } = model;

const entry = (
  id: number,
  parent: number | null,
  more: Partial<TargetEntry> = {},
): TargetEntry => ({
  ...{ id, parent, name: `N${id}`, kind: parent === null ? 'company' : 'area' },
  ...PLAIN_ENTRY,
  part: parent === null ? { kind: 'amount', amount: 1_000_001 } : { kind: 'percent', percent: 30 },
  ...more,
});
const laid = (entries: readonly TargetEntry[]): TargetLine[] =>
  targetTree(entries, standings, tree, 100);
const line = (lines: readonly TargetLine[], id: number): TargetLine => {
  const found = lines.find((one) => one.entry.id === id);
  if (!found) throw new Error(`There is no node ${id}`);
  return found;
};

describe('a target tree', () => {
  const top = entry(1, null);
  const north = entry(2, 1, { scope: [M.north] });

  it('narrows scopes downwards, and keeps the seller below a person', () => {
    const lines = laid([
      top,
      north,
      entry(3, 2, { scope: [M.carafe] }),
      entry(4, 2, { scope: [M.tap], kind: 'person', seller: 'S1' }),
      entry(5, 4, { scope: [M.web] }),
    ]);
    assert.deepEqual(line(lines, 3).holder, { ...EVERYTHING, scope: [M.carafe, M.north] });
    const northern = COMBINATIONS.filter(({ members }) => members.includes(M.north));
    const of = (product: number): number =>
      rows
        .filter(
          ({ combination, month }) =>
            month === '2026-02' &&
            northern.some(
              ({ id, members }) => id === combination && members.some((id) => id === product),
            ),
        )
        .reduce((sum, { revenue }) => sum + revenue, 0);
    assert.equal(line(lines, 3).actual, of(M.carafe));
    assert.equal(line(lines, 4).actual, of(M.tap) / 2);
    assert.equal(line(lines, 5).holder?.seller, 'S1');
    assert.isBelow(line(lines, 5).actual, line(lines, 4).actual);
  });

  it('adds up at every level, with what none of the parts sells, whatever is divided how', () => {
    const part = fc.oneof(
      fc.record({
        kind: fc.constant('percent' as const),
        percent: fc.integer({ min: 0, max: 90 }),
      }),
      fc.record({
        kind: fc.constant('amount' as const),
        amount: fc.integer({ min: 0, max: 900_000 }),
      }),
    );
    const person = fc.record({
      part,
      seller: fc.constantFrom('S1', 'S2'),
      until: fc.constantFrom(null, monthFrom('2026-05'), monthFrom('2025-07')),
    });
    fc.assert(
      fc.property(fc.array(person, { maxLength: 2 }), part, fc.boolean(), (people, area, group) => {
        const sellers = new Set<string>();
        const lines = laid([
          top,
          { ...north, part: area },
          entry(3, 1, group ? {} : { scope: [M.coast] }),
          ...people.flatMap(({ part: own, seller, until }, place) => {
            if (sellers.has(seller)) return [];
            sellers.add(seller);
            return [entry(10 + place, 2, { kind: 'person', part: own, seller, until })];
          }),
        ]);
        for (const one of lines) {
          const below = lines.filter(({ entry: { parent } }) => parent === one.entry.id);
          if (below.length === 0) continue;
          const left = (one.unassigned ?? 0) - (one.overAssigned ?? 0);
          assert.equal(
            below.reduce((sum, { amount }) => sum + amount, left),
            one.amount,
          );
          for (const code of ['lastYear', 'actual', 'outlook'] as const) {
            const sum = below.reduce((all, each) => all + each[code], one.others?.[code] ?? NaN);
            assert.equal(sum, one[code]);
            assert.isAtLeast(one.others?.[code] ?? NaN, -1, 'nothing counts twice');
          }
        }
      }),
    );
  });

  it('has each node’s own season, and that of the node above where it sold nothing', () => {
    const [only] = COMBINATIONS;
    const odd = {
      ...plan,
      actuals: {
        combination: [100, 100, 104],
        month: ['2025-02', '2025-08', '2025-09'],
        units: [1, 1, 1],
        revenue: [30_000, 10_000, 60_000],
        cost: [0, 0, 0],
      },
    };
    const lines = targetTree(
      [
        top,
        entry(2, 1, { scope: [M.web] }),
        entry(3, 1, { scope: [M.stores] }),
        entry(4, 2, { scope: [M.tap] }),
      ],
      new YearStandings(evaluate(compile(odd)), [], 2026),
      tree,
      100,
    );
    assert.equal(only?.id, 100);
    // By the end of March: 300 of 1,000, of the web shop 300 of 400, of the stores nothing.
    assert.deepEqual(
      [1, 2, 3, 4].map((id) => line(lines, id).due),
      [0.3, 0.75, 0, 0.75],
    );
    const none = targetTree([top], new YearStandings(evaluate(compile(odd)), [], 2025), tree, 100);
    assert.isNull(none[0]?.due);
    assert.isNull(none[0]?.toDate);
  });

  it('ends the forecast of who leaves: it is somebody else’s, or nobody’s', () => {
    const people = (until: number | null) =>
      laid([top, entry(2, 1, { kind: 'person', seller: 'S1', until })]);
    const [stays, leaves] = [people(null), people(monthFrom('2026-03'))];
    assert.isAbove(line(stays, 2).outlook, line(stays, 2).actual);
    assert.equal(line(leaves, 2).outlook, line(leaves, 2).actual);
    assert.equal(
      line(leaves, 1).others?.outlook,
      (line(stays, 1).others?.outlook ?? 0) + line(stays, 2).outlook - line(stays, 2).actual,
    );
  });
});

describe('parts that are typed', () => {
  it('make at once what reading the tree anew makes of them', () => {
    const part = fc.oneof(
      fc.record({
        kind: fc.constant('percent' as const),
        percent: fc.integer({ min: 0, max: 120 }),
      }),
      fc.record({
        kind: fc.constant('amount' as const),
        amount: fc.integer({ min: 0, max: 900_000 }),
      }),
    );
    const entries = [
      entry(1, null),
      entry(2, 1, { scope: [M.north], cushion: 5 }),
      entry(3, 2, { kind: 'person', seller: 'S1' }),
      entry(4, 2, { kind: 'person', seller: 'S2' }),
      entry(5, 1, { scope: [M.coast] }),
    ];
    const flat = (lines: readonly TargetLine[]) =>
      lines.map(({ entry: { id, parent, part: own, cushion }, ...line }) => ({
        ...{ ...line, id, parent, part: own, cushion },
      }));
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: 2, max: 5 }), part)), (typed) => {
        const parts = new Map(typed);
        const known = { measure: 'revenue' as const, closedMonths: standings.closedMonths };
        const before = flat(laid(entries));
        const now = retarget(before, parts, known);
        const anew = flat(
          laid(entries.map((one) => ({ ...one, part: parts.get(one.id) ?? one.part }))),
        );
        now.forEach((node, place) => {
          const read = anew[place];
          const { pace, months, toDate, ...rest } = node;
          // What is typed as it stood changes nothing, and its pace stays.
          if (node.amount !== before[place]?.amount) assert.isNull(pace, 'until it is read');
          assert.deepInclude(read, rest);
          // A month can be a cent off until it is read.
          months?.forEach((month, at) => assert.approximately(month, read?.months?.[at] ?? NaN, 1));
          if (node.amount > 100) assert.approximately(toDate ?? 0, read?.toDate ?? 0, 0.01);
        });
        assert.isTrue(before.every((node, at) => parts.size > 0 || node === now[at]));
      }),
    );
  });
});

describe('why a target is ahead or behind', () => {
  const people = (more: Partial<TargetEntry> = {}): TargetLine[] =>
    laid([
      entry(1, null),
      entry(2, 1, { scope: [M.north] }),
      entry(3, 2, { kind: 'person', seller: 'S1' }),
      entry(4, 2, { kind: 'person', seller: 'S2', ...more }),
    ]);

  it('adds up from the target to date to actual, whoever joined or left', () => {
    const moves = fc.record({
      from: fc.constantFrom(null, monthFrom('2025-05'), monthFrom('2026-02')),
      until: fc.constantFrom(null, monthFrom('2026-01'), monthFrom('2026-08')),
      months: fc.constantFrom(null, [1, 5, 0, 0, 2, 0, 0, 0, 0, 0, 0, 1]),
    });
    fc.assert(
      fc.property(moves, (more) => {
        const lines = people(more);
        for (const { entry: own } of lines) {
          const gap = explainGap(lines, own.id, standings, 100);
          if (!gap) continue;
          const sum = gap.steps.reduce((all, { value }) => all + value, gap.due);
          assert.equal(sum, gap.actual);
        }
      }),
    );
  });

  it('is the growth that the target asks, the months, the people, and volume, mix and price', () => {
    const lines = people({ until: monthFrom('2026-02') });
    const of = (id: number) => {
      const gap = explainGap(lines, id, standings, 100);
      return Object.fromEntries(gap?.steps.map(({ kind, value }) => [kind, value]) ?? []);
    };
    // S2 left in February, and nothing of theirs was sold in March a year before.
    const whole = of(1);
    assert.isUndefined(whole['joiners']);
    assert.isUndefined(whole['leavers'], 'they sold nothing in those months last year');
    assert.isUndefined(whole['phasing'], 'by last year’s own season');
    const typed = laid([entry(1, null, { months: [0, 0, 0, 1, 1, 1, 1, 1, 1, 1, 1, 1] })]);
    const phased = explainGap(typed, 1, standings, 100);
    assert.equal(phased?.due, 0);
    assert.isAbove(phased?.steps.find(({ kind }) => kind === 'phasing')?.value ?? 0, 0);
  });

  it('is nothing where no target is due', () => {
    assert.isNull(explainGap(people(), 99, standings, 100));
    const early = new YearStandings(model, [], 2027);
    const none = targetTree([entry(1, null)], early, tree, 100);
    assert.isNull(explainGap(none, 1, early, 100));
  });
});

describe('a node of a target tree', () => {
  const entries = [
    entry(1, null),
    entry(2, 1, { name: 'North', scope: [M.north] }),
    entry(3, 2, { name: 'Ada', kind: 'person', seller: 'S1', scope: [M.web] }),
    entry(4, 1, { name: 'Team' }),
  ];
  const known = {
    measure: 'revenue' as const,
    tree,
    sellers: new Set(['S1', 'S2']),
    accounts: new Set(['A1', 'A2']),
  };
  const refused = (more: Partial<TargetEntry> & { parent: number }) =>
    targetProblems(entry(9, more.parent, more), entries, known).map(
      ({ field, message }) => `${field}: ${message}`,
    );

  it('is refused where it would count twice, or nothing', () => {
    const person = { kind: 'person' } as const;
    assert.match(
      refused({ parent: 2, ...person }).join(),
      /^seller: A person needs the seller code/,
    );
    assert.match(
      refused({ parent: 2, ...person, seller: 'S9' }).join(),
      /No sales line bears .*S9.*S1, S2/,
    );
    assert.match(refused({ parent: 1, until: 24_315 }).join(), /^until: Only a person/);
    assert.match(refused({ parent: 2, scope: [M.coast] }).join(), /^scope: coast is outside north/);
    assert.match(
      refused({ parent: 4, ...person, seller: 'S1' }).join(),
      /^seller: S1 is Ada already/,
    );
    assert.match(refused({ parent: 1, scope: [M.web] }).join(), /^scope: North counts some/);
    assert.match(refused({ parent: 2, scope: [M.web] }).join(), /^scope: Ada counts some/);
    assert.match(refused({ parent: 3, ...person, seller: 'S2' }).join(), /the sales of S1 only/);
  });

  it('is taken where it counts what nobody else does', () => {
    assert.isEmpty(refused({ parent: 1, scope: [M.coast] }));
    assert.isEmpty(refused({ parent: 2, scope: [M.stores] }));
    assert.isEmpty(refused({ parent: 2, kind: 'person', seller: 'S2' }));
    assert.isEmpty(refused({ parent: 1 }), 'a team that only groups its parts');
    assert.isEmpty(refused({ parent: 3, scope: [M.carafe] }), 'a part below a person');
  });
});
