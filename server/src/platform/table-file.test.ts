import { assert } from 'chai';
import ExcelJS from 'exceljs';
import { SAMPLE, withSample } from '../testing/serve.ts';
import { toCsv } from './csv.ts';

describe('tables as workbooks', () => {
  const sample = withSample();
  const TABLES = [
    'table.FORMAT?rows=channel&from=2026-04&to=2026-06&measure=revenue&columns=time&grain=month',
    'table/measured.FORMAT?rows=channel&from=2026-04&to=2026-06&measures=units,revenue',
    'comparison.FORMAT?rows=channel&from=2026-04&to=2026-06&measure=revenue&version=1',
    'summary.FORMAT?rows=channel&columns=month&from=2026-04&to=2026-06',
    'supply.FORMAT?from=2026-10&to=2026-12&grain=month',
  ];
  const get = (table: string, format: string): Promise<Response> =>
    fetch(`${sample.served.origin}/api${SAMPLE}/${table.replace('FORMAT', format)}`, {
      headers: { cookie: sample.planner.cookie },
    });

  it('say what they are about, and hold what the CSV holds, numbers as numbers', async () => {
    for (const table of TABLES) {
      const [plain, answer] = await Promise.all([get(table, 'csv'), get(table, 'xlsx')]);
      assert.equal(answer.status, 200, table);
      assert.match(answer.headers.get('content-disposition') ?? '', /\.xlsx"?$/);
      const book = new ExcelJS.Workbook();
      await book.xlsx.load(await answer.arrayBuffer());
      const [sheet] = book.worksheets;
      assert.match(sheet?.getCell(1, 1).text ?? '', /^Ondwell.*: /, table);
      assert.match(sheet?.getCell(3, 1).text ?? '', /^2026-\d\d( to 2026-\d\d)?$/, table);
      const lines: (string | number | null)[][] = [];
      sheet?.eachRow((row, at) => {
        if (at <= 5) return;
        const width = sheet.columnCount;
        lines.push(
          Array.from({ length: width }, (_, column) => {
            const cell = row.getCell(column + 1);
            // What follows from other cells comes with what it is now.
            return (cell.formula ? cell.result : cell.value) as string | number | null;
          }),
        );
      });
      // The same lines as numbers: cents that end in zero are written shorter.
      const csv = (await plain.text())
        .replace('\uFEFF', '')
        .replaceAll(/(\.\d*?)0+(?=[,\r])/g, '$1');
      const again = toCsv(lines).replaceAll(/(\.\d*?)0+(?=[,\r])/g, '$1');
      assert.equal(again.replaceAll(/\.(?=[,\r])/g, ''), csv.replaceAll(/\.(?=[,\r])/g, ''), table);
      const numbers = lines
        .slice(1)
        .flat()
        .filter((value) => typeof value === 'number');
      assert.isAtLeast(numbers.length, 4, table);
    }
  });

  it('are made of a table as it is shown, whoever reads it, and nothing runs in them', async () => {
    const table = {
      name: 'Targets',
      about: ['Ondwell: Targets', 'thousand €'],
      lines: [
        ['Who', 'Target'],
        ['North', 7817.5],
        ['=1+1', null],
      ],
    };
    const reader = await sample.served.reader();
    const csv = await reader.send('POST', '/table-file.csv', table);
    assert.equal(csv.status, 200, csv.text);
    assert.equal(csv.text.replace('\uFEFF', ''), "Who,Target\r\nNorth,7817.5\r\n'=1+1,\r\n");
    const answer = await fetch(`${sample.served.origin}/api/table-file.xlsx`, {
      method: 'POST',
      headers: {
        cookie: sample.planner.cookie,
        'x-csrf-token': sample.planner.csrfToken,
        'content-type': 'application/json',
      },
      body: JSON.stringify(table),
    });
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(await answer.arrayBuffer());
    const [sheet] = book.worksheets;
    assert.equal(sheet?.getCell(1, 1).text, 'Ondwell: Targets');
    assert.equal(sheet?.getCell(5, 2).value, 7817.5);
    assert.isUndefined(sheet?.getCell(6, 1).formula);
    const wide = Array.from({ length: 200 }, () => Array.from({ length: 400 }, () => 1));
    for (const bad of [
      { ...table, lines: [] },
      { ...table, lines: wide },
      { ...table, lines: [['Who'], [{ formula: '1' }]] },
      { ...table, more: 1 },
    ]) {
      assert.equal((await reader.send('POST', '/table-file.csv', bad)).status, 400);
    }
    assert.equal((await reader.send('POST', '/table-file.pdf', table)).status, 404);
    const nobody = await sample.served.visitor().send('POST', '/table-file.csv', table);
    assert.include([401, 403], nobody.status);
  });

  it('are of no other kind', async () => {
    for (const table of TABLES) assert.equal((await get(table, 'pdf')).status, 404, table);
  });
});
