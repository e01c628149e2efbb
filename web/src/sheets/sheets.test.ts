import type { FilledSheet, Sheet, SheetLine } from '@dravex/contract';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { readLine, type SheetEdit } from './read-line.ts';
import { isLate, lookOf, sheetColumns, sheetHeadline, sheetRow } from './sheet-rows.ts';

const formats = formatsFor('en-IE', 'EUR');
const line = (more: Partial<SheetLine> = {}): SheetLine => ({
  ...{ key: '1/2', name: 'Carafes', level: 1, parent: false, scope: [1, 2] },
  ...{ comment: '', basis: 'standing', locked: false },
  ...{ lastYear: 20_000_000, lastTwelve: 21_000_000, forecast: null, target: null },
  plan: 22_000_000,
  ...more,
});
const sheet: Sheet = {
  ...{ id: 's', title: 'North', version: 1, versionName: 'Budget FY 2028', person: 2 },
  ...{ personName: 'Ada', scope: [1], rows: ['product'], measure: 'revenue', due: '2026-11-13' },
  ...{ state: 'handedOut', steps: [], from: '2027-04', to: '2028-03', open: true },
};
const filled = (lines: SheetLine[], of = sheet): FilledSheet => ({
  ...{ sheet: of, lines, closedThrough: '2026-09', minorDigits: 2 },
});
const total = (more: Partial<SheetLine>): SheetLine =>
  line({ key: '', name: 'Total', level: 0, parent: true, ...more });
const headline = (more: Partial<SheetLine>): string => {
  const all = filled([total(more), line()]);
  return sheetHeadline(all, lookOf(all, formats, 1000));
};

describe('a budget sheet', () => {
  it('says how much is planned: below the target first, else beside last year', () => {
    assert.equal(
      headline({ target: 23_000_000 }),
      'North: 220 thousand planned, 10 thousand below the target',
    );
    assert.equal(
      headline({ target: 21_000_000 }),
      'North: 220 thousand planned, 10.0% more than last year',
    );
    assert.equal(
      headline({ plan: 10_000_000 }),
      'North: 100 thousand planned, 50.0% less than last year',
    );
    assert.equal(headline({ lastYear: 0 }), 'North: 220 thousand planned');
    assert.equal(
      sheetHeadline(filled([total({})]), lookOf(filled([]), formats, 1)),
      'North has no lines',
    );
  });

  it('shows money in the unit that is chosen and units one by one; what is unknown is a dash', () => {
    const columns = sheetColumns('Plan');
    const texts = (of: FilledSheet): string[] => {
      const row = sheetRow(line(), columns, lookOf(of, formats, 1000));
      return columns.map((_, at) => row.cells.at(at)?.text ?? '');
    };
    assert.deepEqual(texts(filled([])), ['220', '200', '+10.0%', '210', '–', '–', '']);
    const units = texts(filled([], { ...sheet, measure: 'units' }));
    assert.equal(units[0], '22,000,000');
  });

  it('says of a line what is locked and how it is divided, and types into no locked one', () => {
    const columns = sheetColumns('Plan');
    const look = lookOf(filled([]), formats, 1000);
    const row = sheetRow(line({ locked: true, basis: 'equal' }), columns, look);
    assert.equal(row.tail, 'locked · equally');
    assert.include(row.cells.at(0)?.fixed, 'unlock it first');
    assert.isUndefined(sheetRow(line(), columns, look).tail);
  });

  it('is late after its day as long as it is not handed in', () => {
    const late = (state: Sheet['state'], today: string): boolean =>
      isLate({ ...sheet, state }, today);
    assert.isFalse(late('handedOut', '2026-11-13'));
    assert.isTrue(late('handedOut', '2026-11-14'));
    assert.isTrue(late('questioned', '2026-11-14'));
    assert.isFalse(late('handedIn', '2026-11-14'));
    assert.isFalse(isLate({ ...sheet, due: null }, '2027-01-01'));
  });
});

describe('what is typed into a budget sheet', () => {
  const look = { display: 'money', wholes: 100 } as const;
  const read = (text: string, more: Partial<SheetEdit> = {}) =>
    readLine(
      { ...{ row: '1/2', column: 'plan', text, sheet: 's', unit: 1000, scope: [] }, ...more },
      line(),
      formats,
      look,
    );
  const typed = (text: string): number | undefined => {
    const answer = read(text);
    return 'typed' in answer ? answer.typed.total : undefined;
  };

  it('is a number in the unit shown, or a change of what is there, to the cent', () => {
    assert.equal(typed('230'), 23_000_000);
    assert.equal(typed('+10%'), 24_200_000);
    assert.equal(typed('+=1.5'), 22_150_000);
    assert.equal(typed('0'), 0);
    assert.deepEqual(read('230'), {
      typed: { scope: [1, 2], total: 23_000_000, saw: 22_000_000 },
    });
  });

  it('is refused where it is no number, and asked about where it is a thousand times off', () => {
    assert.property(read('abc'), 'reason');
    assert.property(read(''), 'reason');
    const slip = read('220000');
    assert.isTrue('doubt' in slip && slip.doubt.text === '220');
    assert.property(read('220000', { sure: true }), 'typed');
  });
});
