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
        const values = row.values as (string | number | null | undefined)[];
        const width = sheet.columnCount;
        lines.push(Array.from({ length: width }, (_, column) => values[column + 1] ?? null));
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

  it('are of no other kind', async () => {
    for (const table of TABLES) assert.equal((await get(table, 'pdf')).status, 404, table);
  });
});
