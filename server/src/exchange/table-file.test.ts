import { randomBytes } from 'node:crypto';
import ExcelJS from 'exceljs';
import { assert } from 'chai';
import { importFields } from '@dravex/contract';
import { HttpProblem } from '../platform/errors.ts';
import { packedPart, zipOf } from '../testing/bombs.ts';
import { lookInto } from './bytes.ts';
import { customsOf, understand } from './reading.ts';
import type { RawRow } from './raw-row.ts';
import { openTableFile } from './table-file.ts';

async function* inChunks(bytes: Buffer, size = 65_536): AsyncGenerator<Buffer> {
  for (let start = 0; start < bytes.length; start += size)
    yield bytes.subarray(start, start + size);
}
async function rowsOf(bytes: Buffer, sheet?: string): Promise<RawRow[]> {
  const file = await openTableFile(inChunks(bytes), { sheet });
  const rows: RawRow[] = [];
  try {
    for await (const some of file.rows) rows.push(...some);
  } finally {
    await file.close();
  }
  return rows;
}
/** What a file is refused with. */
async function refusal(bytes: Buffer): Promise<string> {
  try {
    const rows = await rowsOf(bytes);
    return `read ${rows.length} rows`;
  } catch (error) {
    assert.instanceOf(error, HttpProblem, String(error));
    return (error as HttpProblem).message;
  }
}
async function workbook(fill: (sheet: ExcelJS.Worksheet) => void): Promise<Buffer> {
  const book = new ExcelJS.Workbook();
  fill(book.addWorksheet('Data'));
  return Buffer.from(await book.xlsx.writeBuffer());
}

describe('table files', () => {
  it('reads a workbook: dates as days, formulas by their results, errors by name', async () => {
    const bytes = await workbook((sheet) => {
      sheet.addRow(['Date', 'Amount', 'Text']);
      sheet.addRow([
        new Date(Date.UTC(2026, 9, 12)),
        12.5,
        { richText: [{ text: 'a' }, { text: 'b' }] },
      ]);
      sheet.addRow(['', { formula: '1+1', result: 2 }, { error: '#N/A' }]);
      sheet.getCell('A2').numFmt = 'dd.mm.yyyy';
    });
    const rows = await rowsOf(bytes);
    assert.deepEqual(
      rows.map(({ row, cells }) => [row, ...cells]),
      [
        [1, 'Date', 'Amount', 'Text'],
        [2, '2026-10-12', 12.5, 'ab'],
        [3, '', 2, '#N/A'],
      ],
    );
  });

  it('reads JSON: objects with different keys, lists, and a list within an object', async () => {
    const objects = await rowsOf(Buffer.from('[{"a":1,"b":"x"},{"b":null,"c":[1]}]'));
    assert.deepEqual(
      objects.map(({ cells }) => cells),
      [
        ['a', 'b', 'c'],
        [1, 'x', ''],
        ['', '', '[1]'],
      ],
    );
    const inside = await rowsOf(Buffer.from('{"meta":1,"rows":[["a"],[2]]}'));
    assert.deepEqual(
      inside.map(({ cells }) => cells),
      [['a'], [2]],
    );
  });

  it('reads JSON documents with lines as one row a line, objects within as columns', async () => {
    const documents = [
      {
        invoice: { no: 'J-1', date: '2026-10-05' },
        net: 9,
        lines: [
          { item: { code: 'a' }, net: 4 },
          { item: { code: 'b' }, net: 5, tags: [1] },
        ],
      },
      { invoice: { no: 'J-2', date: '2026-10-06' }, lines: [] },
    ];
    const rows = await rowsOf(Buffer.from(JSON.stringify({ documents })));
    assert.deepEqual(
      rows.map(({ cells }) => cells),
      [
        ['invoice no', 'invoice date', 'net', 'item code', 'lines net', 'tags', 'lines'],
        ['J-1', '2026-10-05', 9, 'a', 4, '', ''],
        ['J-1', '2026-10-05', 9, 'b', 5, '[1]', ''],
        ['J-2', '2026-10-06', '', '', '', '', '[]'],
      ],
    );
  });

  const refusals: [string, () => Promise<Buffer> | Buffer, string][] = [
    [
      'a workbook with a password, which is packed another way',
      () => Buffer.concat([Buffer.from([0xd0, 0xcf, 0x11, 0xe0]), randomBytes(5000)]),
      'protected by a password',
    ],
    [
      'a zip that is no workbook',
      () => zipOf([packedPart('notes.txt', Buffer.from('hello'))]),
      'no XLSX workbook',
    ],
    [
      'a zip that unpacks to a gigabyte of nothing',
      () => zipOf([packedPart('xl/worksheets/sheet1.xml', Buffer.alloc(64 * 1024 ** 2))]),
      'unpacks to far more',
    ],
    [
      'a zip that says less than it holds',
      () => zipOf([packedPart('xl/workbook.xml', Buffer.alloc(4 * 1024 ** 2), 1000)]),
      'cannot be unpacked',
    ],
    [
      'a zip that is cut off',
      async () => (await workbook((s) => s.addRow([1]))).subarray(0, 900),
      'cannot be unpacked',
    ],
    ['JSON that is cut off', () => Buffer.from('[{"a":1},{"a"'), 'cannot be read as such'],
    ['JSON without rows', () => Buffer.from('{"a":1}'), 'no list of rows'],
    [
      'JSON that would unfold to far more than it is',
      () => {
        const fields = Array.from({ length: 1000 }, (_, at) => `"f${at}":1`).join();
        return Buffer.from(`[{${fields},"lines":[${'{},'.repeat(30_000)}{}]}]`);
      },
      'million cells',
    ],
    ['JSON of numbers', () => Buffer.from('[1,2]'), 'neither an object nor a list'],
    ['JSON nested 10,000 deep', () => Buffer.from('['.repeat(10_000)), 'nested too deeply'],
    ['nothing', () => Buffer.from(' \n'), 'empty'],
  ];
  for (const [what, make, message] of refusals) {
    it(`refuses ${what}`, async () => assert.include(await refusal(await make()), message));
  }

  it('passes over a sheet of empty rows, and says that nothing is in it', async () => {
    const bytes = await workbook((sheet) => {
      for (let row = 1; row <= 10_000; row += 1) sheet.getRow(row).height = 15;
    });
    const file = await openTableFile(inChunks(bytes), {});
    try {
      await understand(file, 'x', importFields('sales', []), {}, customsOf('en'));
      assert.fail('it was understood');
    } catch (error) {
      assert.include((error as Error).message, 'no cell with anything in it');
    } finally {
      await file.close();
    }
  }).timeout(60_000);

  it('names the sheets there are when another one is asked for', async () => {
    const bytes = await workbook((sheet) => sheet.addRow([1]));
    const error = await openTableFile(inChunks(bytes), { sheet: 'Other' }).then(
      () => undefined,
      (problem: unknown) => problem,
    );
    assert.include((error as Error).message, 'the workbook has "Data"');
  });

  it('reads Latin-1 as people write it, and many ways to cut', async () => {
    const latin = Buffer.from('Größe;Menge\nMüller;1\n', 'latin1');
    const file = await openTableFile(inChunks(latin), {});
    assert.equal(file.encoding, 'windows-1252');
    assert.equal(file.delimiter, ';');
    assert.deepEqual(
      (await rowsOf(latin)).map(({ cells }) => cells[0]),
      ['Größe', 'Müller'],
    );
    for (const [text, delimiter] of [
      ['a,b\n1,2', ','],
      ['a\tb\n1\t2', '\t'],
      ['a|b\n1|2', '|'],
    ] as const) {
      const cut = await openTableFile(inChunks(Buffer.from(text)), {});
      assert.equal(cut.delimiter, delimiter);
    }
  });

  it('refuses more than 2 GB, without keeping it', async () => {
    const block = Buffer.alloc(64 * 1024 ** 2, 'x');
    async function* endless(): AsyncGenerator<Buffer> {
      for (;;) yield block;
    }
    const { chunks } = await lookInto(endless());
    let size = 0;
    try {
      for await (const chunk of chunks) size += chunk.length;
      assert.fail('it went on');
    } catch (error) {
      assert.equal((error as HttpProblem).status, 413, String(error));
      assert.include((error as HttpProblem).message, 'larger than 2 GB');
    }
    assert.isAtMost(size, 2 * 1024 ** 3);
  });

  it('keeps memory flat however many rows come: a file is read as it is asked for', async () => {
    let given = 0;
    async function* endless(): AsyncGenerator<Buffer> {
      yield Buffer.from('a,b\n');
      for (;;) {
        given += 1;
        yield Buffer.from('1,2\n'.repeat(20_000));
      }
    }
    const file = await openTableFile(endless(), {});
    let rows = 0;
    for await (const some of file.rows) {
      rows += some.length;
      if (rows > 500_000) break;
    }
    assert.isBelow(given, 60, 'it was not read far ahead');
  });
});

describe('understanding a table', () => {
  const fields = importFields('sales', [
    {
      code: 'channel',
      name: 'Channel',
      members: [
        { id: 1, code: 'web', name: 'Web shop', parent: null },
        { id: 2, code: 'stores', name: 'Stores', parent: null },
      ],
    },
  ]);
  const read = async (text: string, choice = {}, locale = 'en') => {
    const file = await openTableFile(inChunks(Buffer.from(text)), {});
    return understand(file, 'export.csv', fields, choice, customsOf(locale));
  };

  it('finds the header below titles and what each column holds', async () => {
    const table = await read(
      'Report;;;;\n;;;;\nInvoice date;Sold by;Qty;Umsatz;Memo\n12.10.2026;Web shop;2;1.234,50;x\n',
      {},
      'de',
    );
    const { reading, missing } = table;
    assert.equal(reading.headerRow, 3);
    assert.deepInclude(reading.columns, {
      date: 0,
      channel: 1,
      quantity: 2,
      'net amount': 3,
      cost: null,
    });
    assert.deepInclude(reading, { decimal: ',', dates: 'dmy', shape: 'long', delimiter: ';' });
    assert.isEmpty(missing);
  });

  it('lets a person settle what it cannot see', async () => {
    const text = 'When,What,Much\n2026-10-12,zzz,5\n';
    const guessed = await read(text);
    assert.sameMembers(
      guessed.missing.map(({ key }) => key),
      ['channel', 'quantity', 'net amount'],
    );
    const settled = await read(text, { columns: { quantity: 2 }, constants: { channel: 'web' } });
    assert.isEmpty(settled.missing);
  });

  it('knows months across, and what stands below them by the title', async () => {
    const table = await read('Units sold\nChannel,Apr 2026,May 2026,Jun 2026,Total\nweb,1,2,3,6\n');
    assert.deepInclude(table.reading, { shape: 'wide', values: 'quantity' });
    assert.isEmpty(table.missing);
    const two = await read('Units sold\n,2025,,2026\nChannel,Nov,Dec,Jan\nweb,1,2,3\n');
    assert.deepInclude(two.reading, { shape: 'wide', values: 'quantity', headerRow: 3 });
    assert.deepEqual(two.reading.header, ['Channel', 'Nov 2025', 'Dec 2025', 'Jan 2026']);
    assert.isEmpty(two.missing);
  });
});
