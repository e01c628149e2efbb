/** Files as they come from elsewhere, to try what Dravex makes of them: made up, like everything here. */
import ExcelJS from 'exceljs';

/** What the export of an old order system looks like: titles, useless columns, totals in between. */
const EXPORT: readonly (readonly [
  Date | string,
  string,
  string,
  string,
  string,
  number,
  number | string,
  string,
])[] = [
  [day(1), 'Web shop', 'Brook carafe', 'Households', 'North', 12, -426.72, 'X-1001'],
  [day(1), 'Web shop', 'Brook carafe', 'Households', 'Coast', 8, -284.48, 'X-1002'],
  [day(2), 'Web shop', 'Carafe cartridges, 3', 'Households', 'Lakes', 40, -819.6, 'X-1003'],
  ['Subtotal web shop', '', '', '', '', 60, -1530.8, ''],
  [day(5), 'WB', 'Brook carafe', 'Households', 'North', 3, -106.68, 'X-1004'],
  [day(5), 'WB', 'Carafe cartridges, 3', 'Households', 'Capital', 10, -204.9, 'X-1005'],
  [day(6), 'Home-goods stores', 'Rill glass carafe', 'Households', 'Coast', 24, -811.44, 'X-1006'],
  [day(7), 'Home-goods stores', 'Rill glass carafe', 'Households', 'North', 2, '#DIV/0!', 'X-1007'],
  [day(8), 'Home-goods stores', 'Rill glass carafe', 'Households', 'Lakes', -1, 33.81, 'X-1008'],
  ['31.09.2026', 'Web shop', 'Brook carafe', 'Households', 'North', 1, -35.56, 'X-1009'],
  [day(9), 'Web shop', 'Brook carafe', 'Households', 'North', 2, '-71,12 €', 'X-1010'],
  ['Grand total', '', '', '', '', 101, -3530.09, ''],
];

function day(of: number): Date {
  return new Date(Date.UTC(2026, 9, of));
}

/** A workbook with a cover sheet, merged titles, useless columns, the ledger's sign and totals rows. */
export async function messyWorkbook(path: string): Promise<void> {
  const workbook = new ExcelJS.Workbook();
  workbook.created = workbook.modified = new Date(Date.UTC(2026, 9, 12));
  workbook.addWorksheet('Cover').addRows([['Order system'], ['Printed on 12 October 2026']]);
  const sheet = workbook.addWorksheet('Export');
  sheet.addRow(['Sales by document, first days of October']);
  sheet.mergeCells('A1:J1');
  sheet.addRow(['All companies', '', '', 'confidential']);
  sheet.addRow([]);
  sheet.addRow([
    'Posting date',
    'Plant',
    'Channel',
    'Product',
    'Customer group',
    'Region',
    'Qty',
    'Amount in EUR',
    'Invoice no',
    'User',
  ]);
  for (const [date, channel, product, group, region, quantity, amount, invoice] of EXPORT) {
    const figure = amount === '#DIV/0!' ? { error: amount } : amount;
    sheet.addRow([
      date,
      '0001',
      channel,
      product,
      group,
      region,
      quantity,
      figure,
      invoice,
      'BATCH',
    ]);
  }
  sheet.getColumn(1).numFmt = 'dd.mm.yyyy';
  await workbook.xlsx.writeFile(path);
}

/** A table with months across, as planners keep them: units of cartridges, with a total at the end. */
export function wideTable(): string {
  const rows = [
    'Cartridges sold by month, units;;;;;;;',
    'Channel;Product;Customer group;Region;Apr 2026;May 2026;Jun 2026;Total',
    'Web shop;Carafe cartridges, 3;Households;North;1.210;1.180;1.305;3.695',
    ';;;Coast;980;1.010;1.122;3.112',
    'Home-goods stores;Carafe cartridges, 3;Households;North;640;655;;1.295',
    'Total;;;;2.830;2.845;2.427;8.102',
  ];
  return `${rows.join('\r\n')}\r\n`;
}
