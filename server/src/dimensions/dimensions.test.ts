import type {
  ComparisonAnswer,
  DimensionDetail,
  ImportPreview,
  MembersFile,
  MergeEffect,
  SalesLines,
  Summary,
  ToldApart,
  WorkspacePlan,
} from '@dravex/contract';
import type { Table } from '@dravex/core';
import { assert } from 'chai';
import { summaryDifferences } from '../actuals/read-lines.ts';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('dimensions', () => {
  const sample = withSample();

  const dimension = async (code: string): Promise<DimensionDetail> => {
    const { body } = await sample.planner.send<DimensionDetail[]>('GET', `${SAMPLE}/dimensions`);
    const dimensionFound = body.find((one) => one.code === code);
    assert.isDefined(dimensionFound);
    return dimensionFound as DimensionDetail;
  };
  const member = async (dimensionCode: string, code: string) => {
    const memberFound = (await dimension(dimensionCode)).members.find((one) => one.code === code);
    assert.isDefined(memberFound, code);
    return memberFound as DimensionDetail['members'][number];
  };
  const totals = async () => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const { units, revenue, cost } = body.plan.actuals;
    return [units, revenue, cost].map((column) => column.reduce((sum, value) => sum + value, 0));
  };

  it('say how much of the sales each member has, groups with what lies below', async () => {
    const product = await dimension('product');
    const group = product.members.find(({ code }) => code === 'carafes');
    const below = product.members.filter(({ parent }) => parent === group?.id);
    assert.equal(
      group?.lines,
      below.reduce((sum, { lines }) => sum + lines, 0),
    );
    assert.isAbove(group?.lines ?? 0, 1000);
  });

  it('add, rename, move, and take back', async () => {
    const carafes = await member('product', 'carafes');
    const added = await sample.planner.send<{ id: number }>(
      'POST',
      `${SAMPLE}/dimensions/product/members`,
      {
        code: 'carafe-fjord',
        name: 'Fjord carafe',
        parent: carafes.id,
      },
    );
    assert.equal(added.status, 201);
    const path = `${SAMPLE}/dimensions/product/members/${added.body.id}`;
    const taps = await member('product', 'tap-units');
    const moved = await sample.planner.send('PATCH', path, {
      name: 'Fjord',
      parent: taps.id,
      validFrom: '2026-01-01',
      account: '4000',
    });
    assert.equal(moved.status, 204);
    assert.deepInclude(await member('product', 'carafe-fjord'), {
      name: 'Fjord',
      parent: taps.id,
      validFrom: '2026-01-01',
      account: '4000',
    });
    const undone = await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal(undone.status, 200, undone.text);
    assert.deepInclude(await member('product', 'carafe-fjord'), {
      name: 'Fjord carafe',
      parent: carafes.id,
      account: null,
    });
    assert.equal((await sample.planner.send('DELETE', path)).status, 204);
    assert.isFalse((await dimension('product')).members.some(({ id }) => id === added.body.id));
  });

  it('say what came in place of what, by hand and by file, and show both as a pair', async () => {
    const dew = await member('product', 'carafe-dew');
    const rill = await member('product', 'carafe-rill');
    const duo = await member('product', 'tap-duo');
    assert.equal(rill.replaces, dew.id, 'the sample says so');
    const at = (id: number): string => `${SAMPLE}/dimensions/product/members/${id}`;
    const bad = [
      [duo.id, duo.id, 'cannot replace itself'],
      [duo.id, dew.id, 'Rill glass carafe replaces Dew carafe already'],
      [dew.id, rill.id, 'in turn'],
      [duo.id, (await member('channel', 'web')).id, 'no member of this dimension'],
    ] as const;
    for (const [id, replaces, why] of bad) {
      const refused = await sample.planner.send('PATCH', at(id), { replaces });
      assert.equal(refused.status, 400);
      assert.include(refused.problem?.detail, why);
    }
    const why = async () => {
      const asked = 'rows=channel,product&from=2026-04&to=2026-09&against=lastYear';
      const { body } = await sample.planner.send<ComparisonAnswer>(
        'GET',
        `${SAMPLE}/comparison?${asked}`,
      );
      return body.bridge;
    };
    const told = await why();
    assert.equal(told?.pairs[0]?.name, 'Rill glass carafe for Dew carafe');
    const path = `${SAMPLE}/dimensions/product/file`;
    const bring = (text: string) =>
      sample.planner.send<MembersFile>('POST', `${path}?apply=yes`, text);
    assert.deepInclude((await bring('code,replaces\ncarafe-rill,\n')).body, { changed: 1 });
    const untold = await why();
    assert.deepEqual(untold?.pairs, []);
    assert.closeTo(
      (untold?.new ?? 0) + (untold?.discontinued ?? 0) + (untold?.volume ?? 0) + (untold?.mix ?? 0),
      (told?.new ?? 0) +
        (told?.discontinued ?? 0) +
        (told?.volume ?? 0) +
        (told?.mix ?? 0) +
        (told?.replaced ?? 0) +
        ((told?.price ?? 0) - (untold?.price ?? 0)),
      0.01,
    );
    assert.equal((await bring('code,replaces\ncarafe-rill,nothing\n')).status, 400);
    assert.deepInclude((await bring('code,replaces\ncarafe-rill,carafe-dew\n')).body, {
      changed: 1,
    });
    assert.deepEqual(await why(), told);
  });

  it('refuse what cannot be, and say why', async () => {
    const carafes = await member('product', 'carafes');
    const brook = await member('product', 'carafe-brook');
    const members = `${SAMPLE}/dimensions/product/members`;
    const cases: [string, string, object, number, string][] = [
      ['POST', members, { code: 'carafes', name: 'Again' }, 409, 'already'],
      ['POST', members, { code: 'no code', name: 'x' }, 400, 'code'],
      [
        'POST',
        members,
        { code: 'below', name: 'x', parent: brook.id },
        409,
        'nothing can be below it',
      ],
      ['PATCH', `${members}/${carafes.id}`, { parent: carafes.id }, 400, 'below itself'],
      [
        'PATCH',
        `${members}/${brook.id}`,
        { validFrom: '2026-02-01', validTo: '2026-01-01' },
        400,
        'end before',
      ],
      ['PATCH', `${members}/999999`, { name: 'x' }, 404, 'no such member'],
      ['POST', `${members}/${brook.id}/merge`, { into: brook.id }, 400, 'into itself'],
      ['POST', `${members}/${brook.id}/merge`, { into: carafes.id }, 400, 'members below'],
      ['POST', `${SAMPLE}/dimensions/nothing/members`, { code: 'a', name: 'b' }, 404, 'dimension'],
    ];
    for (const [method, path, body, status, message] of cases) {
      const answer = await sample.planner.send(method, path, body);
      assert.equal(answer.status, status, `${path} ${JSON.stringify(body)}: ${answer.text}`);
      assert.include(answer.problem?.detail, message);
    }
    const used = await sample.planner.send('DELETE', `${members}/${brook.id}`);
    assert.equal(used.status, 409);
    assert.include(used.problem?.detail, 'sales lines');
  });

  it('merge a member into another one: all of it moves, and no total changes', async () => {
    const before = await totals();
    const from = await member('product', 'carafe-dew');
    const into = await member('product', 'carafe-brook');
    const path = `${SAMPLE}/dimensions/product/members/${from.id}/merge`;
    const shown = await sample.planner.send<MergeEffect>('GET', `${path}?into=${into.id}`);
    assert.equal(shown.body.lines, from.lines);
    const done = await sample.planner.send<MergeEffect>('POST', path, { into: into.id });
    assert.equal(done.status, 200, done.text);
    assert.deepEqual(done.body, shown.body);
    assert.equal((await member('product', 'carafe-brook')).lines, from.lines + into.lines);
    assert.isFalse((await dimension('product')).members.some(({ id }) => id === from.id));
    const after = await totals();
    assert.closeTo(after[0] ?? 0, before[0] ?? 1, 1e-6);
    assert.deepEqual(after.slice(1), before.slice(1));
    assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);
    // The plan still holds together: every room reads it.
    for (const room of ['table?rows=product&columns=time&from=2026-04&to=2027-03', 'journal']) {
      assert.equal((await sample.planner.send('GET', `${SAMPLE}/${room}`)).status, 200, room);
    }
  });

  it('a dimension of one’s own: everything belongs to its first member', async () => {
    const before = await totals();
    const made = await sample.planner.send('POST', `${SAMPLE}/dimensions`, {
      code: 'brand',
      name: 'Brand',
      first: { code: 'own', name: 'Own brand' },
    });
    assert.equal(made.status, 201, made.text);
    assert.deepEqual(await totals(), before);
    const ownBrand = await member('brand', 'own');
    assert.isAbove(ownBrand.lines, 60_000);
    const again = await sample.planner.send('POST', `${SAMPLE}/dimensions`, {
      code: 'brand',
      name: 'Brand',
      first: { code: 'own', name: 'Own brand' },
    });
    assert.equal(again.status, 409);
  });

  it('a customer’s group holds from a day: files follow it, and history is read as then or as now', async () => {
    const path = `${SAMPLE}/dimensions/group/assignments`;
    const assign = (member: string, from: string) =>
      sample.planner.send('PUT', path, { assignments: [{ customer: 'K-77', from, member }] });
    assert.equal((await assign('cafes', '2026-01-01')).status, 200);
    assert.equal((await assign('offices', '2026-09-01')).status, 200);
    const header =
      'date,channel,product,region,brand,quantity,net amount,document,line number,customer';
    const rows = [
      '2026-08-10,trade,sink-base,coast,own,1,100.00,A-1,1,K-77',
      '2026-09-10,trade,sink-base,coast,own,1,200.00,A-2,1,K-77',
      '2026-09-11,trade,sink-base,coast,own,1,400.00,A-3,1,K-78',
    ];
    const preview = await sample.planner.send<ImportPreview>(
      'POST',
      `${SAMPLE}/imports?fileName=assigned.csv`,
      [header, ...rows].join('\n'),
    );
    assert.equal(preview.status, 201, preview.text);
    assert.deepEqual([preview.body.good, preview.body.faulty], [2, 1]);
    assert.include(preview.body.problems[0]?.message, 'Customer group is missing');
    await sample.planner.send('POST', `${SAMPLE}/imports/${preview.body.id}/apply`);
    const read = async (assigned: string) => {
      const { body } = await sample.planner.send<Summary>(
        'GET',
        `${SAMPLE}/summary?rows=group&columns=none&from=2026-08&to=2026-09&assigned=${assigned}`,
      );
      const of = (label: string) =>
        body.rows.find((row) => row.label === label)?.total.revenue ?? 0;
      return { cafes: of('Cafés'), offices: of('Offices') };
    };
    const then = await read('then');
    const now = await read('now');
    assert.closeTo(then.cafes - now.cafes, 100, 1e-6);
    assert.closeTo(now.offices - then.offices, 100, 1e-6);
    const unknown = await assign('nobody', '2026-01-01');
    assert.equal(unknown.status, 400);
  });

  describe('told apart by a rule', () => {
    const told = (body: object, apply = 'yes') =>
      sample.planner.send<ToldApart>(
        'POST',
        `${SAMPLE}/dimensions/brand/tell-apart?apply=${apply}`,
        body,
      );
    const summed = async (rows: string, scope = '') => {
      const { body } = await sample.planner.send<Summary>(
        'GET',
        `${SAMPLE}/summary?rows=${rows}&columns=none&from=2023-04&to=2026-10${scope}`,
      );
      return new Map(body.rows.map(({ label, total }) => [label, total.revenue]));
    };
    const heading = async (): Promise<number> => {
      const { body } = await sample.planner.send<Table>(
        'GET',
        `${SAMPLE}/table?rows=channel&from=2026-04&to=2027-03`,
      );
      return body.total.total.value ?? 0;
    };

    it('by products: their sales, forecast and plans go with them, and no total changes', async () => {
      for (const [code, name] of [
        ['partner', 'Partner brand'],
        ['house', 'House brand'],
      ]) {
        const added = await sample.planner.send('POST', `${SAMPLE}/dimensions/brand/members`, {
          code,
          name,
        });
        assert.equal(added.status, 201, added.text);
      }
      const [before, forecast, products] = [
        await totals(),
        await heading(),
        await summed('product'),
      ];
      const rule = {
        by: 'product',
        rules: [
          { member: 'partner', values: ['carafes'] },
          { member: 'house', values: ['carafe-brook'] },
        ],
      };
      const { body: seen } = await told(rule, 'no');
      assert.isAbove(seen.streams, 0);
      assert.deepEqual(await totals(), before, 'looking moves nothing');
      const done = await told(rule);
      assert.equal(done.status, 200, done.text);
      assert.deepEqual(done.body, seen);
      assert.deepEqual(
        (await totals()).map((sum) => Math.round(sum * 1000)),
        before.map((sum) => Math.round(sum * 1000)),
      );
      assert.closeTo(await heading(), forecast, 1e-4);
      assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);
      const brands = await summed('brand');
      const brook = products.get('Brook carafe') ?? NaN;
      assert.closeTo(brands.get('House brand') ?? NaN, brook, 1e-4, 'the nearer member holds');
      const others = (products.get('Carafes') ?? NaN) - brook;
      assert.closeTo(brands.get('Partner brand') ?? NaN, others, 1e-4);

      // A file that does not say the brand follows the rule, or the rest where none names it.
      const file = [
        'date,channel,product,customer group,region,quantity,net amount,document,line number',
        '2026-10-05,web,carafe-brook,households,north,1,30.00,B-1,1',
        '2026-10-05,trade,sink-base,households,north,1,10.00,B-1,2',
      ].join('\n');
      const preview = await sample.planner.send<ImportPreview>(
        'POST',
        `${SAMPLE}/imports?fileName=unbranded.csv`,
        file,
      );
      assert.include(preview.text, 'Brand is missing', 'nothing says the brand of other products');
      assert.equal((await told({ ...rule, rest: 'own' })).body.lines, 0);
      const again = await sample.planner.send<ImportPreview>(
        'POST',
        `${SAMPLE}/imports?fileName=unbranded2.csv`,
        file,
      );
      assert.equal(again.body.good, 2, again.text);
      await sample.planner.send('POST', `${SAMPLE}/imports/${again.body.id}/apply`);
      assert.closeTo((await summed('brand')).get('House brand') ?? NaN, brook + 30, 1e-4);
    });

    it('by customers: their lines go, what is planned stays, and sums are those of the lines', async () => {
      const before = await totals();
      const { body } = await sample.planner.send<SalesLines>(
        'GET',
        `${SAMPLE}/sales-lines?scope=&from=2026-06&to=2026-09&limit=500`,
      );
      const customer = body.lines.find((line) => line.customer !== null)?.customer ?? '';
      const done = await told({
        by: 'customer',
        rules: [{ member: 'partner', values: [customer] }],
      });
      assert.equal(done.status, 200, done.text);
      assert.isAbove(done.body.lines, 0);
      assert.equal(done.body.streams, 0);
      assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);
      const after = await totals();
      after.forEach((sum, at) => assert.closeTo(sum, before[at] ?? NaN, 1e-3));
      const nothing = await told({
        by: 'customer',
        rules: [{ member: 'partner', values: [customer, "O'Hara"] }],
      });
      assert.equal(nothing.body.lines, 0, 'they are there already');
      assert.deepEqual(nothing.body.withoutSales, ["O'Hara"], 'nobody knows that one');
    });

    it('refuses what cannot be, with its place', async () => {
      const one = { member: 'partner', values: ['carafes'] };
      for (const [body, message] of [
        [{ by: 'brand', rules: [one] }, 'by itself'],
        [{ by: 'colour', rules: [one] }, 'no dimension "colour"'],
        [{ by: 'product', rules: [{ ...one, member: 'nobody' }] }, 'no member "nobody"'],
        [{ by: 'product', rules: [{ ...one, values: ['soap'] }] }, 'no member "soap"'],
        [{ by: 'product', rules: [one, { ...one, member: 'own' }] }, 'for two members'],
        [{ by: 'product', rules: [] }, 'at least one member'],
        [{ by: 'product', rules: [one], rest: 'nobody' }, 'no member "nobody"'],
      ] as const) {
        const refused = await told(body);
        assert.equal(refused.status, 400, refused.text);
        assert.include(refused.text, message.replaceAll('"', '\\"'));
      }
      const path = `${SAMPLE}/dimensions/colour/tell-apart?apply=yes`;
      const strange = await sample.planner.send('POST', path, { by: 'product', rules: [one] });
      assert.equal(strange.status, 404);
      const reader = await sample.served.reader();
      const brand = `${SAMPLE}/dimensions/brand/tell-apart`;
      const read = await reader.send('POST', brand, { by: 'product', rules: [one] });
      assert.equal(read.status, 403);
    });
  });

  it('a member is only named while it is valid', async () => {
    const tap = await member('product', 'tap-duo');
    await sample.planner.send('PATCH', `${SAMPLE}/dimensions/product/members/${tap.id}`, {
      validTo: '2026-09-30',
    });
    const header =
      'date,channel,product,customer group,region,brand,quantity,net amount,cost,document,line number';
    const row = (date: string) => `${date},web,tap-duo,households,north,own,1,99.88,60,V-${date},1`;
    const { body } = await sample.planner.send<ImportPreview>(
      'POST',
      `${SAMPLE}/imports?fileName=valid.csv`,
      [header, row('2026-09-30'), row('2026-10-01')].join('\n'),
    );
    assert.deepEqual([body.good, body.faulty], [1, 1]);
    assert.include(body.problems[0]?.message, 'Tap unit Duo was valid to 2026-09-30');
  });

  it('members by file: looked at first, then all or none', async () => {
    const path = `${SAMPLE}/dimensions/channel/file`;
    const text = [
      'code;name;parent;valid from',
      'market-eu;Market places, EU;markets;01.04.2026',
      'markets;Market places;;',
      'web;Own web shop;;',
      'stores;Home-goods stores;;',
    ].join('\n');
    const looked = await sample.planner.send<MembersFile>('POST', path, text);
    assert.deepEqual(looked.body, { added: 2, changed: 1, same: 1, problems: [] });
    assert.isFalse((await dimension('channel')).members.some(({ code }) => code === 'markets'));
    assert.equal((await sample.planner.send('POST', `${path}?apply=yes`, text)).status, 200);
    const markets = await member('channel', 'markets');
    assert.deepInclude(await member('channel', 'market-eu'), {
      parent: markets.id,
      validFrom: '2026-04-01',
    });
    assert.equal((await member('channel', 'web')).name, 'Own web shop');

    const wrong = await sample.planner.send(
      'POST',
      `${path}?apply=yes`,
      'code,parent\nnew-one,nowhere\n',
    );
    assert.equal(wrong.status, 400);
    assert.include(wrong.problem?.detail, '"nowhere" is no member');
    assert.isFalse((await dimension('channel')).members.some(({ code }) => code === 'new-one'));
  });
});
