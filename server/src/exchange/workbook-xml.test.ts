import { assert } from 'chai';
import type { RawRow } from './raw-row.ts';
import {
  readDayStyles,
  readRelations,
  readRows,
  readSheetList,
  readTexts,
  type SheetTerms,
} from './workbook-xml.ts';

/** A text in pieces so small that every tag and letter is cut somewhere. */
async function* pieces(xml: string, size = 7): AsyncGenerator<Buffer> {
  const bytes = Buffer.from(xml);
  for (let start = 0; start < bytes.length; start += size)
    yield bytes.subarray(start, start + size);
}
const TERMS: SheetTerms = { texts: [], dayStyles: [], from1904: false };
async function batchesOf(rows: string, terms = TERMS, size?: number): Promise<RawRow[][]> {
  const batches: RawRow[][] = [];
  const xml = `<worksheet><sheetData>${rows}</sheetData></worksheet>`;
  for await (const batch of readRows(pieces(xml, size), terms)) batches.push(batch);
  return batches;
}
const rowsOf = async (rows: string, terms = TERMS) =>
  (await batchesOf(rows, terms)).flat().map(({ row, cells }) => [row, ...cells]);
async function refused(work: Promise<unknown>): Promise<string> {
  return work.then(
    () => 'it was read',
    (error: unknown) => (error as Error).message,
  );
}

describe('the XML of workbooks', () => {
  it('reads every kind of cell, with and without references', async () => {
    const terms = { ...TERMS, texts: ['größer'], dayStyles: [false, true] };
    assert.deepEqual(
      await rowsOf(
        `<row r="3"><c r="A3" t="s"><v>0</v></c><c r="C3" s="1"><v>46307.75</v></c>
           <c t="inlineStr"><is><r><t> in </t></r><r><t>line</t></r><rPh><t>ruby</t></rPh></is></c></row>
         <row><c><v>1.5E2</v></c><c t="b"><v>1</v></c><c t="e"><f>1/0</f><v>#DIV/0!</v></c>
           <c t="str"><f>A1</f><v> ab </v></c><c><f>A2</f></c><c t="d"><v>2026-10-12T08:00:00</v></c></row>
         <row r="9"><c s="1"/></row><row><c t="s"><v>7</v></c><c><v>x</v></c></row>`,
        terms,
      ),
      [
        [3, 'größer', '', '2026-10-12', 'in line'],
        [4, 150, 'true', '#DIV/0!', 'ab', '#NO RESULT!', '2026-10-12'],
        [10, '', 'x'],
      ],
    );
  });

  it('reads what a program wrote with prefixes, and days that are counted from 1904', async () => {
    const terms = { ...TERMS, dayStyles: [true], from1904: true };
    const xml = '<x:row r="1"><x:c r="B1"><x:v>44845</x:v></x:c></x:row>';
    assert.deepEqual(await rowsOf(xml.replace('<x:row', '<x:row xmlns:x="y"'), terms), [
      [1, '', '2026-10-12'],
    ]);
  });

  it('tells days from numbers by their format', async () => {
    const codes = ['dd.mm.yyyy', '#,##0 "days"', '[$-407]0.00', '0\\d', '[h]:mm', '[Red]0;_s0'];
    const formats = codes.map(
      (code, at) =>
        `<numFmt numFmtId="${200 + at}" formatCode="${code.replaceAll('"', '&quot;')}"/>`,
    );
    const ids = [0, 14, ...codes.map((_, at) => 200 + at)];
    const xml = `<styleSheet><numFmts>${formats.join('')}</numFmts><cellStyleXfs><xf numFmtId="14"/></cellStyleXfs>
      <cellXfs>${ids.map((id) => `<xf numFmtId="${id}"/>`).join('')}</cellXfs></styleSheet>`;
    assert.deepEqual(await readDayStyles(pieces(xml)), [
      ...[false, true],
      ...[true, false, false, false, true, false],
    ]);
  });

  it('knows sheets, relations and texts', async () => {
    const book = `<workbook xmlns:r="x"><workbookPr date1904="1"/><sheets>
      <sheet name="A &amp; B" r:id="rId2"/></sheets></workbook>`;
    assert.deepEqual(await readSheetList(pieces(book)), {
      sheets: [{ name: 'A & B', relation: 'rId2' }],
      from1904: true,
    });
    const relations = `<Relationships><Relationship Id="rId2" Type="http://a/worksheet" Target="/xl/w/one.xml"/>
      <Relationship Id="rId3" Type="http://a/styles" Target="styles.xml"/></Relationships>`;
    assert.deepEqual(await readRelations(pieces(relations)), [
      { id: 'rId2', type: 'worksheet', part: 'xl/w/one.xml' },
      { id: 'rId3', type: 'styles', part: 'xl/styles.xml' },
    ]);
    const texts = '<sst><si><t>a</t></si><si><r><t>b</t></r><r><t> c</t></r></si><si/></sst>';
    assert.deepEqual(await readTexts(pieces(texts)), ['a', 'b c', '']);
  });

  it('hands rows on by their cells: one in the last column of each is no gigabyte', async () => {
    const rows = Array.from({ length: 300 }, () => '<row><c r="XFD1"><v>1</v></c></row>').join('');
    const batches = await batchesOf(rows, TERMS, 1000);
    assert.isAtMost(Math.max(...batches.map(({ length }) => length)), 150);
    assert.equal(batches.flat().length, 300);
    // What stands beyond the last column that is read is one cell: the row is known to be wider.
    const [wide] = await rowsOf('<row><c r="XFE1"><v>1</v></c><c r="ZZZZZZZ1"><v>2</v></c></row>');
    assert.deepEqual([wide?.length, wide?.at(-1)], [2002, 2]);
  });

  it('refuses what is no XML, unknown entities, and a row without an end', async () => {
    assert.include(await refused(rowsOf('<row><c></row>')), 'damaged');
    assert.include(
      await refused(readTexts(pieces('<sst><si><t>&bomb;</t></si></sst>'))),
      'damaged',
    );
    assert.include(await refused(readTexts(pieces('<sst><si><t>a'))), 'damaged');
    const long = `<row><c t="inlineStr"><is><t>${'x'.repeat(2_000_001)}</t></is></c></row>`;
    assert.include(await refused(batchesOf(long, TERMS, 65_536)), 'Row 1 of the sheet');
  });
});
