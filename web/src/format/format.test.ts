import { monthFrom } from '@dravex/core';
import { assert } from 'chai';
import fc from 'fast-check';
import { formatsFor, usualUnit } from './numbers.ts';
import { closedInWords, columnHeading, monthsInWords, spanInWords } from './periods.ts';

const irish = formatsFor('en-IE', 'EUR');
const german = formatsFor('de-DE', 'EUR');

describe('numbers', () => {
  it('are read in the unit that suits the size of a company', () => {
    assert.deepEqual(
      [0, 16_000, 999_999, 1e6, 36e6, -5e6, 2e10].map(usualUnit),
      [1, 1, 1, 1000, 1000, 1000, 1_000_000],
    );
  });

  it('are shown by locale, in the unit, with a real minus', () => {
    assert.equal(irish.show(1_234_567, 'money', 1000), '1,235');
    assert.equal(irish.show(1_234_567, 'money', 1_000_000), '1.23');
    assert.equal(german.show(1234.5, 'price'), '1.234,50');
    assert.equal(irish.show(-0.0623, 'percent'), '\u22126.2%');
    assert.equal(irish.signed(4, 'money'), '+4');
    assert.equal(irish.unitName(1000), 'thousand €');
  });

  it('have a dash for no value and no sign on what rounds to zero', () => {
    assert.equal(irish.show(null, 'money'), '–');
    assert.equal(irish.show(Number.NaN, 'money'), '–');
    assert.equal(irish.show(-0.2, 'money'), '0');
    assert.equal(irish.signed(-0.0001, 'percent'), '0.0%');
  });

  it('are said in words', () => {
    assert.equal(irish.inWords(13_250_318), '13.3 million');
    assert.equal(irish.inWords(720_400), '720 thousand');
    assert.equal(irish.inWords(999_600), '1 million');
    assert.equal(irish.inWords(512), '512');
  });

  it('are read as people type them', () => {
    const read: [string, boolean, number | undefined][] = [
      ['12.5', false, 12.5],
      ['1,234.5', false, 1234.5],
      ['€ 12', false, 12],
      ['7', true, 0.07],
      ['7 %', true, 0.07],
      ['\u22125', false, -5],
      ['1e400', false, Infinity],
      ['abc', false, undefined],
      ['1,23', false, undefined],
      ['12,5,3', false, undefined],
      ['', false, undefined],
      ['0x10', false, undefined],
    ];
    for (const [text, percent, value] of read) assert.equal(irish.read(text, percent), value, text);
    assert.equal(german.read('1.234,5', false), 1234.5);
    assert.equal(german.read('12,5', false), 12.5);
  });

  it('read back what they give for typing', () => {
    const decimal = fc.integer({ min: -1e9, max: 1e9 }).map((n) => n / 10_000);
    fc.assert(
      fc.property(
        decimal,
        fc.constantFrom(irish, german),
        fc.boolean(),
        (value, formats, percent) => {
          const back = formats.read(formats.typed(value, percent), percent);
          assert.closeTo(back ?? Number.NaN, value, 1e-9 * Math.max(1, Math.abs(value)));
        },
      ),
    );
  });
});

describe('periods', () => {
  const span = (from: string, to: string) => ({ from: monthFrom(from), to: monthFrom(to) });

  it('are said in words', () => {
    assert.equal(spanInWords(span('2026-04', '2027-03')), 'April 2026 to March 2027');
    assert.equal(spanInWords(span('2026-04', '2026-09')), 'April to September 2026');
    assert.equal(spanInWords(span('2026-04', '2026-04')), 'April 2026');
    assert.equal(monthsInWords(1), 'one month');
    assert.equal(monthsInWords(18), '18 months');
  });

  it('say how much is closed', () => {
    const closed = monthFrom('2026-09');
    assert.equal(closedInWords(span('2026-04', '2027-03'), closed), 'six months closed');
    assert.equal(closedInWords(span('2026-04', '2026-09'), closed), 'all closed');
    assert.equal(closedInWords(span('2026-10', '2027-03'), closed), 'all open');
  });

  it('head columns, with the year where several are in sight and a mark where cut', () => {
    const column = (key: string, from: string, to: string, partial = false) => ({
      key,
      label: key,
      period: { key, ...span(from, to), partial },
    });
    const year = span('2026-04', '2027-03');
    assert.equal(columnHeading(column('2026-04', '2026-04', '2026-04'), year, 4), 'Apr');
    assert.equal(
      columnHeading(column('2026-04', '2026-04', '2026-04'), span('2026-01', '2026-12'), 4),
      'Apr 26',
    );
    assert.equal(columnHeading(column('FY2027-Q1', '2026-04', '2026-06'), year, 4), 'Q1 27');
    assert.equal(columnHeading(column('FY2027', '2026-06', '2027-03', true), year, 4), 'FY 2027 ·');
  });
});
