import { assert } from 'chai';
import fc from 'fast-check';
import {
  headerPlace,
  isTotalRow,
  isWide,
  joinYears,
  likeness,
  matchColumns,
  monthColumns,
} from './columns.ts';
import { dateStyleOf, readDay, readMonth } from './day.ts';
import { currencyMark, decimalSignOf, numberFault, readNumber } from './number.ts';

describe('readNumber', () => {
  const read: [string | number, '.' | ',', number, number][] = [
    ['72.60', '.', 2, 7260],
    ['72,6', ',', 2, 7260],
    ['-5', '.', 2, -500],
    ['5-', '.', 2, -500],
    ['(1,234.50)', '.', 2, -123450],
    ['1.234,56', ',', 2, 123456],
    ['1,234.56', '.', 2, 123456],
    ['1 234,56', ',', 2, 123456],
    ['1\u202f234\u00a0567,5', ',', 2, 123456750],
    ['€ 12.50', '.', 2, 1250],
    ['12,50 EUR', ',', 2, 1250],
    ['-€12.50', '.', 2, -1250],
    ['€-12.50', '.', 2, -1250],
    ['\u221212', '.', 0, -12],
    ['.5', '.', 2, 50],
    ['0.00', '.', 2, 0],
    ['-0', '.', 2, 0],
    ['33.3333', '.', 2, 3333],
    ['33.3350', '.', 2, 3334],
    ['12.500', '.', 2, 1250],
    [72.60000000000001, ',', 2, 7260],
    [1.005, '.', 2, 101],
    [-1.005, '.', 2, -101],
    ["1'234.50", '.', 2, 123450],
  ];
  for (const [cell, decimal, digits, parts] of read) {
    it(`reads ${cell} with "${decimal}"`, () =>
      assert.equal(readNumber(cell, decimal, digits), parts));
  }

  const refused: [string, '.' | ',', string][] = [
    ['two', '.', 'not-a-number'],
    ['', '.', 'not-a-number'],
    ['-', '.', 'not-a-number'],
    ['1e400', '.', 'not-a-number'],
    ['12.345', '.', 'too-fine'],
    ['1.234,56', '.', 'other-style'],
    ['1,234.56', ',', 'other-style'],
    ['1,23,456.00', '.', 'not-a-number'],
    ['#DIV/0!', '.', 'formula-error'],
    ['12 pieces', '.', 'not-a-number'],
  ];
  for (const [text, decimal, fault] of refused) {
    it(`refuses "${text}" with "${decimal}": ${fault}`, () => {
      assert.isNaN(readNumber(text, decimal, 2));
      assert.equal(numberFault(text, decimal), fault);
    });
  }

  it('reads back whatever it is written as', () => {
    const formats = [
      new Intl.NumberFormat('en', { minimumFractionDigits: 2 }),
      new Intl.NumberFormat('de', { minimumFractionDigits: 2 }),
      new Intl.NumberFormat('fr', { minimumFractionDigits: 2 }),
    ];
    fc.assert(
      fc.property(fc.integer({ min: -1e11, max: 1e11 }), fc.nat(2), (cents, place) => {
        const text = formats[place]?.format(cents / 100) ?? '';
        assert.equal(readNumber(text, place === 0 ? '.' : ',', 2), cents);
      }),
    );
  });
});

describe('currencyMark', () => {
  it('finds signs and codes', () => {
    assert.equal(currencyMark('€ 12'), '€');
    assert.equal(currencyMark('12.50 USD'), 'USD');
    assert.isUndefined(currencyMark('12.50'));
    assert.isUndefined(currencyMark(12.5));
  });
});

describe('decimalSignOf', () => {
  it('goes by what the numbers tell', () => {
    assert.equal(decimalSignOf(['1.234', '12,5']), ',');
    assert.equal(decimalSignOf(['1,234', '1,234.50', 'web']), '.');
    assert.equal(decimalSignOf(['1.234,56 €']), ',');
    assert.equal(decimalSignOf(['1,234', '12', 'D-1,2']), '.');
    assert.equal(decimalSignOf(['1.210', '980']), ',');
    assert.equal(decimalSignOf(['0.500', '1.250']), '.');
    assert.isUndefined(decimalSignOf(['1,234', '1.234', '12']));
  });
});

describe('readDay', () => {
  const read: [string | number, 'ymd' | 'dmy' | 'mdy', string | undefined][] = [
    ['2026-10-12', 'dmy', '2026-10-12'],
    ['2026-10-12T08:30:00Z', 'ymd', '2026-10-12'],
    ['12.10.2026', 'dmy', '2026-10-12'],
    ['10/12/2026', 'mdy', '2026-10-12'],
    ['10/12/26', 'dmy', '2026-12-10'],
    ['20261012', 'ymd', '2026-10-12'],
    ['12 Oct 2026', 'dmy', '2026-10-12'],
    ['12. Oktober 2026', 'dmy', '2026-10-12'],
    ['March 3, 2026', 'mdy', '2026-03-03'],
    ['3. März 2026', 'dmy', '2026-03-03'],
    ['Oct 2026', 'dmy', '2026-10-01'],
    [46307, 'ymd', '2026-10-12'],
    ['29 Feb 2025', 'dmy', undefined],
    ['29.02.2025', 'dmy', undefined],
    ['2024-02-29', 'ymd', '2024-02-29'],
    ['1989-12-31', 'ymd', undefined],
    ['2101-01-01', 'ymd', undefined],
    ['13/13/2026', 'dmy', undefined],
    ['yesterday', 'dmy', undefined],
    ['', 'dmy', undefined],
  ];
  for (const [text, style, day] of read) {
    it(`reads ${text} (${style}) as ${day ?? 'no day'}`, () =>
      assert.equal(readDay(text, style), day));
  }

  it('reads months as people head columns', () => {
    for (const text of [
      '2026-10',
      '10/2026',
      'Oct 2026',
      'Okt. 26',
      '2026M10',
      '202610',
      '2026-10-01',
    ])
      assert.equal(readMonth(text), '2026-10', text);
    for (const text of ['Total', '2026', '13/2026', 'Q3 2026', 'web', '100000'])
      assert.isUndefined(readMonth(text), text);
  });

  it('tells the order of the parts where the dates tell it', () => {
    assert.equal(dateStyleOf(['03/04/2026', '13/04/2026']), 'dmy');
    assert.equal(dateStyleOf(['03/04/2026', '04/13/2026']), 'mdy');
    assert.equal(dateStyleOf(['03.04.2026']), 'dmy');
    assert.isUndefined(dateStyleOf(['03/04/2026', 'x']));
  });
});

describe('matchColumns', () => {
  const fields = [
    { key: 'date', names: ['date', 'invoice date'], content: 'day' as const },
    {
      key: 'channel',
      names: ['channel'],
      content: 'member' as const,
      known: new Set(['web', 'stores', 'web shop']),
    },
    { key: 'quantity', names: ['quantity', 'qty'], content: 'number' as const },
    { key: 'net amount', names: ['net amount', 'revenue'], content: 'number' as const },
  ];

  it('goes by heading first and by what is in the column else', () => {
    const header = ['Posted on (day)', 'Sold via', 'QTY', 'Net revenue', 'Note'];
    const rows = [
      ['12.10.2026', 'web', '2', '72,60', 'x'],
      ['13.10.2026', 'Stores', '1', '36,30', ''],
    ];
    assert.deepEqual(Object.fromEntries(matchColumns(header, rows, fields)), {
      date: 0,
      channel: 1,
      quantity: 2,
      'net amount': 3,
    });
  });

  it('leaves out what no column fits, and gives no column to two', () => {
    assert.deepEqual(Object.fromEntries(matchColumns(['revenue', 'x'], [['1', '2']], fields)), {
      'net amount': 0,
    });
  });

  it('finds the header below titles, and months across', () => {
    const rows = [
      ['Sales report'],
      ['', 'as of October'],
      ['Date', 'Channel', 'Qty', 'Revenue'],
      ['x'],
    ];
    assert.equal(headerPlace(rows, fields), 2);
    const wide = ['Channel', 'Jan 2026', 'Feb 2026', 'Mar 2026', 'Total 2026'];
    assert.equal(headerPlace([['Sales'], wide], fields), 1);
    assert.isTrue(isWide(wide));
    assert.deepEqual([...monthColumns(wide).values()], ['2026-01', '2026-02', '2026-03']);
    assert.isFalse(isWide(['Jan 2026', 'x']));
  });

  it('joins months with the years that stand above them', () => {
    const years = ['', '', 2025, '', '', 2026];
    const months = ['Channel', 'Marked', 'Oct', 'Nov.', 'Dezember', 'Jan', 'Total'];
    const joined = joinYears(years, months);
    assert.deepEqual(
      [...monthColumns(joined)],
      [
        [2, '2025-10'],
        [3, '2025-11'],
        [4, '2025-12'],
        [5, '2026-01'],
      ],
    );
    assert.deepEqual([joined[0], joined[6]], ['Channel', 'Total']);
    assert.equal(headerPlace([['Units sold'], years, months], []), 2);
    assert.deepEqual(
      joinYears(['', 'Plan'], ['Item', 'Oct']),
      ['Item', 'Oct'],
      'no year, no month',
    );
  });

  it('knows totals rows and headers that are alike', () => {
    assert.isTrue(isTotalRow(['', 'Total web']));
    assert.isTrue(isTotalRow(['Zwischensumme']));
    assert.isFalse(isTotalRow(['web', 'Summit office', 12]));
    assert.equal(likeness(['Date', 'net_amount'], ['date', 'Net Amount', '']), 1);
    assert.equal(likeness(['a', 'b'], ['a', 'c']), 1 / 3);
    // Months across go on: next month's table is the same one.
    assert.equal(likeness(['Item', 'Jan 2026', 'Feb 2026'], ['item', '2026-03']), 1);
  });
});
