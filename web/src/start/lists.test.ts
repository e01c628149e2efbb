import { expect } from 'chai';
import { currencies, HORIZONS, locales, minorDigits } from './lists.ts';

describe('the lists of a new company', () => {
  it('have every currency with its code, and its smallest part', () => {
    const codes = currencies().map(({ value }) => value);
    expect(codes).to.include.members(['EUR', 'JPY', 'KWD', 'CHF']);
    expect(currencies().find(({ value }) => value === 'EUR')?.name).to.equal('EUR, Euro');
    expect(['EUR', 'JPY', 'KWD'].map(minorDigits)).to.deep.equal([2, 0, 3]);
  });

  it('have one’s own way to write, with an example, once', () => {
    const own = locales('gsw-CH');
    expect(own.filter(({ value }) => value === 'gsw-CH')).to.have.length(1);
    expect(locales('de-DE').filter(({ value }) => value === 'de-DE')).to.have.length(1);
    expect(own.find(({ value }) => value === 'de-DE')?.name).to.equal('German (Germany), 1.234,5');
    const names = own.map(({ name }) => name);
    expect(names).to.deep.equal([...names].sort((a, b) => a.localeCompare(b, 'en')));
  });

  it('plan two to ten years ahead', () => {
    expect(HORIZONS.map(({ value }) => value)).to.deep.equal([2, 3, 4, 5, 6, 7, 8, 9, 10]);
  });
});
