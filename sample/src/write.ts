/** Writes Ondwell's files. The same seed gives the same files: `npm run sample`. */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { fileURLToPath } from 'node:url';
import { fiscalYearOf, monthFrom } from '@dravex/core';
import {
  CALENDAR,
  CHANNELS,
  combinations,
  FAMILIES,
  GROUPS,
  PRODUCTS,
  REGIONS,
} from './company.ts';
import { faultyFile } from './faulty.ts';
import { ledgerHistory, measuredFacts, messyWorkbook, subscribers, wideTable } from './messy.ts';
import { streams } from './methods.ts';
import { subscriberRecords } from './subscribers.ts';
import { drivers, measuredRows } from './drivers.ts';
import { assumptions, budgetRows } from './plans.ts';
import { targets } from './targets.ts';
import { keptForecasts } from './closes.ts';
import { Random } from './random.ts';
import { HEADER, historyMonths, SalesBook, toRow, type SalesLine } from './sales-lines.ts';

const SEED = 20_260_930;
const DATA = fileURLToPath(new URL('../data/', import.meta.url));
const TRY = fileURLToPath(new URL('../try/', import.meta.url));

function json(name: string, value: unknown): void {
  writeFileSync(`${DATA}${name}`, `${JSON.stringify(value)}\n`);
}

function sales(name: string, lines: readonly SalesLine[]): void {
  const sorted = [...lines].sort((a, b) => (a.date < b.date ? -1 : a.date > b.date ? 1 : 0));
  writeFileSync(`${DATA}sales/${name}.csv`, `${[HEADER, ...sorted.map(toRow)].join('\n')}\n`);
}

const top = (names: Readonly<Record<string, { name: string } | string>>) =>
  Object.entries(names).map(([code, named]) => ({
    code,
    name: typeof named === 'string' ? named : named.name,
    parent: null,
  }));

rmSync(DATA, { recursive: true, force: true });
mkdirSync(`${DATA}sales`, { recursive: true });
mkdirSync(`${DATA}facts`, { recursive: true });
mkdirSync(`${DATA}subscribers`, { recursive: true });
mkdirSync(TRY, { recursive: true });

json('workspace.json', {
  name: 'Ondwell',
  locale: 'en-IE',
  calendar: CALENDAR,
  currency: { code: 'EUR', minorDigits: 2 },
  dimensions: [
    { code: 'channel', name: 'Channel', members: top(CHANNELS) },
    {
      code: 'product',
      name: 'Product',
      members: [
        ...top(FAMILIES),
        ...PRODUCTS.map(({ code, name, family, replaces }) => ({
          ...{ code, name, parent: family },
          ...(replaces === undefined ? {} : { replaces }),
        })),
      ],
    },
    { code: 'group', name: 'Customer group', members: top(GROUPS) },
    { code: 'region', name: 'Region', members: top(REGIONS) },
  ],
});
json('people.json', [
  {
    email: 'reader@ondwell.example',
    name: 'Rhea Lorne',
    password: 'read the plan',
    role: 'reader',
  },
  {
    email: 'manager@ondwell.example',
    name: 'Una Keldby',
    password: 'divide the north',
    role: 'manager',
    holds: ['North'],
  },
  {
    email: 'seller@ondwell.example',
    name: 'Ivo Tarnow',
    password: 'sell in stores',
    role: 'contributor',
    holds: ['Ivo Tarnow'],
  },
]);

const book = new SalesBook(new Random(SEED));
const first = monthFrom(CALENDAR.first);
const closed = monthFrom(CALENDAR.closedThrough);
const byYear = new Map<number, SalesLine[]>();
for (const month of historyMonths(first, closed)) {
  const year = fiscalYearOf(month, CALENDAR.fiscalStart);
  const lines = byYear.get(year) ?? [];
  for (const line of combinations()) lines.push(...book.month(line, month));
  byYear.set(year, lines);
}
for (const [year, lines] of byYear) sales(`fy${year}`, lines);
mkdirSync(`${DATA}closes`, { recursive: true });
const history = [...byYear.values()].flat();
for (const [month, rows] of keptForecasts(history, closed - 11, closed, new Random(SEED + 2))) {
  writeFileSync(`${DATA}closes/${month}.csv`, `${rows.join('\n')}\n`);
}
const october = combinations().flatMap((line) => book.month(line, closed + 1, 11));
sales('october-2026-first-days', october);

writeFileSync(`${DATA}facts/measured.csv`, `${measuredRows().join('\n')}\n`);
const monthly = combinations().filter(({ product }) => product.code === 'plan-month');
writeFileSync(
  `${DATA}subscribers/refill-plan-monthly.csv`,
  `${subscriberRecords(monthly).join('\n')}\n`,
);
json('drivers.json', drivers());
json('streams.json', { streams: streams() });
json('assumptions.json', { assumptions: assumptions() });
writeFileSync(`${DATA}budget-fy2027.csv`, `${budgetRows(new Random(SEED + 1)).join('\n')}\n`);
json('targets.json', targets());
writeFileSync(`${TRY}sales-with-faults.csv`, faultyFile());
await messyWorkbook(`${TRY}messy-export.xlsx`);
writeFileSync(`${TRY}units-by-month.csv`, wideTable());
writeFileSync(`${TRY}measured-facts.csv`, measuredFacts());
writeFileSync(`${TRY}ledger-history.csv`, ledgerHistory());
writeFileSync(`${TRY}subscribers.csv`, subscribers());

const count = [...byYear.values()].reduce((sum, lines) => sum + lines.length, 0);
process.stdout.write(
  `${count} sales lines in ${byYear.size} fiscal years, ${october.length} in October\n`,
);
