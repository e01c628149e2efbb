/** A version that goes out by line and month, is filled in elsewhere, and comes back. */
import type { FilledFile, JournalRecord, VersionCells, WorkspacePlan } from '@dravex/contract';
import { assert } from 'chai';
import ExcelJS from 'exceljs';
import fc from 'fast-check';
import { columnOf, fieldsOf, toText } from '../testing/saved-form.ts';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('a version that is filled in elsewhere', () => {
  const sample = withSample();
  const VERSION = `${SAMPLE}/versions/1`;

  const cells = async (): Promise<VersionCells> =>
    (await sample.planner.send<VersionCells>('GET', `${VERSION}/cells`)).body;
  const saved = (format: string, query = ''): Promise<Buffer> =>
    sample.planner.readFile(`${VERSION}/filled.${format}${query}`);
  const bring = (bytes: Buffer | string, query = '', version = VERSION) =>
    sample.planner.send<FilledFile>('POST', `${version}/filled${query}`, bytes, {
      'content-type': 'application/octet-stream',
    });
  it('changes nothing where nothing was changed, by whatever lines it went out', async () => {
    const before = await cells();
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const codes = body.plan.dimensions.map(({ code }) => code);
    const members = body.plan.dimensions.flatMap((dimension) =>
      dimension.members.map(({ id }) => id),
    );
    const view = fc.record({
      rows: fc.uniqueArray(fc.constantFrom(...codes), { maxLength: 3 }),
      scope: fc.uniqueArray(fc.constantFrom(...members), { maxLength: 2 }),
      measure: fc.constantFrom('revenue', 'units'),
      format: fc.constantFrom('csv', 'xlsx'),
    });
    await fc.assert(
      fc.asyncProperty(view, async ({ rows, scope, measure, format }) => {
        const query = `?rows=${rows.join(',')}&scope=${scope.join(',')}&measure=${measure}`;
        const {
          status,
          body: answer,
          text,
        } = await bring(await saved(format, query), '?apply=yes');
        assert.equal(status, 200, text);
        const { changed, meanwhile, problems, lacking } = answer;
        assert.deepEqual([changed, meanwhile, problems, lacking], [[], [], [], []], query);
      }),
      { numRuns: 12 },
    );
    assert.deepEqual(await cells(), before);
  });

  it('takes the months that were changed, one entry each, as one act', async () => {
    const before = await cells();
    const lines = fieldsOf(await saved('csv', '?rows=channel'));
    const [month, next] = ['2026-10', '2026-11'].map((head) => columnOf(lines, head));
    const web = lines.find(([, name]) => name === 'Web shop');
    assert.exists(web);
    const was = Number(web[month ?? 0]);
    web[month ?? 0] = String(was + 100.01);
    web[next ?? 0] = '0';
    const looked = await bring(toText(lines));
    assert.equal(looked.status, 200, looked.text);
    assert.deepEqual(
      looked.body.changed.map(({ name, column }) => [name, column]),
      [
        ['Web shop', '2026-10'],
        ['Web shop', '2026-11'],
      ],
    );
    assert.deepEqual(await cells(), before, 'a look changes nothing');
    const applied = await bring(toText(lines), '?apply=yes');
    assert.equal(applied.status, 200, applied.text);
    const after = fieldsOf(await saved('csv', '?rows=channel'));
    const now = after.find(([, name]) => name === 'Web shop');
    assert.equal(Number(now?.[month ?? 0]), Number((was + 100.01).toFixed(2)));
    assert.equal(Number(now?.[next ?? 0]), 0);
    const { body } = await sample.planner.send<JournalRecord[]>('GET', `${SAMPLE}/journal?limit=1`);
    assert.include(body[0]?.what, 'Typed 2 numbers into Budget FY 2027');
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    const { lastEntry: _, ...undone } = { lastEntry: 0, ...(await cells()) };
    assert.deepEqual([undone.units, undone.revenue], [before.units, before.revenue]);
  });

  it('is a workbook whose totals follow, in columns beyond the twenty-sixth too', async () => {
    const book = new ExcelJS.Workbook();
    await book.xlsx.load((await saved('xlsx', '?rows=channel,product')) as unknown as ArrayBuffer);
    const [page] = book.worksheets;
    assert.exists(page);
    const heads = page.getRow(4).values as string[];
    assert.equal(heads[2], 'Line');
    assert.equal(heads[3], '2026-04');
    assert.equal(heads[15], 'Total');
    assert.equal(heads.at(-1), '2027-03, as saved');
    assert.equal(page.getCell(5, 15).formula, 'SUM(C5:N5)');
    assert.match(page.getCell(5, 3).formula, /^SUM\(C6,C\d+/);
    assert.isTrue(page.getColumn(heads.indexOf('2027-03, as saved')).hidden);
    const open: number[] = [];
    page.getColumn(3).eachCell((cell, row) => {
      if (cell.protection?.locked === false) open.push(row);
    });
    assert.isAbove(open.length, 10);
    for (const row of open) assert.isUndefined(page.getCell(row, 3).formula || undefined);
  });

  it('refuses a file of another version, one without keys, and one of a locked version', async () => {
    const other = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/versions/copies`, {
      of: 'version:1',
      name: 'A copy',
    });
    assert.equal(other.status, 201, other.text);
    const theirs = await bring(await saved('csv'), '', `${SAMPLE}/versions/${other.body.id}`);
    assert.equal(theirs.status, 400);
    assert.include(theirs.problem?.detail, 'of another version');
    const lines = fieldsOf(await saved('csv'));
    const bare = await bring(toText(lines.map(([, ...rest]) => rest)));
    assert.equal(bare.status, 400);
    assert.include(bare.problem?.detail, '“key”');
    const nameless = await bring(
      toText([lines[0] ?? [], ['', 'X', ...Array<string>(40).fill('1')]]),
    );
    assert.equal(nameless.status, 400);
    const short = await bring(toText(lines.map((line) => line.slice(0, 6))));
    assert.equal(short.status, 400);
    assert.include(short.problem?.detail, '2026-08');
    await sample.planner.send('POST', `${SAMPLE}/versions/${other.body.id}/seal`);
    const sealed = await sample.planner.readFile(
      `${SAMPLE}/versions/${other.body.id}/filled.csv?rows=channel`,
    );
    const late = await bring(sealed, '?apply=yes', `${SAMPLE}/versions/${other.body.id}`);
    assert.equal(late.status, 409, late.text);
    assert.include(late.problem?.detail, 'is locked');
    for (const bad of ['rows=colour', 'scope=99999', 'measure=margin']) {
      const refused = await sample.planner.send('GET', `${VERSION}/filled.csv?${bad}`);
      assert.equal(refused.status, 400, bad);
    }
    assert.equal((await sample.planner.send('GET', `${VERSION}/filled.pdf`)).status, 404);
  });
});
