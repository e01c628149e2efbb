import { MemberTree } from '@dravex/core';
import { assert } from 'chai';
import { M, smallPlan } from '../../../core/src/testing/small-plan.ts';
import { formatsFor } from '../format/numbers.ts';
import { linesOf } from '../grid/grid-file.ts';
import { factColumns, factRows, ledgerColumns, ledgerRows, valueIn } from './fact-rows.ts';

const formats = formatsFor('en-IE', 'EUR');
const months = ['2026-11', '2026-12', '2027-01'];
const arrowOf = (column: string) => (column === 'total' ? { ordered: '↓' } : {});
const open = <Row>(rows: readonly Row[]) => rows.map((row) => ({ ...row, folded: false }));

describe('what happened besides sales, as a table', () => {
  const measure = { code: 'visits', name: 'Visits', unit: 'people', nature: 'stock' as const };
  const facts = {
    months,
    measures: [measure, { ...measure, code: 'quiz', name: 'Quiz' }],
    rows: [{ measure: 'visits', members: [M.web], values: [1200.5, null, 1300], total: 1300 }],
  };

  it('has each measure above what it was measured of, and none that was not', () => {
    const rows = open(factRows(facts, new MemberTree(smallPlan([]).dimensions), formats));
    const columns = factColumns(facts, arrowOf);
    assert.deepEqual(
      rows.map(({ label, tail, level, cells }) => [label, tail, level, cells.at(1)?.text]),
      [
        ['Visits', 'people, as of the last month', 0, ''],
        [rows[1]?.label, undefined, 1, '1,200.5'],
      ],
    );
    assert.equal(rows[1]?.cells.at(2)?.text, '–', 'nothing measured is no zero');
    assert.equal(rows[1] && valueIn(rows[1], columns, 'total'), 1300);
    assert.equal(columns[0]?.ordered, '↓');
    assert.equal(columns[3]?.heading, 'Jan 27', 'over two years months have theirs');
  });

  it('has accounts in money, with their parts of revenue, and is saved in full', () => {
    const ledger = {
      months,
      accounts: [
        {
          ...{ code: '4000', name: 'Sales', kind: 'revenue' as const, behaviour: null },
          ...{ values: [1_234_567, 0, 0], total: 1_234_567, share: 1 },
        },
      ],
    };
    const rows = open(ledgerRows(ledger, formats, 1000, 100));
    const lines = linesOf({ heading: 'Account', columns: ledgerColumns(ledger, arrowOf), rows });
    assert.equal(rows[0]?.cells.at(0)?.text, '12');
    assert.deepEqual(lines.at(-1), [
      '4000, Sales',
      12.34567,
      1,
      'Revenue',
      'not set',
      12.34567,
      0,
      0,
    ]);
    assert.equal(lines[0]?.[1], 'Total, thousand €');
  });
});
