/** A sheet that is filled in elsewhere and brought back, with a look at every row. */
import type { FilledFile, FilledSheet, Sheet, SheetLine, WorkspacePlan } from '@dravex/contract';
import { assert } from 'chai';
import ExcelJS from 'exceljs';
import { SAMPLE, withSample, type Visitor } from '../testing/serve.ts';

const [KEY, LINE, PLAN] = [1, 2, 3];
const HEADING = 4;

describe('a budget sheet by file', () => {
  const sample = withSample();
  const SHEETS = `${SAMPLE}/sheets`;
  let sheet: Sheet;
  let other: Sheet;
  let ada: Visitor;

  before(async () => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const region = body.plan.dimensions.find(({ code }) => code === 'region');
    const [north = 0, coast = 0] = region?.members.map(({ id }) => id) ?? [];
    const person = { name: 'Ada', email: 'ada@ondwell.example', password: 'long enough 1' };
    const made = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/people`, {
      ...person,
      role: 'contributor',
    });
    ada = sample.served.visitor();
    await ada.signIn(person.email, person.password);
    const add = async (scope: number[], rows: string[]): Promise<Sheet> => {
      const said = { title: 'North & co', version: 1, person: made.body.id, scope, rows };
      const { body: added, text } = await sample.planner.send<Sheet>('POST', SHEETS, said);
      await sample.planner.send('POST', `${SHEETS}/${added.id}/state`, { state: 'handedOut' });
      assert.exists(added.id, text);
      return added;
    };
    sheet = await add([north], ['channel', 'product']);
    other = await add([coast], ['product']);
  });

  const at = (of: Sheet, rest = ''): string => `${SHEETS}/${of.id}${rest}`;
  const filled = async (of = sheet): Promise<FilledSheet> =>
    (await ada.send<FilledSheet>('GET', at(of))).body;
  async function workbook(of = sheet): Promise<ExcelJS.Worksheet> {
    const bytes = await ada.readFile(at(of, '/file.xlsx'));
    const book = new ExcelJS.Workbook();
    await book.xlsx.load(bytes as unknown as ArrayBuffer);
    const [page] = book.worksheets;
    assert.exists(page);
    return page;
  }
  const bytesOf = async (page: ExcelJS.Worksheet): Promise<Buffer> =>
    Buffer.from(await page.workbook.xlsx.writeBuffer());
  const bring = (bytes: Buffer | string, query = '', of = sheet, who = ada) =>
    who.send<FilledFile>('POST', at(of, `/file${query}`), bytes, {
      'content-type': 'application/octet-stream',
    });
  async function look(bytes: Buffer | string): Promise<FilledFile> {
    const { status, body, text } = await bring(bytes);
    assert.equal(status, 200, text);
    return body;
  }
  /** A line's name with those above it. */
  function pathOf({ lines }: FilledSheet, line: SheetLine | undefined): string {
    const above = lines.filter(
      ({ key, level }) => level > 0 && line && `${line.key}/`.startsWith(`${key}/`),
    );
    return above.map(({ name }) => name).join(' · ');
  }
  const leaves = ({ lines }: FilledSheet): SheetLine[] =>
    lines.filter(({ parent, plan }) => !parent && plan > 0);
  /** The row of a line in a workbook. */
  function rowOf(page: ExcelJS.Worksheet, { key }: SheetLine): number {
    let found = 0;
    page.getColumn(KEY).eachCell((cell, row) => {
      if (String(cell.value) === `${sheet.id}:${key === '' ? 'total' : key}`) found = row;
    });
    assert.isAbove(found, HEADING);
    return found;
  }

  it('changes nothing where nothing was changed, as a workbook and as CSV', async () => {
    const before = await filled();
    const lines = before.lines.filter(({ parent }) => !parent).length;
    for (const bytes of [
      await bytesOf(await workbook()),
      await ada.readFile(at(sheet, '/file.csv')),
    ]) {
      const nothing = {
        ...{ changed: [], meanwhile: [], lacking: [], problems: [], added: [], leftOut: [] },
        counts: { changed: 0, meanwhile: 0, lacking: 0, problems: 0, added: 0 },
        same: lines,
      };
      assert.deepEqual(await look(bytes), { ...nothing, applied: false });
      assert.deepEqual((await bring(bytes, '?apply=yes')).body, { ...nothing, applied: true });
    }
    assert.deepEqual(await filled(), before);
  });

  it('has live totals, and only what can be filled in is open', async () => {
    const { lines } = await filled();
    const page = await workbook();
    assert.isTrue(page.getColumn(KEY).hidden);
    const total = page.getCell(HEADING + 1, PLAN);
    assert.match(total.formula, /^SUM\(C\d+(,C\d+)*\)$/);
    const { sheetProtection } = page as unknown as { sheetProtection?: { sheet?: boolean } };
    assert.isTrue(sheetProtection?.sheet);
    for (const line of lines) {
      const row = rowOf(page, line);
      assert.equal(page.getCell(row, LINE).value, line.name);
      const { value, protection } = page.getCell(row, PLAN);
      assert.equal(protection?.locked === false, !line.parent, line.name);
      if (!line.parent) assert.equal(value, line.plan / 100);
      // What a formula adds up is what stands here.
      const parts = /^SUM\((.*)\)$/.exec(page.getCell(row, PLAN).formula ?? '')?.[1]?.split(',');
      const sum = (parts ?? []).reduce((all, part) => {
        const [first = '', last = first] = part.split(':');
        let sumOf = all;
        for (let r = Number(first.slice(1)); r <= Number(last.slice(1)); r += 1)
          sumOf += lines[r - HEADING - 1]?.plan ?? NaN;
        return sumOf;
      }, 0);
      if (line.parent) assert.equal(sum, line.plan, line.name);
    }
  });

  it('takes what was changed, wherever the row stands now, as one act that can be undone', async () => {
    const before = await filled();
    const [first, second] = leaves(before);
    assert.exists(first);
    assert.exists(second);
    const page = await workbook();
    page.getCell(rowOf(page, first), PLAN).value = first.plan / 100 + 1.23;
    page.getCell(rowOf(page, second), PLAN).value = { formula: '1000+0.5', result: 1000.5 };
    // A row is moved to the end.
    const row = page.getRow(rowOf(page, first));
    const values = row.values as ExcelJS.CellValue[];
    page.addRow(values.slice(1));
    page.spliceRows(row.number, 1);
    const bytes = await bytesOf(page);
    const { changed, meanwhile, problems, lacking } = await look(bytes);
    assert.deepEqual(
      changed.map(({ name, now, file, was }) => [name, now, file, was]).sort(),
      [
        [pathOf(before, first), first.plan, first.plan + 123, null],
        [pathOf(before, second), second.plan, 100_050, null],
      ].sort(),
    );
    assert.deepEqual([meanwhile, problems, lacking], [[], [], []]);
    assert.deepEqual(await filled(), before, 'a look changes nothing');
    assert.isTrue((await bring(bytes, '?apply=yes')).body.applied);
    const after = await filled();
    assert.equal(after.lines[0]?.plan, (before.lines[0]?.plan ?? 0) + 123 + 100_050 - second.plan);
    assert.equal((await ada.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.deepEqual(await filled(), before);
  });

  it('shows what a colleague changed meanwhile, and goes over it only where that is wanted', async () => {
    const before = await filled();
    const [first, second] = leaves(before);
    assert.exists(first);
    assert.exists(second);
    const page = await workbook();
    page.getCell(rowOf(page, first), PLAN).value = first.plan / 100 + 5;
    const bytes = await bytesOf(page);
    const typed = [first, second].map(({ scope, plan }) => ({
      scope,
      total: plan + 700,
      saw: plan,
    }));
    const meanwhile = await sample.planner.send('POST', at(sheet, '/entries'), { typed });
    assert.equal(meanwhile.status, 200, meanwhile.text);
    const looked = await look(bytes);
    assert.deepEqual(looked.changed, [], 'what was not touched in the file is no change of it');
    assert.deepEqual(
      looked.meanwhile.map(({ name, was, now, file }) => [name, was, now, file]),
      [[pathOf(before, first), first.plan, first.plan + 700, first.plan + 500]],
    );
    const planOf = async ({ key }: SheetLine) =>
      (await filled()).lines.find((line) => line.key === key)?.plan;
    await bring(bytes, '?apply=yes');
    assert.equal(await planOf(first), first.plan + 700);
    await bring(bytes, '?apply=yes&meanwhile=take');
    assert.equal(await planOf(first), first.plan + 500);
    assert.equal(await planOf(second), second.plan + 700);
  });

  it('says of each row that cannot be taken what is wrong, and takes none then', async () => {
    const before = await filled();
    const [first, second, third, fourth] = leaves(before);
    const page = await workbook();
    const cell = (line: SheetLine | undefined, column: number) => {
      assert.exists(line);
      return page.getCell(rowOf(page, line), column);
    };
    const copy = cell(second, KEY).value;
    cell(first, PLAN).value = 'a lot';
    cell(second, PLAN).value = null;
    cell(third, KEY).value = copy;
    cell(fourth, KEY).value = 'who knows';
    page.addRow(['', 'More', 12]);
    const bytes = await bytesOf(page);
    const { problems, lacking } = await look(bytes);
    const said = problems.map(({ message }) => message).join('\n');
    for (const words of [
      '“a lot” is not a number',
      'stands here a second time',
      'This is no line of the table',
      'a planned number is not emptied',
      'no key',
    ]) {
      assert.include(said, words);
    }
    assert.sameMembers(
      lacking,
      [third, fourth].map((line) => pathOf(before, line)),
    );
    const refused = await bring(bytes, '?apply=yes');
    assert.equal(refused.status, 400);
    assert.include(refused.problem?.detail, '5 rows cannot be imported; nothing was changed');
    assert.deepEqual(await filled(), before);
  });

  it('is of one sheet only, and of whoever fills it in, as long as it takes numbers', async () => {
    const theirs = await bytesOf(await workbook(other));
    const { problems, changed } = await look(theirs);
    assert.isEmpty(changed);
    assert.isTrue(problems.every(({ message }) => message === 'This row is of another table'));
    const none = await bring('name,plan\nCarafes,12\n');
    assert.equal(none.status, 400);
    assert.include(none.problem?.detail, 'saved from here');
    assert.equal((await bring(Buffer.from([1, 2, 3, 0]))).status, 400);
    const [first] = leaves(await filled());
    assert.exists(first);
    const page = await workbook();
    page.getCell(rowOf(page, first), PLAN).value = 1;
    const bytes = await bytesOf(page);
    const reader = await sample.served.reader();
    assert.equal((await bring(bytes, '?apply=yes', sheet, reader)).status, 403);
    await ada.send('POST', at(sheet, '/state'), { state: 'handedIn' });
    const late = await bring(bytes, '?apply=yes');
    assert.equal(late.status, 409, late.text);
    assert.include(late.text, 'is handed in');
  });
});
