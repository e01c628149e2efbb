import { assert } from 'chai';
import fc from 'fast-check';
import { compileFormula, roundTo } from './evaluate.ts';
import { leastLags, longestLag, parseFormula } from './parse.ts';
import { MONEY, PIECES, unitInWords, unitOfDriver, unitOfFormula, type Unit } from './units.ts';

const SERIES: Readonly<Record<string, readonly number[]>> = {
  a: [1, 2, 3, 4, 5],
  b: [10, 0, 30, -4, 2.5],
  Größe_2: [2, 2, 2, 2, 2],
};

/** A formula's values over five months. */
function values(text: string): number[] {
  const { node, names = [], problems } = { names: [], ...parseFormula(text) };
  if (!node) throw new Error(problems?.[0]?.message);
  const inputs = names.map((name) => Float64Array.from(SERIES[name] ?? []));
  const run = compileFormula(node, (name) => names.indexOf(name))(inputs);
  return Array.from({ length: 5 }, (_, t) => run(t));
}
const N = Number.NaN;

describe('formulas', () => {
  const cases: [string, number[]][] = [
    ['a + 2 * b', [21, 2, 63, -4, 10]],
    ['(a + 2) * Größe_2', [6, 8, 10, 12, 14]],
    ['-a ^ 2', [1, 4, 9, 16, 25]],
    ['2 ^ 3 ^ 2', [512, 512, 512, 512, 512]],
    ['a × 5% − 1 ÷ 2', [-0.45, -0.4, -0.35, -0.3, -0.25]],
    ['if(b > a, b, a)', [10, 2, 30, 4, 5]],
    ['if(a = 3, 1, 0)', [0, 0, 1, 0, 0]],
    ['min(a, b, 3) + max(a, 4)', [5, 4, 7, 0, 7.5]],
    ['round(b / 3, 1)', [3.3, 0, 10, -1.3, 0.8]],
    ['round(2.5) + round(-2.5)', [0, 0, 0, 0, 0]],
    ['floor(b / 4) + ceil(b / 4)', [5, 0, 15, -2, 1]],
    ['sum(a, 3)', [N, N, 6, 9, 12]],
    ['average(a, 2)', [N, 1.5, 2.5, 3.5, 4.5]],
    ['lag(a, 2) * 10', [N, N, 10, 20, 30]],
    ['a / b', [0.1, N, 0.1, -1, 2]],
    ['if(b = 0, 0, a / b)', [0.1, 0, 0.1, -1, 2]],
    ['1/0', [N, N, N, N, N]],
  ];
  for (const [text, expected] of cases) {
    it(`computes ${text}`, () => {
      values(text).forEach((value, t) => {
        const wanted = expected[t] ?? 0;
        if (Number.isNaN(wanted)) assert.isNaN(value, `month ${t}`);
        else assert.closeTo(value, wanted, 1e-12, `month ${t}`);
      });
    });
  }

  const wrong: [string, string, number][] = [
    ['', 'is empty', 0],
    ['a +', 'missing at the end', 3],
    ['a + * b', 'not expected', 4],
    ['(a + b', 'bracket is not closed', 6],
    ['a b', 'beside each other', 0],
    ['fly(a)', '"fly" is no function', 0],
    ['1 + lag(a)', 'lag takes 2 parts; it has 1', 4],
    ['lag(a, b)', 'whole number of months', 0],
    ['lag(a, 0)', 'whole number of months', 0],
    ['a & b', 'not expected', 2],
    ['"text"', 'is no number', 0],
    ['a.b', 'no arithmetic', 0],
    ['[a]', 'no arithmetic', 0],
    ['a ? b : 1', 'no arithmetic', 0],
  ];
  for (const [text, message, at] of wrong) {
    it(`says what is wrong with "${text}", and where`, () => {
      const problem = parseFormula(text).problems?.[0];
      assert.include(problem?.message, message);
      assert.equal(problem?.at, at);
    });
  }

  it('refuses what is too long or too deep before it is read', () => {
    const long = parseFormula('a + '.repeat(25_000) + 'a');
    assert.include(long.problems?.[0]?.message, 'has 100001 characters');
    for (const deep of ['('.repeat(5000) + 'a' + ')'.repeat(5000), '-'.repeat(5000) + 'a']) {
      assert.include(parseFormula(deep).problems?.[0]?.message, 'nested more than 100 deep');
    }
    const wide = parseFormula(Array.from({ length: 2400 }, () => 'a').join(' + '));
    assert.isUndefined(wide.problems, 'a long sum is not deep');
  });

  it('never throws, whatever is typed', () => {
    const pieces = fc.constantFrom(
      ...'ab()+-*/^<>=!%,.;:?"\'[]{}\\~&|_ 1e9',
      'lag',
      'if',
      '%',
      '=',
    );
    fc.assert(
      fc.property(fc.array(pieces, { maxLength: 30 }), (parts) => {
        const { node, problems } = parseFormula(parts.join(''));
        assert.isTrue(node !== undefined || (problems ?? []).length > 0);
      }),
      { numRuns: 2000 },
    );
  });

  it('knows how far back it reads', () => {
    const { node } = parseFormula('lag(a + lag(b, 2), 1) + sum(c, 3) + lag(c, 4)');
    assert.isDefined(node);
    if (!node) return;
    assert.deepEqual(
      [...leastLags(node)],
      [
        ['a', 1],
        ['b', 3],
        ['c', 0],
      ],
    );
    assert.equal(longestLag(node), 4);
  });

  it('rounds as people do', () => {
    assert.equal(roundTo(1.005, 2), 1.01);
    assert.equal(roundTo(-1.005, 2), -1.01);
    assert.equal(roundTo(1234.5, -2), 1200);
    assert.equal(roundTo(1e21, 2), 1e21);
  });
});

describe('units of formulas', () => {
  const UNITS: Readonly<Record<string, Unit>> = {
    spend: MONEY,
    units: PIECES,
    price: unitOfDriver({ kind: 'moneyPerUnit', unit: 'per unit' }),
    perVisit: unitOfDriver({ kind: 'moneyPerUnit', unit: 'per visit' }),
    visits: unitOfDriver({ kind: 'count', unit: 'visits' }),
    rate: unitOfDriver({ kind: 'percent', unit: '%' }),
  };
  const unitOf = (text: string): string => {
    const { node } = parseFormula(text);
    if (!node) throw new Error('it cannot be read');
    const unitFound = unitOfFormula(node, (name) => UNITS[name] ?? {});
    if ('clash' in unitFound && unitFound.clash !== undefined) return `clash: ${unitFound.clash}`;
    return unitFound.unit === 'any' ? 'any' : unitInWords(unitFound.unit);
  };
  const cases: [string, string][] = [
    ['units * price', 'money'],
    ['spend / perVisit', 'visit'],
    ['spend / perVisit * rate', 'visit'],
    ['spend / units', 'money per unit'],
    ['units + 10', 'unit'],
    ['lag(units, 1) * (1 + rate)', 'unit'],
    ['sum(units, 3)', 'unit'],
    ['2 * 3 + 1', 'any'],
    ['units ^ 2', 'unit^2'],
    ['if(units > 100, rate, 0)', 'a plain number'],
    ['spend + units', 'clash: money and unit cannot be added'],
    ['units + visits', 'clash: unit and visit cannot be added'],
    ['max(spend, units)', 'clash: money and unit cannot be compared'],
    ['if(spend > units, 1, 2)', 'clash: money and unit cannot be compared'],
    ['if(rate > 1, spend, units)', 'clash: money and unit cannot be chosen between'],
    ['2 ^ units', 'clash: An exponent is a plain number'],
  ];
  for (const [text, expected] of cases) {
    it(`${text} is ${expected}`, () => assert.equal(unitOf(text), expected));
  }
});
