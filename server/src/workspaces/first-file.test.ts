import { assert } from 'chai';
import fc from 'fast-check';
import type { FirstFileChoice } from '@dravex/contract';
import { FirstMembers, memberCode, withFirstFile, type FirstFile } from './first-file.ts';

/** Understands a text as a first file. */
function understood(text: string, choice: FirstFileChoice = {}): Promise<FirstFile> {
  async function* chunks(): AsyncGenerator<Buffer> {
    yield Buffer.from(text);
  }
  return withFirstFile(chunks(), 'first file', choice, (first) => Promise.resolve(first));
}
const lines = (header: string, row: (index: number) => string, count = 40): string =>
  [header, ...Array.from({ length: count }, (_, index) => row(index)), ''].join('\n');

describe('members of a first file', () => {
  it('are one for each value, however it is spelled, with codes of their own', () => {
    const value = fc.constantFrom(
      'Hafen',
      'hafen',
      'HAFEN',
      'walk-in',
      'Walk in',
      'ß',
      '日本',
      '1',
    );
    fc.assert(
      fc.property(fc.array(value, { minLength: 1, maxLength: 30 }), (values) => {
        const members = new FirstMembers({ column: 0, value: null, code: 'place', name: 'Place' });
        for (const text of values) members.add(text);
        const made = members.made().members;
        const wanted = new Set(values.map((text) => text.toLowerCase()));
        assert.equal(made.length, wanted.size);
        assert.sameMembers(
          made.map(({ name }) => name.toLowerCase()),
          [...wanted],
        );
        assert.isTrue(made.every(({ name }) => (values as string[]).includes(name)));
        assert.equal(new Set(made.map(({ code }) => code.toLowerCase())).size, made.length);
      }),
    );
  });

  it('bear their usual spelling, and a code that files can hold', () => {
    const members = new FirstMembers({ column: 0, value: null, code: 'place', name: 'Place' });
    for (const text of ['hafen', 'Hafen', 'Markt 2', 'HAFEN', 'Hafen']) members.add(text);
    assert.deepEqual(
      members.made().members.map(({ code, name }) => [code, name]),
      [
        ['hafen', 'Hafen'],
        ['markt-2', 'Markt 2'],
      ],
    );
    assert.equal(memberCode('A/B & C'), 'a-b-c');
    assert.isAtMost(memberCode('x y '.repeat(100)).length, 60);
  });
});

describe('a first file', () => {
  it('proposes texts that come again as dimensions, and leaves what is always another one', async () => {
    const { dimensions, reading } = await understood(
      lines(
        'When,Shop,Slip,Remark,Amount',
        (i) => `2025-01-${10 + (i % 9)},s${i % 3},B${i},,${i}.50`,
      ),
    );
    assert.deepEqual(
      dimensions.map(({ code }) => code),
      ['shop'],
    );
    assert.deepInclude(reading.columns, { date: 0, 'net amount': 4, quantity: null });
  });

  it('asks where two columns could be the amount', async () => {
    const { reading, missing } = await understood(
      lines('When,Shop,Gross,Nett', (i) => `2025-01-05,s${i % 2},${i}.50,${i}.25`),
    );
    assert.isNull(reading.columns['net amount']);
    assert.deepEqual(
      missing.map(({ key }) => key),
      ['quantity', 'net amount'],
    );
  });

  it('tells two columns of one name apart, and a dimension from a field', async () => {
    const { dimensions, reading } = await understood(
      lines('Date,Area,Net amount', (i) => `2025-01-05,a${i % 2},${i}`),
      {
        dimensions: [
          { column: 1, name: 'Cost' },
          { column: 1, name: 'Area' },
          { column: 1, name: 'Area' },
          { column: 99, name: 'Nowhere' },
        ],
      },
    );
    assert.deepEqual(
      dimensions.map(({ code }) => code),
      ['cost-2', 'area', 'area-2'],
    );
    assert.equal(reading.columns['area'], 1);
  });

  it('reads fractions as the file writes them, in columns that no heading names', async () => {
    for (const [sign, text] of [
      [',', '12,50'],
      ['.', '12.50'],
    ] as const) {
      const { reading } = await understood(
        lines('When;Shop;Takings', (i) => `2025-01-05;s${i % 2};${text}`),
      );
      assert.equal(reading.decimal, sign);
      assert.equal(reading.columns['net amount'], 2);
    }
  });
});
