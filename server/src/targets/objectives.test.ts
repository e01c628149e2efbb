import type {
  TargetNode,
  TargetProposal,
  TargetsFile,
  TargetTree,
  WorkspacePlan,
} from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

const sum = (values: readonly number[]): number => values.reduce((all, value) => all + value, 0);

describe('objectives', () => {
  const sample = withSample();
  const at = (rest = '', year = 2027): string => `${SAMPLE}/targets/${year}${rest}`;
  const send = <T>(method: string, path: string, body?: object) =>
    sample.planner.send<T>(method, path, body);
  const tree = async (objective?: number, year = 2027): Promise<TargetTree> =>
    (
      await send<TargetTree>(
        'GET',
        at(objective === undefined ? '' : `?objective=${objective}`, year),
      )
    ).body;
  const undo = () => send('POST', `${SAMPLE}/undo`);
  const named = (of: TargetTree, name: string): TargetNode => {
    const node = of.nodes.find((one) => one.name === name);
    assert.exists(node, name);
    return node;
  };
  const below = (of: TargetTree, node: TargetNode): TargetNode[] =>
    of.nodes.filter(({ parent }) => parent === node.id);
  const addObjective = (body: object, year = 2027) =>
    send<{ id: number; tree: TargetTree }>('POST', at('/objectives', year), body);

  it('stand side by side, of units, margin, subscribers and scores, like another one', async () => {
    const main = await tree();
    assert.deepInclude(main.objective, { name: 'Revenue', measure: 'revenue' });
    const units = await addObjective({
      ...{ name: 'Pieces', measure: 'units', like: main.objective?.id },
      start: { kind: 'lastYear', uplift: 10 },
    });
    assert.equal(units.status, 201, units.text);
    const { tree: made } = units.body;
    assert.equal(made.wholes, 1);
    assert.equal(made.nodes.length, main.nodes.length);
    assert.equal(made.nodes[0]?.amount, Math.round((made.nodes[0]?.lastYear ?? 0) * 1.1));
    const { rows } = await sample.served.connections.pool.query<{ units: string }>(
      `select sum(quantity) as units from sales_line where date between '2025-04-01' and '2026-03-31'`,
    );
    assert.equal(made.nodes[0]?.lastYear, Math.round(Number(rows[0]?.units)));
    for (const node of made.nodes.filter(({ others }) => others)) {
      assert.equal(
        sum(below(made, node).map(({ actual }) => actual)) + (node.others?.actual ?? 0),
        node.actual,
        node.name,
      );
    }
    // The main one is what it was, and is what is told where none is named.
    const after = await tree();
    assert.equal(after.objective?.id, main.objective?.id);
    assert.deepEqual(
      after.objectives.map(({ name }) => name),
      [...main.objectives.map(({ name }) => name), 'Pieces'],
    );
    const subscribers = await addObjective({
      ...{ name: 'Subscribers', measure: 'newSubscribers' },
      start: { kind: 'forecast', uplift: 0 },
    });
    const [top] = subscribers.body.tree.nodes;
    assert.isAbove(top?.lastYear ?? 0, 0, 'by their records');
    assert.isAbove(top?.outlook ?? 0, top?.actual ?? 0);
    assert.isNotNull(top?.months);
    const recurring = await addObjective({
      ...{ name: 'Recurring', measure: 'recurringRevenue' },
      start: { kind: 'forecast', uplift: 5 },
    });
    const level = recurring.body.tree.nodes[0];
    assert.isAbove(level?.outlook ?? 0, 0);
    assert.isBelow(level?.lastYear ?? 0, sum(main.nodes.slice(0, 1).map((n) => n.lastYear)) / 12);
    assert.isNull(level?.months, 'a level is not phased');
    const score = await addObjective({
      ...{ name: 'Service', measure: 'score', like: main.objective?.id },
      start: { kind: 'amount', amount: 850 },
    });
    const scores = score.body.tree;
    assert.isNull(scores.nodes[0]?.unassigned ?? null);
    const percent = await send('PATCH', at(`/nodes/${scores.nodes[1]?.id}`), {
      part: { kind: 'percent', percent: 10 },
    });
    assert.match(percent.problem?.detail ?? '', /does not add up/);
    const divided = await send('POST', at(`/nodes/${scores.nodes[0]?.id}/proposal`), {
      ...{ kind: 'divide', mix: { equal: 1 } },
    });
    assert.match(divided.problem?.detail ?? '', /does not add up/);
    const nobodyKnows = await addObjective({
      ...{ name: 'Other', measure: 'score' },
      start: { kind: 'lastYear', uplift: 0 },
    });
    assert.equal(nobodyKnows.status, 400);
    for (let acts = 0; acts < 4; acts += 1) await undo();
    assert.deepEqual((await tree()).objectives, main.objectives);
  });

  it('know who leaves, and who hands over, in all objectives of a year at once', async () => {
    const main = await tree();
    const other = await addObjective({
      ...{ name: 'Pieces of all', measure: 'units', like: main.objective?.id },
      start: { kind: 'lastYear', uplift: 0 },
    });
    const objective = other.body.id;
    const untilOf = async (name: string): Promise<(string | null)[]> => [
      named(await tree(), name).until,
      named(await tree(objective), name).until,
    ];
    const leave = async (name: string, until: string): Promise<void> => {
      const { id } = named(await tree(), name);
      const { status, text } = await send('PATCH', at(`/nodes/${id}`), { until });
      assert.equal(status, 200, text);
    };
    await leave('Lene Maurits', '2027-01');
    assert.deepEqual(await untilOf('Lene Maurits'), ['2027-01', '2027-01']);
    await undo();
    assert.deepEqual(await untilOf('Lene Maurits'), [null, null]);
    // Where the other objective says something else of the person, that stays.
    const { id } = named(await tree(objective), 'Piet Ansgar');
    await send('PATCH', at(`/nodes/${id}`), { from: '2026-06' });
    assert.equal(named(await tree(), 'Piet Ansgar').from, '2026-06');
    await send('PATCH', at(`/nodes/${named(await tree(), 'Piet Ansgar').id}`), { from: null });
    assert.isNull(named(await tree(objective), 'Piet Ansgar').from);
    const ivo = named(await tree(), 'Ivo Tarnow');
    const handed = await send('POST', at(`/nodes/${ivo.id}/division`), {
      division: { kind: 'handOver', until: '2026-10', mix: { equal: 1 } },
    });
    assert.equal(handed.status, 200, handed.text);
    assert.deepEqual(await untilOf('Ivo Tarnow'), ['2026-10', '2026-10']);
    await undo();
    assert.deepEqual(await untilOf('Ivo Tarnow'), [null, null]);
    assert.equal((await send('DELETE', at(`/objectives/${objective}`))).status, 200);
  });

  it('are renamed, refused twice, and removed with everything below, and all of it comes back', async () => {
    const main = await tree();
    const start = { kind: 'amount', amount: 5_000 };
    const made = await addObjective({ name: 'Next', measure: 'margin', start }, 2029);
    const { id } = made.body;
    assert.equal(made.body.tree.nodes[0]?.amount, 5_000);
    const twice = await addObjective({ name: 'next', measure: 'revenue', start }, 2029);
    assert.equal(twice.status, 409);
    await send('PATCH', at(`/objectives/${id}`, 2029), { name: 'Later' });
    assert.equal((await tree(id, 2029)).objective?.name, 'Later');
    assert.equal((await send('DELETE', at(`/objectives/${id}`))).status, 404, 'not of this year');
    assert.equal((await send('DELETE', at(`/objectives/${id}`, 2029))).status, 200);
    await undo();
    await undo();
    await undo();
    assert.isEmpty((await tree(undefined, 2029)).objectives);
    const gone = await send<TargetTree>('DELETE', at(`/objectives/${main.objective?.id}`));
    assert.notEqual(gone.body.objective?.id, main.objective?.id);
    await undo();
    const back = await tree();
    assert.deepEqual(
      back.nodes.map(({ typed: _, ...node }) => node),
      main.nodes.map(({ typed: _, ...node }) => node),
    );
    const unknown = await send('GET', at('?objective=99999'));
    assert.equal(unknown.status, 404);
  });

  it('are divided by a basis as it was proposed, with locks and a cushion, in one act', async () => {
    const main = await tree();
    const coast = named(main, 'Coast');
    const [locked, ...free] = below(main, coast);
    await send('PATCH', at(`/nodes/${locked?.id}`), { locked: true });
    await send('PATCH', at(`/nodes/${coast.id}`), { cushion: 4 });
    const division = { kind: 'divide', mix: { lastYear: 60, forecast: 40 }, withCushion: true };
    const proposal = await send<TargetProposal>(
      'POST',
      at(`/nodes/${coast.id}/proposal`),
      division,
    );
    const { parts } = proposal.body;
    const assignable = Math.round(coast.amount * 1.04);
    assert.equal(sum(parts.map(({ then }) => then)), assignable);
    assert.deepInclude(
      parts.find(({ node }) => node === locked?.id),
      { then: locked?.amount, locked: true },
    );
    assert.deepEqual(
      (await tree()).nodes.map(({ amount }) => amount),
      main.nodes.map((n) => n.amount),
    );
    const taken = await send<TargetTree>('POST', at(`/nodes/${coast.id}/division`), { division });
    for (const { node, then } of parts) {
      assert.equal(taken.body.nodes.find(({ id }) => id === node)?.amount, then);
    }
    const now = named(taken.body, 'Coast');
    assert.deepInclude(now, { unassigned: 0, overAssigned: 0 });
    assert.equal(now.cushionUsed, assignable - coast.amount);
    await undo();
    assert.deepEqual(
      below(await tree(), coast).map(({ amount }) => amount),
      below(main, coast).map(({ amount }) => amount),
    );
    // Locks beyond the target, and nothing to divide by.
    await send('PATCH', at(`/nodes/${locked?.id}`), {
      part: { kind: 'amount', amount: coast.amount * 2 },
    });
    const beyond = await send('POST', at(`/nodes/${coast.id}/proposal`), division);
    assert.equal(beyond.status, 400);
    assert.match(beyond.problem?.detail ?? '', /locked/);
    const person = free.at(-1);
    const leaf = await send('POST', at(`/nodes/${person?.id}/proposal`), division);
    assert.match(leaf.problem?.detail ?? '', /Nothing lies below/);
    const subscribers = main.objectives.find(({ measure }) => measure === 'newSubscribers');
    const capacity = await send('POST', at(`/nodes/${subscribers?.id}/proposal`), {
      ...{ kind: 'divide', mix: { capacity: 1 } },
    });
    assert.equal(capacity.status, 400, 'nobody said what people can sell');
    await undo();
    await undo();
    await undo();
  });

  it('pass a change at the top down to amounts, and hand over what somebody leaves', async () => {
    const main = await tree();
    const [top] = main.nodes;
    const lakes = named(main, 'Lakes');
    await send('PATCH', at(`/nodes/${lakes.id}`), {
      part: { kind: 'amount', amount: lakes.amount },
    });
    const division = { kind: 'passDown', amount: (top?.amount ?? 0) * 2 };
    const { body } = await send<TargetTree>('POST', at(`/nodes/${top?.id}/division`), { division });
    assert.equal(body.nodes[0]?.amount, (top?.amount ?? 0) * 2);
    assert.approximately(named(body, 'Lakes').amount, lakes.amount * 2, 2);
    await undo();
    await undo();

    const coast = named(main, 'Coast');
    const rosa = named(main, 'Rosa Velden');
    const leaves = { kind: 'handOver', until: '2026-10', mix: { forecast: 1 } };
    const over = await send<TargetTree>('POST', at(`/nodes/${rosa.id}/division`), {
      division: leaves,
    });
    assert.equal(over.status, 200, over.text);
    const gone = named(over.body, 'Rosa Velden');
    assert.equal(gone.until, '2026-10');
    assert.equal(gone.amount, sum(rosa.months?.slice(0, 7) ?? []));
    assert.deepEqual(gone.months?.slice(7), [0, 0, 0, 0, 0], 'nothing after the last month');
    assert.equal(
      sum(below(over.body, coast).map(({ amount }) => amount)),
      sum(below(main, coast).map(({ amount }) => amount)),
    );
    await undo();
    assert.deepInclude(named(await tree(), 'Rosa Velden'), { amount: rosa.amount, until: null });
    const outside = await send('POST', at(`/nodes/${rosa.id}/proposal`), {
      ...leaves,
      until: '2028-10',
    });
    assert.match(outside.problem?.detail ?? '', /not in the fiscal year/);
  });

  it('count a person’s accounts and products once each', async () => {
    const main = await tree();
    const ivo = named(main, 'Ivo Tarnow');
    const { body: plan } = await send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const products = plan.plan.dimensions.find(({ code }) => code === 'product')?.members ?? [];
    const cartridges = products.find(({ name }) => name === 'Cartridges')?.id ?? 0;
    const add = async (body: object) =>
      send<{ tree: TargetTree }>('POST', at('/nodes'), {
        ...{ parent: ivo.id, kind: 'area', part: { kind: 'percent', percent: 10 } },
        ...body,
      });
    await add({ name: 'ST-NO-003', account: 'ST-NO-003' });
    await add({ name: 'Cartridges', scope: [cartridges] });
    const made = await add({ name: 'Rest' });
    assert.equal(made.status, 201, made.text);
    const { tree: now } = made.body;
    const parts = below(now, ivo);
    const { others } = named(now, 'Ivo Tarnow');
    assert.deepInclude(others, { lastYear: 0, actual: 0 });
    assert.isAtMost(Math.abs(others?.outlook ?? 9), 1, 'the rest is what is left');
    const { rows } = await sample.served.connections.pool.query<{
      account: string;
      product: string;
    }>(
      `select sum(net_amount) filter (where customer = 'ST-NO-003') as account,
         sum(net_amount) filter (where customer is distinct from 'ST-NO-003' and m.parent_id = $1) as product
       from sales_line l join combination c on c.id = l.combination_id
         join member m on m.id = any(c.members) and m.dimension_id =
           (select dimension_id from member where id = $1)
       where seller = 'S01' and date between '2026-04-01' and '2026-09-30'`,
      [cartridges],
    );
    assert.equal(parts[0]?.actual, Number(rows[0]?.account));
    assert.equal(parts[1]?.actual, Number(rows[0]?.product));
    assert.equal(sum(parts.map(({ actual }) => actual)), ivo.actual);
    const refused: [object, RegExp][] = [
      [{ name: 'Again', account: 'ST-NO-003' }, /counts some of the same/],
      [{ name: 'Nobody', account: 'no such' }, /No sales line bears the account/],
      [{ name: 'Rest again' }, /counts some of the same/],
    ];
    for (const [body, why] of refused) {
      assert.match((await add(body)).problem?.detail ?? '', why, JSON.stringify(body));
    }
    for (let acts = 0; acts < 3; acts += 1) await undo();
  });

  it('are handed out, questioned, agreed, and changed after that only with a reason', async () => {
    const main = await tree();
    const north = named(main, 'North');
    const ivo = named(main, 'Ivo Tarnow');
    const handed = await send<TargetTree>('POST', at(`/nodes/${north.id}/hand-out`));
    assert.isTrue(below(handed.body, north).every(({ state }) => state === 'handedOut'));
    const change = (node: TargetNode, body: object) =>
      send<TargetTree>('PATCH', at(`/nodes/${node.id}`), body);
    assert.equal((await change(ivo, { state: 'questioned' })).status, 400, 'a question has words');
    const asked = await change(ivo, { state: 'questioned', comment: 'Why a third more?' });
    assert.deepInclude(named(asked.body, 'Ivo Tarnow'), { comment: 'Why a third more?' });
    await change(ivo, { state: 'agreed', comment: '' });
    // Also a change above it that it follows by its percent.
    const part = { kind: 'percent', percent: 35 };
    const refused = await change(north, { part });
    assert.equal(refused.status, 409);
    assert.deepEqual(refused.problem?.errors?.[0]?.path, 'reason');
    assert.match(refused.problem?.detail ?? '', /Ivo Tarnow is agreed/);
    assert.equal(named(await tree(), 'North').amount, north.amount);
    const taken = await change(north, { part, reason: 'the web shop lost a region' });
    assert.deepInclude(named(taken.body, 'Ivo Tarnow'), {
      ...{ state: 'handedOut', comment: 'the web shop lost a region' },
    });
    const { body } = await send<{ what: string }[]>('GET', `${SAMPLE}/journal?room=targets`);
    assert.include(body[0]?.what, 'the web shop lost a region');
    for (let acts = 0; acts < 4; acts += 1) await undo();
  });

  it('move people, phase by hand and by when somebody is there, and know what they can sell', async () => {
    const main = await tree();
    const ivo = named(main, 'Ivo Tarnow');
    const change = async (node: TargetNode, body: object) =>
      send<TargetTree>('PATCH', at(`/nodes/${node.id}`), body);
    const joined = await change(ivo, { from: '2026-07', full: 1_000_000, ramp: [0.25, 0.5] });
    const now = named(joined.body, 'Ivo Tarnow');
    assert.deepEqual(now.months?.slice(0, 3), [0, 0, 0]);
    assert.equal(sum(now.months ?? []), ivo.amount);
    assert.equal(now.capacity, 7_750_000);
    const others = (named(main, 'North').capacity ?? 0) - (ivo.capacity ?? 0);
    assert.equal(named(joined.body, 'North').capacity, others + 7_750_000);
    const typed = await change(ivo, { months: [...Array.from({ length: 11 }, () => 0), 3] });
    assert.deepInclude(named(typed.body, 'Ivo Tarnow'), { due: 0, monthsTyped: true });
    const coast = named(main, 'Coast');
    const outside = await change(ivo, { parent: coast.id });
    assert.match(outside.problem?.detail ?? '', /outside Coast/);
    const circle = await change(named(main, 'North'), { parent: ivo.id });
    assert.match(circle.problem?.detail ?? '', /cannot be below what is below it/);
    const before = await change(ivo, { until: '2026-05' });
    assert.match(before.problem?.detail ?? '', /before the first month/);
    const newcomer = {
      ...{ parent: coast.id, name: 'Newcomer', kind: 'person', seller: 'S77' },
      part: { kind: 'amount', amount: 0 },
    };
    assert.equal((await send('POST', at('/nodes'), newcomer)).status, 400);
    const added = await send('POST', at('/nodes'), { ...newcomer, from: '2026-11' });
    assert.equal(added.status, 400, 'S77 in the whole of Coast counts what others do');
    const web = plan(await send<WorkspacePlan>('GET', `${SAMPLE}/plan`));
    const free = await send('POST', at('/nodes'), { ...newcomer, from: '2026-11', scope: [web] });
    assert.equal(free.status, 400, 'the web shop of Coast is an area of its own');
    await undo();
    await undo();
  });

  it('go out as a file and come back as they were, or changed, or not at all', async () => {
    const main = await tree();
    const address = (apply: string) => `${at('/file')}?apply=${apply}`;
    for (const format of ['csv', 'xlsx']) {
      const saved = await sample.planner.readFile(at(`/file.${format}`));
      const { body } = await sample.planner.sendFile<TargetsFile>(address('no'), saved);
      assert.deepEqual(body, { added: 0, changed: 0, same: main.nodes.length, problems: [] });
    }
    const rows = [
      'name,above,kind,seller,sales of,first month,capacity a month,ramp %,share %,target',
      'Isles,Ondwell,area,,,,,,3.5,',
      'Ivo Tarnow,Ondwell / North,person,S01,region:north; channel:stores,,200000.50,,,2700000',
    ];
    const good = Buffer.from(rows.join('\n'));
    const looked = await sample.planner.sendFile<TargetsFile>(address('no'), good);
    assert.deepInclude(looked.body, { added: 1, changed: 1, problems: [] }, looked.text);
    assert.lengthOf((await tree()).nodes, main.nodes.length, 'only looked at');
    // What is agreed changes by file only with a reason, too.
    const ivo = named(main, 'Ivo Tarnow');
    await send('PATCH', at(`/nodes/${ivo.id}`), { state: 'agreed' });
    assert.equal((await sample.planner.sendFile(address('yes'), good)).status, 409);
    const why = `${address('yes')}&reason=${encodeURIComponent('new year')}`;
    assert.equal((await sample.planner.sendFile(why, good)).status, 200);
    const now = await tree();
    assert.equal(named(now, 'Isles').share, 0.035);
    assert.deepInclude(named(now, 'Ivo Tarnow'), { full: 20_000_050, amount: 270_000_000 });
    await undo();
    await undo();
    assert.lengthOf((await tree()).nodes, main.nodes.length);
    // Of a share and a target in one row the one counts that was changed; both at once are asked about.
    const columns = 'name,above,share %,target';
    for (const [share, target, part] of [
      ['34', '2657950', ivo.part],
      ['34', '2700000', { kind: 'amount', amount: 270_000_000 }],
      ['35', '2657950', { kind: 'percent', percent: 35 }],
      ['35', '2736125', { kind: 'percent', percent: 35 }],
      ['35', '1', undefined],
    ] as const) {
      const row = `Ivo Tarnow,Ondwell / North,${share},${target}`;
      const bytes = Buffer.from([columns, row].join('\n'));
      const { body, status } = await sample.planner.sendFile<TargetsFile>(address('yes'), bytes);
      if (part === undefined) assert.equal(status, 400, row);
      else {
        assert.equal(status, 200, row);
        assert.deepEqual(named(await tree(), 'Ivo Tarnow').part, part, row);
        if (body.changed > 0) await undo();
      }
    }
    const wrong = [
      ...[rows[0], 'Nobody,Ondwell / Nowhere,area,,,,,,5,', 'Twin,Ondwell,person,S01,,,,,5,'],
      ...['Odd,Ondwell,area,,moon:full,,,,5,', 'Much,Ondwell,area,,,,,,much,'],
      ...['Less,Ondwell,area,,,,,,-5,', 'Late,Ondwell,person,S55,,2026-13,,,5,'],
    ].join('\n');
    const refused = await sample.planner.sendFile<TargetsFile>(address('no'), Buffer.from(wrong));
    assert.deepEqual(
      refused.body.problems.map(({ row }) => row).sort(),
      [2, 3, 4, 5, 6, 7],
      refused.text,
    );
    const nothing = await sample.planner.sendFile(address('yes'), Buffer.from(wrong));
    assert.equal(nothing.status, 400);
    assert.lengthOf((await tree()).nodes, main.nodes.length);
    assert.equal((await sample.planner.sendFile(address('no'), Buffer.from(''))).status, 400);
  });

  const plan = ({ body }: { body: WorkspacePlan }): number =>
    body.plan.dimensions
      .find(({ code }) => code === 'channel')
      ?.members.find(({ code }) => code === 'web')?.id ?? 0;
});
