/** A plan that was made elsewhere, taken into a version whatever its table looks like. */
import type {
  FilledFile,
  JournalRecord,
  TableLook,
  VersionCells,
  WorkspacePlan,
} from '@dravex/contract';
import type { Table } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('a plan from any table', () => {
  const sample = withSample();
  const VERSION = `${SAMPLE}/versions/1`;

  const cells = async (): Promise<Pick<VersionCells, 'units' | 'revenue'>> => {
    const { body } = await sample.planner.send<VersionCells>('GET', `${VERSION}/cells`);
    return { units: body.units, revenue: body.revenue };
  };
  const bring = (text: string, query = '', version = VERSION) =>
    sample.planner.send<FilledFile>('POST', `${version}/planned?fileName=plan.csv${query}`, text, {
      'content-type': 'application/octet-stream',
    });
  const apply = (text: string, query = '') => bring(text, `&apply=yes${query}`);
  /** Revenue, or what is asked, of a row of the version's table. */
  const planned = async (query: string): Promise<number> => {
    const { body } = await sample.planner.send<Table>(
      'GET',
      `${SAMPLE}/table?version=1&rows=channel&${query}`,
    );
    return Number((body.total.total.value ?? NaN).toFixed(3));
  };
  const scopeOf = async (...codes: string[]): Promise<string> => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const members = body.plan.dimensions.flatMap((dimension) => dimension.members);
    return codes.map((code) => members.find((one) => one.code === code)?.id ?? 0).join(',');
  };
  const at = (reading: object): string => `&reading=${encodeURIComponent(JSON.stringify(reading))}`;

  it('says how it would be read, with the words of a plan', async () => {
    const { body, status, text } = await sample.planner.send<TableLook>(
      'POST',
      `${SAMPLE}/imports/look?kind=plan&fileName=plan.csv`,
      'Monat;Kanal;Planmenge;Planumsatz\n01.10.2026;web;10;1.000,50\n',
      { 'content-type': 'application/octet-stream' },
    );
    assert.equal(status, 200, text);
    assert.deepInclude(body.reading.columns, { date: 0, quantity: 2, 'net amount': 3 });
    assert.deepEqual(body.missing, []);
  });

  it('takes rows by month, each as deep as it names, as one act that can be undone', async () => {
    const before = await cells();
    const text = [
      'Month,Channel,Product,Units,Budget',
      '2026-10,Web shop,,,500000.01',
      '2026-11,web,carafes,1200,43210.99',
      '2026-11,web,carafes,0,0',
      'Total,,,1200,543211.00',
      '2026-02,web,,,7',
    ].join('\n');
    const looked = await bring(text);
    assert.equal(looked.status, 200, looked.text);
    assert.deepEqual(looked.body.problems, []);
    assert.deepEqual(
      looked.body.changed.map(({ name, column, measure, file }) => [name, column, measure, file]),
      [
        ['Web shop', '2026-10', 'revenue', 50_000_001],
        ['Web shop · Carafes', '2026-11', 'units', 1200],
        ['Web shop · Carafes', '2026-11', 'revenue', 4_321_099],
      ],
    );
    assert.deepEqual(looked.body.leftOut, [
      '1 row is a total of others',
      '2 numbers are added to others of the same place and month',
      '1 number lies outside of Budget FY 2027, 2026-04 to 2027-03',
    ]);
    assert.deepEqual(await cells(), before, 'a look changes nothing');
    const applied = await apply(text);
    assert.equal(applied.status, 200, applied.text);
    const web = await scopeOf('web');
    const carafes = await scopeOf('web', 'carafes');
    assert.equal(await planned(`scope=${web}&from=2026-10&to=2026-10`), 500_000.01);
    assert.equal(await planned(`scope=${carafes}&from=2026-11&to=2026-11`), 43_210.99);
    assert.closeTo(
      await planned(`scope=${carafes}&from=2026-11&to=2026-11&measure=units`),
      1200,
      1e-6,
    );
    assert.deepInclude((await apply(text)).body.counts, { changed: 0, problems: 0 });
    const { body } = await sample.planner.send<JournalRecord[]>('GET', `${SAMPLE}/journal?limit=1`);
    assert.equal(body[0]?.what, 'Imported 3 numbers of plan.csv into Budget FY 2027');
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.deepEqual(await cells(), before);
  });

  it('takes months across, figures in rows, any headings and decimal commas', async () => {
    const text = [
      'Plan der Regionen;;;',
      'Was;Laden;Okt 2026;Nov 2026',
      // Whichever stands first: units do not move the revenue that the file states.
      'Umsatz;web;100.000,10;200.000,20',
      'Menge;web;1.000;2.000,5',
      'Umsatz;trade;5;',
    ].join('\n');
    const reading = {
      ...{ headerRow: 2, shape: 'wide', values: 'net amount', decimal: ',' },
      columns: { figure: 0, channel: 1 },
    };
    const trade = await scopeOf('trade');
    const november = `scope=${trade}&from=2026-11&to=2026-11`;
    const was = await planned(november);
    const applied = await apply(text, at(reading));
    assert.equal(applied.status, 200, applied.text);
    assert.equal(applied.body.counts.changed, 5);
    assert.deepEqual(applied.body.leftOut, [], 'units and revenue of a place are added to nothing');
    const web = await scopeOf('web');
    assert.equal(await planned(`scope=${web}&from=2026-10&to=2026-11`), 300_000.3);
    assert.equal(await planned(`scope=${trade}&from=2026-10&to=2026-10`), 5);
    assert.equal(await planned(november), was, 'an empty cell says nothing');
    const units = await planned(`scope=${web}&from=2026-11&to=2026-11&measure=units`);
    assert.closeTo(units, 2000.5, 1e-6);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
  });

  it('plans combinations that were never seen, and takes them back with the rest', async () => {
    const text = [
      'month,channel,product,group,region,units,revenue,cost',
      '2026-11,web,disp-floor,households,lakes,3,2100.50,900',
      '2026-12,web,disp-floor,households,lakes,4,2800,1200',
    ].join('\n');
    const applied = await apply(text);
    assert.equal(applied.status, 200, applied.text);
    assert.deepEqual(applied.body.counts, {
      ...{ changed: 6, meanwhile: 0, lacking: 0, problems: 0, added: 1 },
    });
    assert.include(applied.body.added[0], 'Floor dispenser');
    const scope = await scopeOf('web', 'disp-floor', 'households', 'lakes');
    assert.equal(await planned(`scope=${scope}&from=2026-11&to=2026-12`), 4900.5);
    assert.equal(await planned(`scope=${scope}&from=2026-11&to=2026-12&measure=cost`), 2100);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.equal(await planned(`scope=${scope}&from=2026-11&to=2026-12`), 0);
  });

  it('refuses, each with its row: what it does not know, what is planned twice, what is no number', async () => {
    const before = await cells();
    const text = [
      'month,channel,product,revenue',
      '2026-10,web,,1000',
      '2026-10,web,carafes,500',
      '2026-10,market,,20',
      '2026-13,web,,20',
      '2026-11,web,,many',
      '2026-11,web,disp-floor,20',
      '2026-12,web,,30',
    ].join('\n');
    const { body } = await bring(text);
    const told = body.problems.map(({ row, message }) => `${row}: ${message}`).join('\n');
    assert.match(told, /3: Web shop · Carafes, 2026-10: row 2 plans some of it already/);
    assert.match(told, /4: "market" is not a code of Channel/);
    const unknown = body.problems.find(({ row }) => row === 4)?.unknown;
    assert.deepEqual(unknown, { field: 'channel', value: 'market' });
    assert.match(told, /5: "2026-13" is not a day/);
    assert.match(told, /6: "many" is not a number/);
    const refused = await apply(text);
    assert.equal(refused.status, 400);
    assert.include(refused.problem?.detail, 'nothing was changed');
    assert.deepEqual(await cells(), before);
    const rest = await apply(text, '&faulty=leave');
    assert.equal(rest.status, 200, rest.text);
    assert.equal(await planned(`scope=${await scopeOf('web')}&from=2026-12&to=2026-12`), 30);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
  });

  it('reads values as what is meant, in this file and where that is wanted in the next', async () => {
    const text = 'month,shop,revenue\n2026-10,Company stores,70\n';
    const reading = at({ columns: { channel: 1 } });
    assert.lengthOf((await bring(text, reading)).body.problems, 1);
    const meant = (remember: boolean): string =>
      `&replace=${encodeURIComponent(
        JSON.stringify([{ field: 'channel', from: 'Company stores', to: 'stores', remember }]),
      )}`;
    const looked = await bring(text, reading + meant(false));
    assert.equal(looked.body.changed[0]?.name, 'Home-goods stores');
    assert.lengthOf((await bring(text, reading)).body.problems, 1, 'a look remembers nothing');
    assert.equal((await apply(text, reading + meant(true))).status, 200);
    assert.deepInclude((await bring(text, reading)).body.counts, { problems: 0, changed: 0 });
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal((await bring(text, '&replace=nope')).status, 400);
  });

  it('refuses what is no table, lacks a column, belongs to a sealed version or comes from no planner', async () => {
    const lacking = await bring('channel,color\nweb,red\n');
    assert.equal(lacking.status, 400);
    assert.match(
      lacking.problem?.detail ?? '',
      /No column holds month or quantity or net amount or cost/,
    );
    assert.equal((await bring('')).status, 400);
    assert.include((await bring('month,revenue\n')).problem?.detail, 'no rows');
    assert.equal((await bring('PK\u0003\u0004nonsense')).status, 400);
    assert.equal(
      (await bring('month,revenue\n2026-10,1', '', `${SAMPLE}/versions/9999`)).status,
      404,
    );
    const copy = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/versions/copies`, {
      of: 'version:1',
      name: 'To be sealed',
    });
    const other = `${SAMPLE}/versions/${copy.body.id}`;
    await sample.planner.send('POST', `${other}/seal`);
    const sealed = await bring('month,revenue\n2026-10,1', '&apply=yes', other);
    assert.equal(sealed.status, 409);
    assert.include(sealed.problem?.detail, 'is locked');
  });
});
