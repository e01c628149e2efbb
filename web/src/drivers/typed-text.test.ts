import { DRIVERS, type Driver, type DriverRow } from '@dravex/core';
import { assert } from 'chai';
import { formatsFor } from '../format/numbers.ts';
import { readEdits } from './typed-text.ts';

const formats = formatsFor('en-IE', 'EUR');
const row = (key: string, leaf: boolean): DriverRow => ({
  key,
  label: key,
  level: 0,
  scope: [7],
  parent: !leaf,
  streams: leaf ? 1 : 5,
  leaf,
  values: new Float64Array(1),
  total: 0,
  holders: new Int32Array(1),
  mixed: new Uint8Array(1),
  own: new Uint8Array(1),
});
const rows = new Map([
  ['wide', row('wide', false)],
  ['stream', row('stream', true)],
]);
const driver = (code: string): Driver => {
  const found = DRIVERS.find((candidate) => candidate.code === code);
  if (!found) throw new Error(`no driver ${code}`);
  return found;
};
const read = (code: string, key: string, text: string) =>
  readEdits(
    [{ row: key, column: '2026-11', text }],
    { rows, driver: driver(code), placeOf: () => 0 },
    formats,
  );

describe('what is typed into a driver’s grid', () => {
  it('is a value at the row’s scope', () => {
    const { typing } = read('discount', 'wide', '12.5');
    assert.deepEqual(typing, {
      values: [{ scope: [7], month: '2026-11', value: 0.125 }],
      totals: [],
      changes: [],
      why: '',
    });
  });

  it('is a total to be spread where numbers add, above a single stream', () => {
    const { typing, spreadOver } = read('grossUnits', 'wide', '1,200');
    assert.deepEqual(typing.totals, [{ scope: [7], month: '2026-11', total: 1200 }]);
    assert.equal(spreadOver, 5);
    assert.lengthOf(read('grossUnits', 'stream', '12').typing.values, 1);
  });

  it('changes each value below a mean by what was typed', () => {
    const mean = { ...row('mean', false), values: Float64Array.of(0.12), mixed: Uint8Array.of(1) };
    rows.set('mean', mean);
    const change = { scope: [7], month: '2026-11', saw: 0.12 };
    assert.deepEqual(read('discount', 'mean', '+4%').typing.changes, [
      { ...change, kind: 'times', by: 1.04 },
    ]);
    assert.deepEqual(read('discount', 'mean', '-1pt').typing.changes, [
      { ...change, kind: 'plus', by: -0.01 },
    ]);
    const { values } = read('discount', 'mean', '15').typing;
    assert.equal(values[0]?.value, 0.15, 'a value is for all of them');
  });

  it('takes back when it is empty, but a total cannot be emptied', () => {
    assert.isNull(read('discount', 'wide', '').typing.values[0]?.value);
    assert.include(read('grossUnits', 'wide', '').refusals[0]?.reason, 'cannot be emptied');
  });

  it('is refused at its cell with the reason', () => {
    for (const [text, reason] of [
      ['abc', '“abc” is not a number'],
      ['1e400', 'not a number that can be used'],
      ['-1', 'below the minimum'],
      ['101', 'above the maximum of 100 %'],
    ] as const) {
      const { typing, refusals } = read('discount', 'stream', text);
      assert.isEmpty(typing.values);
      assert.equal(refusals[0]?.place, 'stream 2026-11');
      assert.include(refusals[0]?.reason, reason);
    }
  });
});
