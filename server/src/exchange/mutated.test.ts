/** Good files with something broken in them, of every kind that is taken: none is more than refused. */
import { readFileSync } from 'node:fs';
import ExcelJS from 'exceljs';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

/** How many; `npm run strain -- files` tries more. */
const COUNT = Number(process.env['MUTATED'] ?? 48);
const SALES = new URL('../../../sample/data/sales/fy2026.csv', import.meta.url);
const LINES = 60;

/** Numbers that come the same way each time. */
function random(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return state % below;
  };
}

type Break = (bytes: Buffer, next: (below: number) => number) => Buffer;
const BREAKS: readonly Break[] = [
  // Some bytes are others.
  (bytes, next) => {
    const broken = Buffer.from(bytes);
    for (let times = 1 + next(20); times > 0; times -= 1) broken[next(broken.length)] = next(256);
    return broken;
  },
  // The end is missing.
  (bytes, next) => bytes.subarray(0, next(bytes.length)),
  // A part is there twice.
  (bytes, next) => {
    const at = next(bytes.length);
    return Buffer.concat([bytes.subarray(0, at), bytes.subarray(next(at + 1))]);
  },
  // Something strange stands in the middle.
  (bytes, next) => {
    const strange = [
      '\0',
      '"',
      '\uFEFF',
      '<!DOCTYPE x [<!ENTITY a "b">]>',
      '1e999',
      '\ud800',
      '{"a":',
    ];
    const at = next(bytes.length);
    const some = Buffer.from((strange[next(strange.length)] ?? '').repeat(1 + next(50)));
    return Buffer.concat([bytes.subarray(0, at), some, bytes.subarray(at)]);
  },
  // A part is nothing.
  (bytes, next) => {
    const broken = Buffer.from(bytes);
    const at = next(broken.length);
    return broken.fill(0, at, Math.min(broken.length, at + next(500)));
  },
];

describe('files with something broken in them', function () {
  this.timeout(1_800_000);
  const sample = withSample();
  let files: { name: string; bytes: Buffer }[] = [];
  before(async () => {
    const rows = readFileSync(SALES, 'utf8').split(/\r?\n/).slice(0, LINES);
    const cells = rows.map((row) => row.split(','));
    const [header = []] = cells;
    const book = new ExcelJS.Workbook();
    book.addWorksheet('Sales').addRows(cells);
    const records = cells
      .slice(1)
      .map((row) => Object.fromEntries(header.map((name, at) => [name, row[at]])));
    files = [
      { name: 'sales.csv', bytes: Buffer.from(rows.join('\n')) },
      { name: 'sales.json', bytes: Buffer.from(JSON.stringify(records)) },
      { name: 'sales.xlsx', bytes: Buffer.from(await book.xlsx.writeBuffer()) },
      { name: 'plan', bytes: await sample.planner.readFile(`${SAMPLE}/plan-file`) },
    ];
  });

  it(`are taken or refused with a reason, ${COUNT} of them, and the server goes on`, async () => {
    for (let number = 0; number < COUNT; number += 1) {
      const next = random(number + 1);
      const file = files[number % files.length];
      const breaks = BREAKS[Math.floor(number / files.length) % BREAKS.length];
      if (!file || !breaks) continue;
      const broken = breaks(file.bytes, next);
      const { status, text, problem } =
        file.name === 'plan'
          ? await sample.planner.send('POST', '/workspaces/plan-file', broken)
          : await sample.planner.sendFile(
              `${SAMPLE}/imports?fileName=${number}-${file.name}`,
              broken,
            );
      assert.isBelow(status, 500, `${number} ${file.name}: ${text.slice(0, 300)}`);
      if (status >= 400) assert.isNotEmpty(problem?.detail, `${number} ${file.name}`);
    }
    assert.equal((await sample.planner.send('GET', `${SAMPLE}/plan`)).status, 200);
  });
});
