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

/** Web visits and quiz counts by month, and the market's size by channel: facts besides sales. */
export function measuredFacts(): string {
  const months = ['2026-04', '2026-05', '2026-06', '2026-07', '2026-08', '2026-09'];
  const rows = months.flatMap((month, place) => [
    `${month},Web visits,web,${41_200 + place * 1300}`,
    `${month},Quizzes taken,web,${6180 + place * 210}`,
    `${month},Market size,web,${1_900_000 + place * 25_000}`,
    `${month},Market size,stores,${3_400_000 - place * 12_000}`,
    `${month},Satisfaction score,,${(4.1 + place * 0.05).toFixed(2)}`,
  ]);
  return `${['month,measure,channel,value', ...rows].join('\n')}\n`;
}

/** Accounts of the ledger by month, revenue negative as ledgers have it. */
export function ledgerHistory(): string {
  const months = ['2026-07', '2026-08', '2026-09'];
  const rows = months.flatMap((month, place) => [
    `${month},4000,Sales of hardware,${-(1_480_000 + place * 31_000)}.00`,
    `${month},4100,Sales of cartridges,${-(510_000 + place * 9000)}.00`,
    `${month},5000,Goods bought,${861_000 + place * 17_500}.00`,
    `${month},6200,Rent,42500.00`,
  ]);
  return `${['month,account,account name,amount', ...rows].join('\n')}\n`;
}

/** Subscribers of the refill plans: who started when, and who left. */
export function subscribers(): string {
  const rows = Array.from({ length: 60 }, (_, n) => {
    const start = `2026-${String(1 + (n % 9)).padStart(2, '0')}-${String(1 + ((n * 7) % 27)).padStart(2, '0')}`;
    const end = n % 5 === 0 ? `2026-09-${String(10 + (n % 15)).padStart(2, '0')}` : '';
    return `S-${1000 + n},${n % 3 === 0 ? 'plan-year' : 'plan-month'},${start},${end}`;
  });
  return `${['subscriber,product,start,end', ...rows].join('\n')}\n`;
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
