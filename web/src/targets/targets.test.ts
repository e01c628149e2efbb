import type { TargetNode } from '@dravex/contract';
import { assert } from 'chai';
import fc from 'fast-check';
import { formatsFor } from '../format/numbers.ts';
import { targetHeadline } from './headline.ts';
import { readPart, readTyped, type TargetEdit } from './read-part.ts';
import { changesOf, formOf, placesFor } from './node-form.ts';
import { isPossible } from './possible.ts';
import {
  gapOf,
  linesOf,
  peopleOf,
  rankedLines,
  sizeIn,
  targetColumns,
  targetRow,
} from './target-rows.ts';

const formats = formatsFor('en-IE', 'EUR');
const MINOR = 100;
const SIZE = { display: 'money', wholes: MINOR, unit: 1 } as const;

/** Nothing is sold beside the parts. */
const NONE = { lastYear: 0, actual: 0, outlook: 0 };

function nodeOf(id: number, level: number, part: Partial<TargetNode> = {}): TargetNode {
  return {
    id,
    parent: level === 0 ? null : id - 1,
    level,
    name: `N${id}`,
    kind: 'area',
    scope: [],
    ...{
      seller: null,
      account: null,
      manager: null,
      from: null,
      until: null,
      ramp: [],
      full: null,
    },
    ...{ cushion: 0, locked: false, state: 'draft', comment: null, deals: null, known: true },
    ...{ assignable: 1_000_000, cushionUsed: 0, capacity: null, best: 0, months: null },
    monthsTyped: false,
    counts: { scope: [], seller: null, account: null },
    others: null,
    due: 0.5,
    toDate: 0.9,
    pace: 1,
    part: { kind: 'percent', percent: 25 },
    typed: null,
    amount: 1_000_000,
    share: 0.25,
    unassigned: null,
    overAssigned: null,
    percentsBelow: 0,
    lastYear: 900_000,
    actual: 450_000,
    ahead: 0,
    aheadShare: 1,
    outlook: 950_000,
    attained: 0.45,
    ...part,
  };
}
const typed = (text: string, column = 'target', part: Partial<TargetEdit> = {}): TargetEdit => ({
  row: '2',
  column,
  text,
  unit: 1000,
  ...part,
});

describe('what is typed into targets', () => {
  const node = nodeOf(2, 1);
  const read = (edit: TargetEdit, of = node) => readTyped(edit, of, formats, SIZE);

  it('is an amount in the unit shown, a percent, or a change of what is there', () => {
    const amount = (cents: number) => ({ part: { kind: 'amount', amount: cents } as const });
    const percent = (value: number) => ({ part: { kind: 'percent', percent: value } as const });
    assert.deepEqual(read(typed('12.5')), amount(1_250_000));
    assert.deepEqual(read(typed('12.5k')), amount(1_250_000));
    assert.deepEqual(read(typed('+10%')), amount(1_100_000));
    assert.deepEqual(read(typed('-=2')), amount(800_000));
    assert.deepEqual(read(typed('30%')), percent(30));
    assert.deepEqual(read(typed('30', 'share')), percent(30));
    assert.deepEqual(read(typed('30%', 'share')), percent(30));
    assert.deepEqual(read(typed('+2pt', 'share')), percent(27));
    assert.deepEqual(read(typed('x2', 'share')), percent(50));
    // A share that follows from an amount is changed from what it comes to.
    const byAmount = nodeOf(2, 1, { part: { kind: 'amount', amount: 1 }, share: 0.4 });
    assert.deepEqual(read(typed('+10%', 'share'), byAmount), percent(44));
  });

  it('is refused with the reason, and a slip by a thousand is asked about', () => {
    const reason = (edit: TargetEdit, of = node): string => {
      const answer = read(edit, of);
      return 'reason' in answer ? answer.reason : '';
    };
    assert.include(reason(typed('')), 'enter 0, or remove the row');
    assert.include(reason(typed('much')), 'neither a percent');
    assert.include(reason(typed('-5')), 'an amount is zero or more');
    assert.include(reason(typed('-5', 'share')), 'a percent is zero or more');
    assert.include(
      reason(typed('5%'), nodeOf(1, 0)),
      'The target of the whole company is an amount',
    );
    const slip = read(typed('10000'));
    assert.deepInclude('doubt' in slip ? slip.doubt : {}, { text: '10' });
    assert.deepEqual(read(typed('10000', 'target', { sure: true })), {
      part: { kind: 'amount', amount: 1_000_000_000 },
    });
    assert.deepEqual(readPart('12,500.5', formats, MINOR), {
      part: { kind: 'amount', amount: 1_250_050 },
    });
  });
});

describe('the rows of targets', () => {
  const nodes = [
    nodeOf(1, 0, { unassigned: 50, overAssigned: 0, others: NONE }),
    nodeOf(2, 1, { unassigned: 0, overAssigned: 7, percentsBelow: 101, others: NONE }),
    nodeOf(3, 2),
    nodeOf(4, 1),
  ];

  it('say after the last part of each what its parts leave or exceed', () => {
    assert.deepEqual(
      linesOf(nodes).map(({ key }) => key),
      ['1', '2', '3', 'rest 2', '4', 'rest 1'],
    );
    assert.isEmpty(linesOf([]));
  });

  it('show what was typed, what is behind, and why some cells are not typed into', () => {
    const look = { formats, ...SIZE, unit: 1000 as const, capacity: false };
    const [top, , part, rest] = linesOf(nodes).map((line) => targetRow(line, look));
    const texts = (row: typeof top): string[] =>
      Array.from({ length: 10 }, (_, at) => row?.cells.at(at)?.text ?? '');
    const shown = ['10', '25.0%', '9', '10', '5', '', '45.0%', '90.0%', '\u22121', '0'];
    assert.deepEqual(texts(part), shown);
    assert.equal(part?.cells.at(1)?.dress, 'typed');
    assert.equal(part?.cells.at(7)?.judgement, 'bad', 'nine tenths of what is due');
    assert.include(top?.cells.at(1)?.fixed ?? '', 'an amount');
    assert.equal(rest?.label, 'Over-assigned');
    assert.include(rest?.tail ?? '', '101.0% in all');
    assert.isDefined(rest?.cells.at(0)?.fixed);
    const fixed = targetColumns(true, true).filter((column) => column.fixed !== undefined);
    assert.lengthOf(fixed, 9);
    const sizes = targetColumns(false, false).map(({ key }) =>
      sizeIn({ kind: 'node', key: '3', node: nodeOf(3, 2) }, key),
    );
    const row = [1_000_000, 0.25, 900_000, 950_000, 450_000, 0.45, 0.45, 0.9, -50_000, 1];
    assert.deepEqual(sizes, row);
    assert.isNull(sizeIn({ kind: 'rest', key: 'rest 1', of: nodeOf(1, 0) }, 'target'));
  });
});

describe('targets of other measures', () => {
  it('are shown as what they count, and nothing where nobody knows', () => {
    const units = { formats, unit: 1000 as const, display: 'units', wholes: 1, capacity: true };
    const line = { kind: 'node', key: '3' } as const;
    const texts = (node: TargetNode, look = units): string[] => {
      const { cells } = targetRow({ ...line, node }, look as never);
      return Array.from({ length: cells.length }, (_, at) => cells.at(at)?.text ?? '');
    };
    assert.deepEqual(texts(nodeOf(3, 2, { capacity: 2_000 })).slice(0, 6), [
      ...['1,000,000', '25.0%', '900,000', '950,000', '2,000', '450,000'],
    ]);
    const nobody = nodeOf(3, 2, { known: false, attained: null, toDate: null, pace: null });
    assert.deepEqual(texts(nobody).slice(2), ['–', '–', '–', '–', '', '–', '–', '–', '–']);
    const score = { formats, unit: 1000 as const, display: 'score', wholes: 100, capacity: false };
    assert.deepEqual(texts(nodeOf(3, 2, { amount: 855 }), score as never).slice(0, 2), [
      '8.55',
      '–',
    ]);
  });

  it('say who joins and leaves, what is locked, and how far it is agreed', () => {
    const node = nodeOf(3, 2, {
      ...{ from: '2026-07', until: '2026-10', locked: true, cushion: 4, state: 'questioned' },
    });
    const look = { formats, ...SIZE, capacity: false };
    const row = targetRow({ kind: 'node', key: '3', node }, look);
    assert.equal(row.tail, 'from Jul 26 · to Oct 26 · cushion 4 % · locked · question');
  });

  it('are ranked without their tree, people and what has no parts', () => {
    const nodes = [
      nodeOf(1, 0, { others: NONE }),
      nodeOf(2, 1, { others: NONE, kind: 'person' }),
      nodeOf(3, 2),
    ];
    assert.deepEqual(
      rankedLines(nodes).map(({ key }) => key),
      ['2', '3'],
    );
    assert.equal(gapOf(nodeOf(3, 2)), -50_000);
    assert.isNull(gapOf(nodeOf(3, 2, { due: null })));
  });
});

describe('whether a target can be reached', () => {
  it('names what is out of line, the most daring first', () => {
    const person = (id: number, more: Partial<TargetNode>): TargetNode =>
      nodeOf(id, 2, { kind: 'person', best: 1_000_000, outlook: 1_000_000, ...more });
    const found = isPossible([
      nodeOf(1, 0, { kind: 'company' }),
      person(2, {}),
      person(3, { capacity: 900_000 }),
      person(4, { best: 700_000, outlook: 990_000 }),
      person(5, { until: '2026-07', outlook: 400_000 }),
      person(6, { outlook: 0, best: 0 }),
      person(7, { outlook: 1_500_000 }),
    ]);
    assert.deepEqual(
      found.map(({ node, outlier, verdict }) => [node.id, outlier, verdict]),
      [
        [5, true, 'leaves: hand over what is left'],
        [4, true, 'far above the best twelve months'],
        [2, false, 'within reach'],
        [3, true, 'beyond capacity'],
        [7, true, 'far below the forecast'],
        [6, true, 'nothing sold so far'],
      ],
    );
  });
});

describe('the form of a node', () => {
  it('moves it below whatever does not lie below it', () => {
    const nodes = [nodeOf(1, 0), nodeOf(2, 1), nodeOf(3, 2), nodeOf(9, 1, { parent: 1 })];
    const [, moved] = nodes;
    assert.exists(moved);
    assert.deepEqual(
      placesFor(moved, nodes).map(({ id }) => id),
      [1, 9],
    );
    const form = { ...formOf(moved, undefined, formats, SIZE), parent: 9 };
    assert.deepEqual(changesOf(form, moved, formats, SIZE), { parent: 9 });
  });

  it('says what is there, and nothing changes that was not touched', () => {
    const ramp = fc.array(fc.integer({ min: 0, max: 100 }).map((share) => share / 100));
    const some = fc.record({
      kind: fc.constantFrom('area' as const, 'person' as const),
      full: fc.option(fc.integer({ min: 0, max: 1e9 })),
      ramp,
      cushion: fc.integer({ min: 0, max: 100_000 }).map((thousandths) => thousandths / 1000),
      from: fc.constantFrom(null, '2026-07'),
    });
    fc.assert(
      fc.property(some, (said) => {
        const person = said.kind === 'person';
        const node = nodeOf(3, 2, {
          ...said,
          ...(person ? {} : { full: null, ramp: [], from: null }),
        });
        const form = formOf(node, undefined, formats, SIZE);
        assert.deepEqual(changesOf(form, node, formats, SIZE), {});
        assert.deepEqual(changesOf({ ...form, name: 'Else' }, node, formats, SIZE), {
          name: 'Else',
        });
      }),
    );
  });
});

describe('the heading of targets', () => {
  const said = (nodes: TargetNode[]): string =>
    targetHeadline(nodes, 2027, (amount) => `${amount / MINOR}`);

  it('is true of every level', () => {
    const top = nodeOf(1, 0, { amount: 100_000, unassigned: 30_000, overAssigned: 0 });
    const team = (id: number, left: number, over: number): TargetNode =>
      nodeOf(id, 1, { unassigned: left, overAssigned: over });
    const own = nodeOf(2, 1);
    const score = nodeOf(1, 0, { amount: 8_600 });
    assert.equal(said([score, own]), 'The target is 86; one row below has its own');
    assert.equal(said([]), 'FY 2027 has no target yet');
    assert.equal(said([nodeOf(1, 0, { amount: 100_000 })]), 'The target is 1000, not divided yet');
    assert.equal(
      said([{ ...top, unassigned: 0 }, team(2, 0, 0)]),
      'The target of 1000 is fully assigned',
    );
    assert.equal(
      said([top, team(2, 0, 6_300), team(3, 1_000, 0), team(4, 2_000, 0)]),
      '300 of 1000 unassigned; 63 over-assigned below N2; 30 unassigned below 2 teams',
    );
  });
});

describe('the people of a part of the tree', () => {
  it('are those below it, at any depth, and a person itself', () => {
    const nodes = [
      nodeOf(1, 0),
      nodeOf(2, 1),
      nodeOf(3, 2, { kind: 'person' }),
      nodeOf(4, 3),
      nodeOf(5, 1, { parent: 1, kind: 'person' }),
    ];
    const ids = (id: number): number[] => peopleOf({ id }, nodes).map((node) => node.id);
    assert.deepEqual([1, 2, 3, 4, 5].map(ids), [[3, 5], [3], [3], [], [5]]);
  });
});
