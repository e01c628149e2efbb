import { assert } from 'chai';
import { readArithmetic } from './arithmetic.ts';
import { formatsFor } from './numbers.ts';

const english = formatsFor('en-IE', 'EUR');
const german = formatsFor('de-DE', 'EUR');

describe('what is typed over a number', () => {
  it('is a value, with k and m, in the workspace’s locale', () => {
    const values: [string, number][] = [
      ['1.2m', 1_200_000],
      ['15k', 15_000],
      ['1.1 k', 1100],
      ['-2k', -2000],
      ['\u22122k', -2000],
      ['+5', 5],
      ['1,234.5', 1234.5],
      ['0', 0],
    ];
    for (const [text, value] of values) {
      assert.deepEqual(readArithmetic(text, english, false), { kind: 'set', value }, text);
    }
    assert.deepEqual(readArithmetic('12,5', german, false), { kind: 'set', value: 12.5 });
    assert.deepEqual(readArithmetic('25', english, true), { kind: 'set', value: 0.25 });
    assert.deepEqual(readArithmetic('25%', english, true), { kind: 'set', value: 0.25 });
  });

  it('changes, multiplies, or adds points', () => {
    const changes: [string, boolean, object][] = [
      ['+=2k', false, { kind: 'add', value: 2000 }],
      ['-=2k', false, { kind: 'add', value: -2000 }],
      ['+=2', true, { kind: 'add', value: 0.02 }],
      ['+8%', false, { kind: 'times', factor: 1.08 }],
      ['-8%', false, { kind: 'times', factor: 0.92 }],
      ['+8%', true, { kind: 'times', factor: 1.08 }],
      ['x1.1', false, { kind: 'times', factor: 1.1 }],
      ['×1.1', false, { kind: 'times', factor: 1.1 }],
      ['+2pt', true, { kind: 'add', value: 0.02 }],
      ['-0.5 pt', true, { kind: 'add', value: -0.005 }],
    ];
    for (const [text, percent, expected] of changes) {
      assert.deepEqual(readArithmetic(text, english, percent), expected, text);
    }
  });

  it('is nothing else', () => {
    for (const text of [
      '',
      'abc',
      '+',
      '=2',
      'x',
      '2x',
      '+=',
      '1k2',
      '+2pt',
      '--2',
      '1.2.3',
      '%',
    ]) {
      assert.isUndefined(readArithmetic(text, english, false), text);
    }
  });
});
