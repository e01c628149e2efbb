import { assert } from 'chai';
import { csvField } from './csv.ts';

describe('fields of a CSV', () => {
  it('run nowhere as a formula, however its sign is written or hidden', () => {
    for (const text of ['=1+1', '+1', '-1', '@x', '\t=1', '\r=1', '  =1+1', '\u00a0=1']) {
      assert.match(csvField(text), /^"?'/, JSON.stringify(text));
    }
    for (const sign of ['＝', '＋', '－', '＠', '﹦', '\u200b=', '\ufeff=', '\n=', '\u0000=']) {
      assert.match(csvField(`${sign}1`), /^"?'/, JSON.stringify(sign));
    }
    assert.equal(csvField('North - South'), 'North - South');
    assert.equal(csvField(-5), '-5');
  });
});
