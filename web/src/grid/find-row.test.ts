import { assert } from 'chai';
import { findRow } from './find-row.ts';

describe('finding a row by its name', () => {
  const rows = ['Web shop', 'Carafes', 'Stores', 'Carafes, small', 'Plans'].map((label, place) => ({
    key: String(place),
    label,
  }));

  it('goes on from where one is, and again from the first', () => {
    assert.equal(findRow(rows, undefined, 'caraf', false), '1');
    assert.equal(findRow(rows, '1', 'CARAF', false), '1', 'while it is written one stays');
    assert.equal(findRow(rows, '1', 'caraf', true), '3');
    assert.equal(findRow(rows, '3', 'caraf', true), '1');
    assert.equal(findRow(rows, 'gone', ' plans ', true), '4');
  });

  it('finds nothing where nothing is called so, or nothing is looked for', () => {
    assert.isUndefined(findRow(rows, '1', 'tap', false));
    assert.isUndefined(findRow(rows, '1', '  ', false));
    assert.isUndefined(findRow([], undefined, 'a', false));
  });
});
