import { assert } from 'chai';
import { browserInWords } from './browser-words.ts';

describe('a browser in words', () => {
  it('is what it is, and not what it claims to be as well', () => {
    const chrome = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/140.0 Safari/537.36';
    assert.equal(browserInWords(chrome), 'Chrome on Linux');
    assert.equal(browserInWords(`${chrome} Edg/140.0`), 'Edge on Linux');
    const firefox = 'Mozilla/5.0 (Windows NT 10.0; rv:140.0) Gecko/20100101 Firefox/140.0';
    assert.equal(browserInWords(firefox), 'Firefox on Windows');
    assert.equal(browserInWords('curl/8.5.0'), 'curl/8.5.0');
    assert.equal(browserInWords(''), 'unknown');
  });
});
