import type { TargetNode } from '@dravex/contract';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { targetHeadline } from './headline.ts';
import { readPart, readTyped, type TargetEdit } from './read-part.ts';
import { linesOf, sizeIn, targetColumns, targetRow } from './target-rows.ts';

const formats = formatsFor('en-IE', 'EUR');
const MINOR = 100;

function nodeOf(id: number, level: number, part: Partial<TargetNode> = {}): TargetNode {
  return {
    id,
    parent: level === 0 ? null : id - 1,
    level,
    name: `N${id}`,
    kind: 'area',
    scope: [],
    seller: null,
    until: null,
    counts: { scope: [], seller: null },
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
  const read = (edit: TargetEdit, of = node) => readTyped(edit, of, formats, MINOR);

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
    nodeOf(1, 0, { unassigned: 50, overAssigned: 0 }),
    nodeOf(2, 1, { unassigned: 0, overAssigned: 7, percentsBelow: 101 }),
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
    const look = { formats, unit: 1000 as const, minor: MINOR };
    const [top, , part, rest] = linesOf(nodes).map((line) => targetRow(line, look));
    const texts = (row: typeof top): string[] =>
      Array.from({ length: 8 }, (_, at) => row?.cells.at(at)?.text ?? '');
    assert.deepEqual(texts(part), ['10', '25.0%', '9', '10', '5', '', '45.0%', '90.0%']);
    assert.equal(part?.cells.at(1)?.dress, 'typed');
    assert.equal(part?.cells.at(7)?.judgement, 'bad', 'nine tenths of what is due');
    assert.include(top?.cells.at(1)?.fixed ?? '', 'an amount');
    assert.equal(rest?.label, 'Over-assigned');
    assert.include(rest?.tail ?? '', 'the percents add up to 101.0%');
    assert.isDefined(rest?.cells.at(0)?.fixed);
    const fixed = targetColumns(true).filter((column) => column.fixed !== undefined);
    assert.lengthOf(fixed, 6);
    const sizes = targetColumns(false).map(({ key }) =>
      sizeIn({ kind: 'node', key: '3', node: nodeOf(3, 2) }, key),
    );
    assert.deepEqual(sizes, [1_000_000, 0.25, 900_000, 950_000, 450_000, 0.45, 0.45, 0.9]);
    assert.isNull(sizeIn({ kind: 'rest', key: 'rest 1', of: nodeOf(1, 0) }, 'target'));
  });
});

describe('the heading of targets', () => {
  const said = (nodes: TargetNode[]): string =>
    targetHeadline(nodes, 2027, (amount) => `${amount / MINOR}`);

  it('is true of every level', () => {
    const top = nodeOf(1, 0, { amount: 100_000, unassigned: 30_000, overAssigned: 0 });
    const team = (id: number, left: number, over: number): TargetNode =>
      nodeOf(id, 1, { unassigned: left, overAssigned: over });
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
