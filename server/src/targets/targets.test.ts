import type { SalesLines, TargetNode, TargetTree, WorkspacePlan } from '@dravex/contract';
import { sharedBetween } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('targets', () => {
  const sample = withSample();

  const at = (year: number, rest = ''): string => `${SAMPLE}/targets/${year}${rest}`;
  const tree = async (year: number): Promise<TargetTree> =>
    (await sample.planner.send<TargetTree>('GET', at(year))).body;

  it('of the sample add up at every level, to the cent', async () => {
    const { nodes } = await tree(2027);
    assert.isAbove(nodes.length, 15);
    for (const node of nodes.filter(({ unassigned }) => unassigned !== null)) {
      const parts = nodes.filter(({ parent }) => parent === node.id);
      const sum = parts.reduce((all, { amount }) => all + amount, 0);
      assert.equal(sum + (node.unassigned ?? 0) - (node.overAssigned ?? 0), node.amount, node.name);
      for (const code of ['lastYear', 'actual', 'outlook'] as const) {
        const sold = parts.reduce((all, part) => all + part[code], node.others?.[code] ?? 0);
        assert.equal(sold, node[code], `${node.name}, ${code}`);
      }
    }
  });

  it('narrow the scope of the node above, and end the forecast of who left', async () => {
    const { nodes } = await tree(2027);
    const karel = nodes.find(({ seller }) => seller === 'S05');
    assert.deepInclude(karel, { until: '2026-07', outlook: karel?.actual });
    const coast = nodes.find(({ id }) => id === karel?.parent);
    assert.isAbove(
      coast?.others?.outlook ?? 0,
      coast?.others?.actual ?? 0,
      'nobody sells there now',
    );
    // A part below a person counts what that person sells of it, and no more.
    const { body: plan } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const product = plan.plan.dimensions.find(({ code }) => code === 'product');
    const carafes = product?.members.find(({ name }) => name === 'Carafes')?.id ?? 0;
    const ivo = nodes.find(({ seller }) => seller === 'S01');
    const added = await sample.planner.send<{ id: number; tree: TargetTree }>(
      'POST',
      at(2027, '/nodes'),
      {
        parent: ivo?.id,
        name: 'Carafes',
        kind: 'area',
        scope: [carafes],
        part: { kind: 'percent', percent: 10 },
      },
    );
    assert.equal(added.status, 201, added.text);
    const part = added.body.tree.nodes.find(({ id }) => id === added.body.id);
    const { rows } = await sample.served.connections.pool.query<{ sold: string }>(
      `select sum(l.net_amount) as sold from sales_line l
         join combination c on c.id = l.combination_id join member m on m.id = any(c.members)
       where l.seller = 'S01' and m.parent_id = $1 and l.date between '2026-04-01' and '2026-09-30'`,
      [carafes],
    );
    assert.equal(part?.actual, Number(rows[0]?.sold));
    assert.isBelow(part?.actual ?? 0, ivo?.actual ?? 0);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
  });

  it('are changed when somebody leaves, and back', async () => {
    const ivo = (await tree(2027)).nodes.find(({ seller }) => seller === 'S01');
    const set = (until: string | null) =>
      sample.planner.send<TargetTree>('PATCH', at(2027, `/nodes/${ivo?.id}`), { until });
    const { body } = await set('2026-10');
    const leaves = body.nodes.find(({ id }) => id === ivo?.id);
    assert.equal(leaves?.until, '2026-10');
    assert.isBelow(leaves?.outlook ?? 0, ivo?.outlook ?? 0);
    assert.isAbove(leaves?.outlook ?? 0, ivo?.actual ?? 0);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    const back = (await tree(2027)).nodes.find(({ id }) => id === ivo?.id);
    assert.deepEqual({ ...back, typed: null }, { ...ivo, typed: null });
    assert.equal((await set('October')).status, 400);
  });

  it('count a sales line for the seller whose code it bears', async () => {
    const { nodes } = await tree(2027);
    const { rows } = await sample.served.connections.pool.query<{
      seller: string;
      actual: string;
      before: string;
    }>(`
      select seller,
        sum(net_amount) filter (where date >= '2026-04-01') as actual,
        sum(net_amount) filter (where date < '2026-04-01') as before
      from sales_line where seller is not null and date between '2025-04-01' and '2026-09-30' group by 1`);
    const people = nodes.filter(({ seller }) => seller !== null);
    assert.equal(people.length, rows.length);
    for (const node of people) {
      const row = rows.find(({ seller }) => seller === node.seller);
      assert.equal(node.actual, Number(row?.actual), node.name);
      assert.equal(node.lastYear, Number(row?.before), node.name);
    }
  });

  it('begin with an objective and are divided by percent and amount', async () => {
    assert.isEmpty((await tree(2028)).nodes);
    const begun = await sample.planner.send<TargetTree>('PUT', at(2028), { objective: 1_000_001 });
    const [top] = begun.body.nodes;
    assert.deepInclude(top, { name: 'Ondwell', amount: 1_000_001, unassigned: null });
    const add = async (name: string, part: object): Promise<TargetTree> =>
      (
        await sample.planner.send<{ tree: TargetTree }>('POST', at(2028, '/nodes'), {
          parent: top?.id,
          name,
          kind: 'area',
          part,
        })
      ).body.tree;
    await add('North', { kind: 'percent', percent: 33.3 });
    await add('Coast', { kind: 'percent', percent: 33.3 });
    const { nodes } = await add('Rest', { kind: 'amount', amount: 100_000 });
    assert.deepEqual(
      nodes.map(({ amount }) => amount),
      [1_000_001, 333_000, 333_000, 100_000],
    );
    assert.equal(nodes[0]?.unassigned, 234_001);
  });

  it('say when percents add up to 101', async () => {
    const { nodes } = await tree(2027);
    const [top] = nodes;
    const areas = nodes.filter(({ parent }) => parent === top?.id);
    const others = areas
      .slice(1)
      .reduce((sum, { part }) => sum + (part.kind === 'percent' ? part.percent : 0), 0);
    const part = { kind: 'percent', percent: Number((101 - others).toFixed(6)) };
    const { body } = await sample.planner.send<TargetTree>(
      'PATCH',
      at(2027, `/nodes/${areas[0]?.id}`),
      {
        part,
      },
    );
    assert.equal(body.nodes[0]?.percentsBelow, 101);
    assert.equal(body.nodes[0]?.overAssigned, 26_500_000);
    assert.equal(body.nodes[0]?.unassigned, 0);
  });

  it('take several parts as one act, all of them or none, and one undo takes them back', async () => {
    const before = (await tree(2027)).nodes;
    const [top, north, coast] = before as [TargetNode, TargetNode, TargetNode];
    const percent = (value: number) => ({ kind: 'percent', percent: value });
    const put = (parts: object[]) =>
      sample.planner.send<TargetTree>('PUT', at(2027, '/parts'), { parts });
    const partsOf = (nodes: readonly TargetNode[]) => nodes.map(({ part }) => part);

    // One that cannot be leaves the others as they are.
    const refused: [object[], number][] = [
      [
        [
          { node: north.id, part: percent(10) },
          { node: top.id, part: percent(5) },
        ],
        400,
      ],
      [
        [
          { node: north.id, part: percent(10) },
          { node: 99_999, part: percent(5) },
        ],
        404,
      ],
      [
        [
          { node: north.id, part: percent(10) },
          { node: coast.id, part: percent(-5) },
        ],
        400,
      ],
      [[], 400],
    ];
    for (const [parts, status] of refused) assert.equal((await put(parts)).status, status);
    const stale = await put([
      { node: north.id, part: percent(10), saw: north.part },
      { node: coast.id, part: percent(11), saw: percent(99) },
    ]);
    assert.equal(stale.status, 409);
    const [conflict] = stale.problem?.conflicts ?? [];
    assert.equal(conflict?.path, 'parts.1.part');
    assert.equal(conflict?.by, 'Mara Ellingsen');
    assert.deepEqual(partsOf((await tree(2027)).nodes), partsOf(before));

    const { body } = await put([
      { node: north.id, part: percent(10), saw: north.part },
      { node: coast.id, part: { kind: 'amount', amount: 123 }, saw: coast.part },
    ]);
    const changed = body.nodes.filter(({ id }) => id === north.id || id === coast.id);
    assert.deepEqual(partsOf(changed), [percent(10), { kind: 'amount', amount: 123 }]);
    assert.equal(changed[0]?.typed?.by, 'Mara Ellingsen');
    assert.isAtMost(Math.abs(Date.now() - Date.parse(changed[0]?.typed?.at ?? '')), 60_000);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.deepEqual(partsOf((await tree(2027)).nodes), partsOf(before));
  });

  it('count only what is in the books where that is wanted, for sellers and for scopes', async () => {
    const of = async (origin: string): Promise<TargetNode[]> =>
      (await sample.planner.send<TargetTree>('GET', at(2027, `?origin=${origin}`))).body.nodes;
    const before = await of('all');
    const seller = before.find((node) => node.seller !== null)?.seller ?? '';
    // Something that the seller does sell.
    const { rows } = await sample.served.connections.pool.query<{ members: number[] }>(
      `select c.members from sales_line l join combination c on c.id = l.combination_id
       where l.seller = $1 limit 1`,
      [seller],
    );
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const members = Object.fromEntries(
      body.plan.dimensions.map(({ code, members: all }, place) => [
        code,
        all.find(({ id }) => id === rows[0]?.members[place])?.code,
      ]),
    );
    const { status } = await sample.planner.send('POST', `${SAMPLE}/hand-lines`, {
      date: '2026-09-30',
      members,
      quantity: 1,
      netAmount: 12_345,
      seller,
      why: 'sold at the fair',
    });
    assert.equal(status, 201);
    const [all, books] = [await of('all'), await of('books')];
    const moved = all.flatMap(({ actual, name }, place): [number, string][] => {
      const more = actual - (books[place]?.actual ?? 0);
      return more === 0 ? [] : [[more, name]];
    });
    const holder = before.find((node) => node.seller === seller);
    assert.deepInclude(moved, [12_345, before[0]?.name]);
    assert.deepInclude(moved, [12_345, holder?.name]);
    assert.deepEqual(
      books.map(({ actual, lastYear }) => [actual, lastYear]),
      before.map(({ actual, lastYear }) => [actual, lastYear]),
    );
    assert.equal((await sample.planner.send('GET', at(2027, '?origin=none'))).status, 400);
  });

  it('count a sale that two sellers share for both, to the cent', async () => {
    const of = async (): Promise<number[]> => {
      const { nodes } = await tree(2027);
      return ['S01', 'S02'].map((code) => nodes.find(({ seller }) => seller === code)?.actual ?? 0);
    };
    const before = await of();
    // Something that both may sell: whatever S01 sells is in neither of their scopes twice.
    const { rows } = await sample.served.connections.pool.query<{ members: number[] }>(
      `select c.members from sales_line l join combination c on c.id = l.combination_id
       where l.seller = 'S01' limit 1`,
    );
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const members = Object.fromEntries(
      body.plan.dimensions.map(({ code, members: all }, place) => [
        code,
        all.find(({ id }) => id === rows[0]?.members[place])?.code,
      ]),
    );
    const enter = (seller: string) =>
      sample.planner.send('POST', `${SAMPLE}/hand-lines`, {
        ...{ date: '2026-09-30', members, quantity: 1, netAmount: 10_001, seller },
        why: 'sold together',
      });
    assert.equal((await enter('S01 60 + S02 30')).status, 400);
    assert.equal((await enter('S01:62.5% + S02:37.5%')).status, 201);
    const [first] = sharedBetween(10_001, 62.5);
    const after = await of();
    // S02 does not sell in that channel here: it counts for the one whose scope it is in.
    assert.equal((after[0] ?? 0) - (before[0] ?? 0), first);
    const { rows: sums } = await sample.served.connections.pool.query<{
      seller: string;
      net: string;
    }>(
      `select s.seller, sum(s.net_amount) as net from seller_month s join import_batch b
         on b.id = s.batch_id where b.source = 'hand' group by 1 order by 1`,
    );
    assert.deepInclude(sums, { seller: 'S02', net: String(10_001 - first) });
    const { rows: lines } = await sample.served.connections.pool.query<{ differences: number }>(
      `select count(*)::int as differences from seller_month where seller like '%+%'`,
    );
    assert.equal(lines[0]?.differences, 0);
    // Among the lines of each it stands with the part that is theirs, and the lines add up to what counts.
    const shared = 'S01 62.5 + S02 37.5';
    const listed = async (query: string): Promise<SalesLines> =>
      (await sample.planner.send<SalesLines>('GET', `${SAMPLE}/${query}&from=2026-04&to=2026-09`))
        .body;
    const ofLine = ({ lines }: SalesLines) => lines.find(({ seller }) => seller === shared);
    const others = await listed('sales-lines?seller=S02&limit=500&origin=hand');
    assert.deepInclude(ofLine(others), { netAmount: 10_001 - first, quantity: 0.375 });
    const node = (await tree(2027)).nodes.find(({ seller }) => seller === 'S01');
    const own = await listed(`targets/2027/nodes/${node?.id}/sales-lines?limit=1`);
    assert.equal(own.revenue, node?.actual);
    assert.equal(
      ofLine(await listed('sales-lines?limit=500&origin=hand'))?.netAmount ?? 10_001,
      10_001,
    );
  });

  it('refuse what cannot be', async () => {
    const { nodes } = await tree(2027);
    const top = nodes[0] as TargetNode;
    const refused: [string, string, object, number][] = [
      ['PUT', at(2027), { objective: -1 }, 400],
      ['PUT', at(2027), { objective: 0.5 }, 400],
      ['PUT', at(2027), { objective: 0 }, 400],
      ['PATCH', at(2027, `/nodes/${top.id}`), { part: { kind: 'amount', amount: 0 } }, 400],
      [
        'PUT',
        at(2027, '/parts'),
        { parts: [{ node: top.id, part: { kind: 'amount', amount: 0 } }] },
        400,
      ],
      ['PUT', at(99), { objective: 1 }, 400],
      ['PATCH', at(2027, `/nodes/${top.id}`), { part: { kind: 'percent', percent: 5 } }, 400],
      [
        'PATCH',
        at(2027, `/nodes/${nodes[1]?.id}`),
        { part: { kind: 'percent', percent: -5 } },
        400,
      ],
      ['PATCH', at(2027, `/nodes/${nodes[1]?.id}`), {}, 400],
      ['PATCH', at(2027, `/nodes/${top.id}`), { until: '2026-10' }, 400],
      ['PATCH', at(2027, '/nodes/99999'), { name: 'X' }, 404],
      ['DELETE', at(2027, `/nodes/${top.id}`), {}, 409],
      [
        'POST',
        at(2027, '/nodes'),
        { parent: 99_999, name: 'X', kind: 'area', part: { kind: 'amount', amount: 1 } },
        404,
      ],
      [
        'POST',
        at(2027, '/nodes'),
        {
          parent: top.id,
          name: 'X',
          kind: 'area',
          scope: [99_999],
          part: { kind: 'amount', amount: 1 },
        },
        400,
      ],
      ...[{}, { seller: 'S99' }, { seller: 'S01' }, { seller: 'S02', scope: nodes[1]?.scope }].map(
        (more): [string, string, object, number] => [
          'POST',
          at(2027, '/nodes'),
          {
            ...{
              parent: nodes.find(({ name }) => name === 'Coast')?.id,
              name: 'X',
              kind: 'person',
            },
            ...{ part: { kind: 'amount', amount: 1 }, ...more },
          },
          400,
        ],
      ),
    ];
    for (const [method, path, body, status] of refused) {
      const answer = await sample.planner.send(method, path, body);
      assert.equal(
        answer.status,
        status,
        `${method} ${path} ${JSON.stringify(body)}: ${answer.text}`,
      );
      assert.isNotEmpty(answer.problem?.detail);
    }
  });
});
