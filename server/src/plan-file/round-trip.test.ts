import type { PlanFile } from '@dravex/contract';
import { assert } from 'chai';
import { KINDS } from '../journal/things.ts';
import { changesOfEveryKind } from '../testing/every-change.ts';
import { SAMPLE, withSample } from '../testing/serve.ts';

/** A plan file with codes in place of ids, in an order that does not depend on them. */
function byCodes({
  plan,
  versions,
  targets,
  closes,
  accountScopes,
  sheets,
  threads,
  ...file
}: PlanFile): object {
  const codes = new Map(
    plan.dimensions.flatMap(({ code, members }) =>
      members.map((member) => [member.id, `${code}:${member.code}`]),
    ),
  );
  const scope = (ids: readonly number[]): string =>
    ids.map((id) => codes.get(id) ?? `no member ${id}`).join();
  const combinations = new Map(plan.combinations.map(({ id, members }) => [id, scope(members)]));
  const of = (id: number): string => combinations.get(id) ?? `no combination ${id}`;
  const texts = (rows: readonly object[]): string[] =>
    rows.map((row) => JSON.stringify(row)).toSorted();
  const columns = <T extends { combination: readonly number[]; month: readonly string[] }>(
    cells: T,
  ): string[] =>
    texts(
      cells.combination.map((combination, at) => ({
        of: of(combination),
        ...Object.fromEntries(
          Object.entries(cells)
            .filter(([name]) => name !== 'combination')
            .map(([name, column]) => [name, (column as readonly unknown[])[at]]),
        ),
      })),
    );
  const settings = (text: string): string =>
    text.replaceAll(/"combination":(\d+)/g, (_, id: string) => JSON.stringify(of(Number(id))));
  const versionNames = new Map(versions.map(({ id, name }) => [`version:${id}`, name]));
  const named = (side: string): string => versionNames.get(side) ?? side;
  const nodes = new Map(targets.map(({ id, name }) => [id, name]));
  return {
    ...file,
    sheets: texts(
      sheets.map(({ lines, ...sheet }) => ({
        ...{ ...sheet, version: named(`version:${sheet.version}`), scope: scope(sheet.scope) },
        lines: texts(lines.map((line) => ({ ...line, scope: scope(line.scope) }))),
      })),
    ),
    threads: texts(
      threads.map((thread) => ({
        ...{ ...thread, source: named(thread.source), against: named(thread.against ?? '') },
        scope: thread.scope.map((id) => scope([id])).toSorted(),
      })),
    ),
    accountScopes: texts(
      accountScopes.map(({ scope: ids, account }) => ({ account, scope: scope(ids) })),
    ),
    members: [
      ...file.members,
      // Which are in place of which, whatever their order.
      ...texts(
        plan.dimensions.flatMap(({ members }) =>
          members.map(({ id, parent, replaces }) =>
            [id, parent, replaces].map((one) => codes.get(one ?? 0) ?? null),
          ),
        ),
      ),
    ],
    calendar: plan.calendar,
    currency: plan.currency,
    drivers: plan.drivers,
    // The rank of an assumption among equals is its id's: the order is a part of the plan.
    assumptions: plan.assumptions.map(({ id: _, ...row }) => ({ ...row, scope: scope(row.scope) })),
    adjustments: plan.adjustments.map(({ id: _, ...row }) => ({ ...row, scope: scope(row.scope) })),
    streams: texts(
      plan.streams.map(({ id: _, combination, ...row }) => ({ of: of(combination), ...row })),
    ).map(settings),
    // Who typed it is somebody of the installation that it came from.
    overrides: texts(
      plan.overrides.map(({ combination, by: _, ...row }) => ({
        of: of(combination),
        ...row,
      })),
    ),
    actuals: columns(plan.actuals),
    byHand: texts(
      (plan.actuals.byHand?.row ?? []).map((row, at) => ({
        of: of(plan.actuals.combination[row] ?? 0),
        month: plan.actuals.month[row],
        ...Object.fromEntries(
          (['units', 'revenue', 'cost', 'only'] as const).map((name) => [
            name,
            plan.actuals.byHand?.[name][at],
          ]),
        ),
      })),
    ),
    facts: texts(plan.facts.map((fact) => ({ ...fact, scope: scope(fact.scope) }))),
    versions: versions.map(({ id: _, cells, ...version }) => ({
      ...version,
      cells: columns(cells),
    })),
    closes: closes.map(({ cells, ...close }) => ({ ...close, cells: columns(cells) })),
    targets: texts(
      targets.map(({ id: _, parent, ...node }) => ({
        ...node,
        parent: parent === null ? null : nodes.get(parent),
        scope: scope(node.scope),
      })),
    ),
  };
}

describe('a plan file', () => {
  const sample = withSample();

  const leave = async (path: string): Promise<PlanFile> => {
    const { status, body, text } = await sample.planner.send<PlanFile>('GET', `${path}/plan-file`);
    assert.equal(status, 200, text);
    return body;
  };

  it('brings back everything it holds, after a change of every kind', async () => {
    for (const step of await changesOfEveryKind(sample.planner)) await step(sample.planner);
    const [version] = (await sample.planner.send<{ id: number }[]>('GET', `${SAMPLE}/versions`))
      .body;
    assert.isDefined(version, 'one version is left to travel');
    // By hand where the books have nothing, beside one of the changes where they have sales.
    const sale = {
      date: '2026-09-30',
      members: { channel: 'office', product: 'carafe-dew', group: 'households', region: 'coast' },
      quantity: 2,
      netAmount: 20_000,
      cost: 9_000,
      why: 'sold at the fair',
    };
    const entered = await sample.planner.send('POST', `${SAMPLE}/hand-lines`, sale);
    assert.equal(entered.status, 201, entered.text);
    const first = await leave(SAMPLE);
    assert.includeMembers([...(first.plan.actuals.byHand?.only ?? [])], [true, false]);
    assert.isNotEmpty(first.plan.adjustments);
    const carafe = first.plan.dimensions
      .flatMap(({ members }) => members)
      .find(({ code }) => code === 'carafe-dew');
    const details = { validTo: '2027-06-30', account: '4010' };
    const kept = await sample.planner.send(
      'PATCH',
      `${SAMPLE}/dimensions/product/members/${carafe?.id}`,
      details,
    );
    assert.equal(kept.status, 204, kept.text);
    // Twice for the same day: the later one stands.
    const assigned = await sample.planner.send('PUT', `${SAMPLE}/dimensions/group/assignments`, {
      assignments: ['cafes', 'offices'].map((member) => ({
        customer: 'K-77',
        from: '2026-01-01',
        member,
      })),
    });
    assert.equal(assigned.status, 200, assigned.text);
    const told = await sample.planner.send(
      'POST',
      `${SAMPLE}/dimensions/group/tell-apart?apply=yes`,
      {
        by: 'channel',
        rules: [{ member: 'offices', values: ['office'] }],
      },
    );
    assert.equal(told.status, 200, told.text);
    const typed = [{ scope: [], from: '2027-02', to: '2027-02', measure: 'units', total: 9000 }];
    const over = { typed, why: 'for the journey' };
    const { status, text } = await sample.planner.send('POST', `${SAMPLE}/overrides`, over);
    assert.equal(status, 200, text);
    const said = {
      ...{ room: 'budget', source: `version:${version.id}`, against: null, measure: 'revenue' },
      ...{ scope: [carafe?.id], from: '2026-10', to: '2026-10', text: 'Is that all?' },
    };
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/threads`, said)).status, 200);
    const [me] = (await sample.planner.send<{ id: number }[]>('GET', `${SAMPLE}/people`)).body;
    const sheet = await sample.planner.send<{ id: string }>('POST', `${SAMPLE}/sheets`, {
      ...{ title: 'All of it', version: version.id, person: me?.id },
      ...{ scope: [carafe?.id], rows: ['channel', 'region'] },
    });
    assert.equal(sheet.status, 201, sheet.text);
    const line = { scope: [carafe?.id], comment: 'as agreed' };
    const noted = await sample.planner.send(
      ...(['PATCH', `${SAMPLE}/sheets/${sheet.body.id}/lines`, line] as const),
    );
    assert.equal(noted.status, 200, noted.text);
    const left = await leave(SAMPLE);
    const { customer: _, ...others } =
      left.assignments.find((one) => one.customer === 'K-77') ?? {};
    assert.deepEqual(others, { dimension: 'group', member: 'offices', from: '2026-01-01' });
    assert.deepInclude(left.members, { dimension: 'product', member: 'carafe-dew', ...details });
    assert.isNotEmpty(left.memberRules);
    assert.isNotEmpty(left.plan.overrides);
    assert.isNotEmpty(left.threads);
    assert.isNotEmpty(left.sheets);
    assert.isNotEmpty(left.sheets[0]?.lines);

    const made = await sample.planner.send<{ id: number }>('POST', '/workspaces/plan-file', left);
    assert.equal(made.status, 201, made.text);
    const come = byCodes(await leave(`/workspaces/${made.body.id}`));
    for (const [part, value] of Object.entries(byCodes(left))) {
      assert.deepEqual((come as Record<string, unknown>)[part], value, part);
    }
  }).timeout(60_000);

  it('is refused where it names members that it does not have', async () => {
    const left = await leave(SAMPLE);
    const nobody = { dimension: 'product', member: 'nothing-like-it' };
    const thread: PlanFile['threads'][0] = {
      room: 'budget',
      measure: 'revenue',
      ...{ source: 'version:1', against: null, scope: [] },
      ...{ from: '2026-10', to: '2026-10', comments: [], resolved: false },
    };
    const sheet: PlanFile['sheets'][0] = {
      measure: 'revenue',
      state: 'draft',
      ...{ title: 'All', version: 1, scope: [], rows: ['channel'], due: null },
      ...{ steps: [], lines: [] },
    };
    const wrong: [string, Partial<PlanFile>][] = [
      ['members.0', { members: [{ ...nobody, account: '4010' }] }],
      ['assignments.0', { assignments: [{ ...nobody, customer: 'K-1', from: '2026-01-01' }] }],
      ['memberRules.0', { memberRules: [{ ...nobody, by: null }] }],
      ['threads.0.source', { threads: [{ ...thread, source: 'version:99' }] }],
      ['sheets.0.version', { sheets: [{ ...sheet, version: 99 }] }],
      ['sheets.0.rows', { sheets: [{ ...sheet, rows: ['color'] }] }],
    ];
    for (const [path, part] of wrong) {
      const { status, body } = await sample.planner.send<{ errors: { path: string }[] }>(
        'POST',
        '/workspaces/plan-file',
        { ...left, ...part },
      );
      assert.equal(status, 400, path);
      assert.equal(body.errors[0]?.path, path);
    }
  }).timeout(60_000);

  it('holds every kind of thing that makes up a plan', () => {
    const travels = Object.entries(KINDS).flatMap(([kind, { file }]) => (file ? [kind] : []));
    assert.sameMembers(travels, [
      ...[
        'accountScope',
        'adjustment',
        'assignment',
        'assumption',
        'close',
        'driver',
        'import',
        'member',
      ],
      ...['override', 'sheet', 'stream', 'target', 'thread', 'version'],
    ]);
  });
});
