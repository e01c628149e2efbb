/** What managers, contributors and those without a part may see and do, route by route. */
import {
  sheetOperations,
  type SalesLines,
  type TargetNode,
  type TargetTree,
  type WorkspacePlan,
  type WorkspacePerson,
} from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample, type Visitor } from '../testing/serve.ts';

interface Described {
  paths: Record<string, Record<string, { operationId: string; 'x-access': string }>>;
}

describe('parts of the targets', () => {
  const sample = withSample();
  const YEAR = `${SAMPLE}/targets/2027`;
  const node = (id: number, rest = ''): string => `${YEAR}/nodes/${id}${rest}`;
  const treeFor = async (who: Visitor, query = ''): Promise<TargetTree> => {
    const { status, body, text } = await who.send<TargetTree>('GET', `${YEAR}${query}`);
    assert.equal(status, 200, text);
    return body;
  };
  const named = ({ nodes }: TargetTree, name: string): TargetNode => {
    const found = nodes.find((one) => one.name === name);
    assert.exists(found, name);
    return found;
  };

  let whole: TargetTree;
  let north: TargetNode;
  let coast: TargetNode;
  let manager: Visitor;
  let managerId: number;
  let contributor: Visitor;
  let nobody: Visitor;

  /** Lets somebody in, and gives them parts. */
  async function enter(
    role: string,
    parts: readonly number[],
    called = `${role}${parts.length}`,
  ): Promise<[Visitor, number]> {
    const email = `${called}@ondwell.example`;
    const person = { email, name: `The ${role}`, password: 'long enough 1', role };
    const made = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/people`, person);
    assert.equal(made.status, 201, made.text);
    const given = await sample.planner.send('PATCH', `${SAMPLE}/people/${made.body.id}`, {
      role,
      parts,
    });
    assert.equal(given.status, 204, given.text);
    const visitor = sample.served.visitor();
    await visitor.signIn(email, person.password);
    return [visitor, made.body.id];
  }
  before(async () => {
    whole = await treeFor(sample.planner);
    north = named(whole, 'North');
    coast = named(whole, 'Coast');
    [manager, managerId] = await enter('manager', [north.id]);
    const seller = whole.nodes.find(({ parent, kind }) => parent === north.id && kind === 'person');
    assert.exists(seller);
    [contributor] = await enter('contributor', [seller.id]);
    [nobody] = await enter('manager', []);
  });

  /** What each operation of a part is asked for somebody else's node; a new one has to be added. */
  const asked = (id: number): Readonly<Record<string, [string, string, object?]>> => {
    const part = { kind: 'amount', amount: 1 };
    const division = { kind: 'divide', mix: { equal: 1 } };
    return {
      addTarget: ['POST', `${YEAR}/nodes`, { parent: id, name: 'Mine', kind: 'area', part }],
      changeTarget: ['PATCH', node(id), { part }],
      proposeTargets: ['POST', node(id, '/proposal'), division],
      divideTargets: ['POST', node(id, '/division'), { division }],
      readDeals: ['GET', node(id, '/deals')],
      explainGap: ['GET', node(id, '/gap')],
      listTargetSales: ['GET', node(id, '/sales-lines?from=2026-04&to=2026-09')],
      handOutTargets: ['POST', node(id, '/hand-out'), {}],
      setTargetParts: ['PUT', `${YEAR}/parts`, { parts: [{ node: id, part }] }],
      removeTarget: ['DELETE', node(id), {}],
    };
  };
  /** Operations of a part that name no node; what they answer is looked at below. */
  const WITHOUT_A_NODE = ['readTargets', 'readPlan', 'followNotices'];
  const OF_ONES_OWN = ['undo', 'redo', 'takeBack', 'doAgain'];

  async function routes() {
    const { body } = await sample.served.visitor().send<Described>('GET', '/openapi.json');
    return Object.entries(body.paths).flatMap(([path, methods]) =>
      Object.entries(methods).map(([method, operation]) => ({
        method: method.toUpperCase(),
        path: path
          .replace('{workspaceId}', '1')
          .replace('{fiscalYear}', '2027')
          .replaceAll(/\{\w+\}/g, '1'),
        name: operation.operationId,
        access: operation['x-access'],
      })),
    );
  }

  it('keep everything else shut, every route of it', async () => {
    const shut = (await routes()).filter(({ access }) =>
      ['reads', 'plans', 'owns'].includes(access),
    );
    assert.isAbove(shut.length, 100);
    for (const who of [manager, contributor, nobody]) {
      for (const { method, path, name } of shut) {
        const { status } = await who.send(method, path, method === 'GET' ? undefined : {});
        assert.equal(status, 403, name);
      }
    }
  });

  it('refuse another area’s part by every route that names a node', async () => {
    // Those of sheets are tried in their own test.
    const open = (await routes()).filter(
      ({ access, name }) => access === 'part' && !(name in sheetOperations),
    );
    const tried = asked(coast.id);
    const before = await treeFor(sample.planner);
    for (const { name } of open) {
      if ([...WITHOUT_A_NODE, ...OF_ONES_OWN].includes(name)) continue;
      assert.property(tried, name, 'an operation that is not tried here');
      for (const [who, [method, path, body]] of [manager, contributor, nobody].map(
        (one) => [one, tried[name] ?? ['', '']] as const,
      )) {
        const { status, problem } = await who.send(method, path, body);
        assert.equal(status, 403, `${name}: ${problem?.detail ?? ''}`);
      }
    }
    assert.deepEqual(await treeFor(sample.planner), before);
  });

  it('show a manager the own part, and nothing of what is above or beside', async () => {
    const own = await treeFor(manager);
    const ids = new Set(own.nodes.map(({ id }) => id));
    assert.equal(own.nodes[0]?.id, north.id);
    assert.isTrue(own.nodes.slice(1).every(({ parent }) => parent !== null && ids.has(parent)));
    assert.isFalse(ids.has(coast.id));
    assert.deepInclude(own.nodes[0], { parent: null, level: 0, share: null });
    const { amount, actual, outlook } = north;
    assert.deepInclude(own.nodes[0], { amount, actual, outlook }, 'with the same numbers');
    assert.deepEqual(own.nodes[0]?.part, { kind: 'amount', amount });
    assert.equal(own.objective?.amount, amount);
    const score = whole.objectives.find(({ id }) => id !== whole.objective?.id);
    assert.exists(score);
    assert.equal((await manager.send('GET', `${YEAR}?objective=${score.id}`)).status, 403);
    const none = await treeFor(nobody);
    assert.deepInclude(none, { nodes: [], objectives: [], objective: null });
    const { body } = await manager.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const { plan } = body;
    assert.isAbove(plan.dimensions.length, 0, 'names are needed');
    for (const part of [plan.combinations, plan.streams, plan.assumptions, plan.drivers]) {
      assert.isEmpty(part);
    }
    assert.isEmpty(plan.actuals.revenue);
    assert.isUndefined(plan.overrides);
    assert.isUndefined(plan.facts);
  });

  it('lead to the sales below, of a seller to the own ones', async () => {
    const query = '/sales-lines?from=2026-04&to=2026-09';
    const all = await manager.send<SalesLines>('GET', node(north.id, query));
    assert.equal(all.status, 200, all.text);
    assert.equal(all.body.revenue, north.actual);
    const [own] = (await treeFor(contributor)).nodes;
    assert.exists(own);
    const sold = await contributor.send<SalesLines>('GET', node(own.id, query));
    assert.equal(sold.body.revenue, own.actual);
    assert.isTrue(sold.body.lines.every(({ seller }) => seller?.includes(own.seller ?? '?')));
    assert.equal((await contributor.send('GET', node(north.id, query))).status, 403);
  });

  it('let a manager divide the own part, question it and agree it; not set it', async () => {
    const below = (await treeFor(manager)).nodes.filter(({ parent }) => parent === north.id);
    const [first] = below;
    assert.exists(first);
    const halved = { kind: 'amount', amount: Math.round(first.amount / 2) };
    const changed = await manager.send<TargetTree>('PATCH', node(first.id), { part: halved });
    assert.equal(changed.status, 200, changed.text);
    assert.equal(named(changed.body, first.name).amount, halved.amount);
    assert.equal(changed.body.nodes[0]?.id, north.id, 'the answer is of the own part, too');
    // One act, and one undo of one's own.
    assert.equal((await manager.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.equal(named(await treeFor(manager), first.name).amount, first.amount);
    const more = await manager.send('PATCH', node(north.id), {
      part: { kind: 'amount', amount: 1 },
    });
    assert.equal(more.status, 403, more.text);
    assert.include(more.problem?.detail, 'agree it or question it');
    const away = await manager.send('PATCH', node(first.id), { parent: coast.id });
    assert.equal(away.status, 403, 'nobody is moved out of the part');
    const removed = await manager.send('DELETE', node(north.id), {});
    assert.include([403, 409], removed.status, removed.text);
    for (const change of [{ state: 'questioned', comment: 'Too much' }, { state: 'agreed' }]) {
      const said = await manager.send('PATCH', node(north.id), change);
      assert.equal(said.status, 200, said.text);
    }
    assert.equal(named(await treeFor(sample.planner), 'North').state, 'agreed');
    const [own] = (await treeFor(contributor)).nodes;
    const read = await contributor.send('PATCH', node(own?.id ?? 0), { state: 'agreed' });
    assert.equal(read.status, 403, 'a contributor only reads');
  });

  it('open nothing else: by those who take over, or by whom one adds to a team without a scope', async () => {
    const leaving = { kind: 'handOver', until: '2026-10', mix: { equal: 1 } };
    const [seller] = (await treeFor(contributor)).nodes;
    assert.exists(seller);
    const [alone] = await enter('manager', [seller.id], 'alone');
    const asked = await alone.send('POST', node(seller.id, '/proposal'), leaving);
    assert.equal(asked.status, 403, asked.text);
    // In a tree of its own nobody else counts the seller yet.
    const lone = await sample.planner.send<{ id: number }>('POST', `${YEAR}/objectives`, {
      ...{ name: 'Visitors', measure: 'revenue', start: { kind: 'amount', amount: 1000 } },
    });
    const team = await sample.planner.send<{ id: number }>('POST', `${YEAR}/nodes`, {
      ...{ parent: lone.body.id, name: 'Visitors', kind: 'area' },
      part: { kind: 'percent', percent: 50 },
    });
    assert.equal(team.status, 201, team.text);
    const [lead] = await enter('manager', [team.body.id], 'lead');
    const person = {
      ...{ parent: team.body.id, name: 'Somebody else', kind: 'person', seller: 'S07' },
      part: { kind: 'percent', percent: 50 },
    };
    const more = await lead.send('POST', `${YEAR}/nodes`, person);
    assert.equal(more.status, 403, more.text);
    assert.include(more.problem?.detail, 'no scope of its own');
    assert.equal((await sample.planner.send('POST', `${YEAR}/nodes`, person)).status, 201);
    const gone = `${YEAR}/objectives/${lone.body.id}`;
    assert.equal((await sample.planner.send('DELETE', gone, {})).status, 200);
  });

  it('are taken away with undo, and then what was done before cannot be brought back', async () => {
    const [first] = (await treeFor(manager)).nodes.slice(1);
    await manager.send('PATCH', node(first?.id ?? 0), { locked: true });
    const person = `${SAMPLE}/people/${managerId}`;
    await sample.planner.send('PATCH', person, { role: 'manager', parts: [coast.id] });
    assert.equal((await treeFor(manager)).nodes[0]?.id, coast.id);
    const undone = await manager.send('POST', `${SAMPLE}/undo`);
    assert.equal(undone.status, 403, undone.text);
    assert.isTrue(named(await treeFor(sample.planner), first?.name ?? '').locked);
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.equal((await treeFor(manager)).nodes[0]?.id, north.id);
    assert.equal((await manager.send('POST', `${SAMPLE}/undo`)).status, 200);
    // Another role holds nothing, and what it held comes back with the undo.
    const partsOf = async () =>
      (await sample.planner.send<WorkspacePerson[]>('GET', `${SAMPLE}/people`)).body.find(
        ({ id }) => id === managerId,
      )?.parts;
    await sample.planner.send('PATCH', person, { role: 'reader' });
    assert.deepEqual(await partsOf(), []);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.deepEqual(await partsOf(), [north.id]);
    const wrong = await sample.planner.send('PATCH', person, { role: 'manager', parts: [999_999] });
    assert.equal(wrong.status, 400);
    assert.equal(wrong.problem?.errors?.[0]?.path, 'parts');
  });

  it('bring nothing back of what somebody did while they planned', async () => {
    const [once, id] = await enter('planner', [], 'once');
    const note = async () =>
      (await sample.planner.send<{ note: string }[]>('GET', `${SAMPLE}/versions`)).body[0]?.note;
    const changed = await once.send('PATCH', `${SAMPLE}/versions/1`, { note: 'By a planner' });
    assert.equal(changed.status, 200, changed.text);
    await sample.planner.send('PATCH', `${SAMPLE}/people/${id}`, { role: 'manager', parts: [] });
    const undone = await once.send('POST', `${SAMPLE}/undo`);
    assert.equal(undone.status, 403, undone.text);
    assert.equal(await note(), 'By a planner');
  });

  it('go on in an objective that is made like the one before', async () => {
    const made = await sample.planner.send('POST', `${SAMPLE}/targets/2028/objectives`, {
      ...{ name: 'Revenue', measure: 'revenue', like: whole.objective?.id },
      start: { kind: 'amount', amount: 1_000_000_00 },
    });
    assert.equal(made.status, 201, made.text);
    const { body } = await manager.send<TargetTree>('GET', `${SAMPLE}/targets/2028`);
    assert.equal(body.nodes[0]?.name, 'North');
  });

  it('are the owner’s to give: a planner says not who may enter', async () => {
    const colleague = await sample.served.colleague();
    const { status } = await colleague.send('PATCH', `${SAMPLE}/people/${managerId}`, {
      role: 'planner',
    });
    assert.equal(status, 403);
    assert.equal((await colleague.send('GET', `${SAMPLE}/parts`)).status, 403);
    const parts = await sample.planner.send<{ name: string }[]>('GET', `${SAMPLE}/parts`);
    assert.include(
      parts.body.map(({ name }) => name),
      'Ondwell, North',
    );
  });
});
