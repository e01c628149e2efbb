import type { Changes, JournalRecord, PlanFile, UndoResult, WorkspacePlan } from '@dravex/contract';
import { assert } from 'chai';
import { summaryDifferences } from '../actuals/read-lines.ts';
import { changesOfEveryKind } from '../testing/every-change.ts';
import { SAMPLE, withSample, until, type Answer, type Visitor } from '../testing/serve.ts';

const DISCOUNT = `${SAMPLE}/drivers/discount/values`;

describe('journal', () => {
  const sample = withSample();
  let colleague: Visitor;
  let web = 0;
  before(async () => {
    colleague = await sample.served.colleague();
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    web = body.plan.dimensions[0]?.members[0]?.id ?? 0;
  });

  /** Everything that undo and redo could touch. */
  async function state(): Promise<string> {
    const { body } = await sample.planner.send<PlanFile>('GET', `${SAMPLE}/plan-file`);
    const others = await Promise.all(
      [
        '/facts?from=2026-07&to=2026-07',
        '/ledger?from=2026-07&to=2026-07',
        '/dimensions/group/assignments',
        '/remembered-repairs',
        '/threads',
      ].map(async (path) => (await sample.planner.send('GET', `${SAMPLE}${path}`)).text),
    );
    return JSON.stringify([{ ...body, name: '' }, ...others]);
  }
  const undo = (who: Visitor): Promise<Answer<UndoResult>> => who.send('POST', `${SAMPLE}/undo`);
  const redo = (who: Visitor): Promise<Answer<UndoResult>> => who.send('POST', `${SAMPLE}/redo`);
  async function records(room: string): Promise<JournalRecord[]> {
    return (await sample.planner.send<JournalRecord[]>('GET', `${SAMPLE}/journal?room=${room}`))
      .body;
  }
  const TYPED = { values: [{ scope: [] as number[], month: '2027-08', value: 0.17 }] };
  const type = (who: Visitor, month: string, value: number | null, saw?: number | null) =>
    who.send<{ revision: number; journal: number }>('PUT', DISCOUNT, {
      values: [{ scope: [web], month, value, ...(saw === undefined ? {} : { saw }) }],
    });

  it('takes back and does again every kind of change, exactly', async () => {
    const steps = await changesOfEveryKind(sample.planner);
    let before = await state();
    for (const step of steps) {
      const path = await step(sample.planner);
      const after = await state();
      const undone = await undo(sample.planner);
      assert.equal(undone.status, 200, `${path}: ${undone.text}`);
      assert.equal(await state(), before, `undo of ${path}`);
      assert.equal((await redo(sample.planner)).status, 200, path);
      assert.equal(await state(), after, `redo of ${path}`);
      before = after;
    }
  }).timeout(400_000);

  it('takes an import back and brings it in again, with the summary', async () => {
    const imports = await sample.planner.send<
      { id: number; state: string; fileName: string; good: number }[]
    >('GET', `${SAMPLE}/imports`);
    const batch = imports.body.find(({ fileName }) => fileName.startsWith('october'));
    assert.isDefined(batch);
    const sales = async (): Promise<string> => {
      const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
      return JSON.stringify(body.plan.actuals);
    };
    const before = await sales();
    const back = await sample.planner.send('POST', `${SAMPLE}/imports/${batch?.id}/take-back`);
    assert.equal(back.status, 200, back.text);
    assert.notEqual(await sales(), before);
    assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);
    const preview = await sample.planner.send<{ state: string; months: { lines: number }[] }>(
      'GET',
      `${SAMPLE}/imports/${batch?.id}`,
    );
    assert.equal(preview.body.state, 'previewed');
    assert.equal(
      preview.body.months.reduce((sum, { lines }) => sum + lines, 0),
      batch?.good,
    );
    assert.equal((await undo(sample.planner)).status, 200);
    assert.equal(await sales(), before);
    assert.equal(await summaryDifferences(sample.served.connections.db, 1), 0);
  });

  it('refuses to take back what somebody else changed since, and says who', async () => {
    await type(sample.planner, '2027-01', 0.11);
    await type(colleague, '2027-01', 0.12);
    const before = await state();
    const refused = await undo(sample.planner);
    assert.equal(refused.status, 409);
    assert.include(refused.problem?.detail, 'Ilse Tarn changed it since');
    assert.equal(await state(), before);
    // Other cells of the same assumption are nobody's business.
    await type(sample.planner, '2027-02', 0.13);
    await type(colleague, '2027-03', 0.14);
    const undone = await undo(sample.planner);
    assert.equal(undone.status, 200, undone.text);
    // The colleague's own changes are there, and are theirs to take back.
    for (const _ of [1, 2]) {
      const theirs = await undo(colleague);
      assert.equal(theirs.status, 200, theirs.text);
    }
    const after = await undo(sample.planner);
    assert.equal(after.status, 200, after.text);
  });

  it('leaves what was not done in the sitting and the room in sight, and says what it is', async () => {
    const path = (which: string, room: string, sitting = 'sitting1'): string =>
      `${SAMPLE}/${which}?sitting=${sitting}&room=${room}`;
    const key = { 'idempotency-key': 'sitting1.0001' };
    const typed = await sample.planner.send('PUT', DISCOUNT, TYPED, key);
    assert.equal(typed.status, 200, typed.text);
    for (const [room, sitting] of [
      ['targets', 'sitting1'],
      ['drivers', 'sitting2'],
    ]) {
      const before = await state();
      const left = await sample.planner.send('POST', path('undo', room ?? '', sitting));
      assert.equal(left.status, 409);
      assert.include(left.problem?.asks?.what, 'Typed Discount');
      assert.equal(left.problem?.asks?.room, 'drivers');
      assert.equal(await state(), before);
    }
    const after = await state();
    assert.equal((await sample.planner.send('POST', path('undo', 'drivers'))).status, 200);
    const asked = await sample.planner.send('POST', path('redo', 'budget'));
    assert.equal(asked.status, 409);
    const again = `${SAMPLE}/journal/${asked.problem?.asks?.journal}/redo`;
    assert.equal((await colleague.send('POST', again)).status, 403);
    assert.equal((await sample.planner.send('POST', again)).status, 200);
    assert.equal(await state(), after);
    assert.equal((await sample.planner.send('POST', again)).status, 409);
    assert.equal((await sample.planner.send('POST', path('undo', 'nowhere'))).status, 400);
    assert.equal((await sample.planner.send('POST', path('undo', 'drivers', 'x'))).status, 400);
    await undo(sample.planner);
  });

  it('does again only what was not written over', async () => {
    await type(sample.planner, '2027-04', 0.21);
    await type(sample.planner, '2027-05', 0.22);
    await undo(sample.planner);
    const first = await undo(sample.planner);
    assert.include(first.body.record.what, '2027-04');
    const again = await redo(sample.planner);
    assert.include(again.body.record.what, '2027-04');
    await type(sample.planner, '2027-06', 0.23);
    const nothing = await redo(sample.planner);
    assert.equal(nothing.status, 409);
    assert.include(nothing.problem?.detail, 'nothing of yours');
  });

  it('says who, when, what, from, to and why', async () => {
    const sent = await sample.planner.send<{ journal: number }>('PUT', DISCOUNT, {
      values: [{ scope: [web], month: '2027-07', value: 0.15 }],
    });
    const why = { why: 'summer offer' };
    const said = await sample.planner.send('PATCH', `${SAMPLE}/journal/${sent.body.journal}`, why);
    assert.equal(said.status, 200, said.text);
    const [record] = await records('drivers');
    assert.deepInclude(record, {
      by: 'Mara Ellingsen',
      own: true,
      why: 'summer offer',
      undoable: true,
    });
    const change = record?.changes.find(({ label }) => label.includes('2027-07'));
    assert.deepInclude(change, { label: 'Discount, Web shop, 2027-07', before: null, after: 0.15 });
    const other = { why: 'another reason' };
    assert.equal(
      (await sample.planner.send('PATCH', `${SAMPLE}/journal/${record?.id}`, other)).status,
      400,
    );
    assert.equal(
      (await colleague.send('PATCH', `${SAMPLE}/journal/${record?.id}`, why)).status,
      403,
    );
    const theirs = await colleague.send('POST', `${SAMPLE}/journal/${record?.id}/undo`);
    assert.equal(theirs.status, 403);
    assert.equal(
      (await sample.planner.send('POST', `${SAMPLE}/journal/${record?.id}/undo`)).status,
      200,
    );
    assert.equal(
      (await sample.planner.send('POST', `${SAMPLE}/journal/${record?.id}/undo`)).status,
      409,
    );
  });

  it('leaves no record where nothing changed', async () => {
    await type(sample.planner, '2027-08', 0.16);
    const [before] = await records('drivers');
    const again = await type(sample.planner, '2027-08', 0.16);
    assert.equal(again.status, 200);
    assert.isNull(again.body.journal);
    assert.equal((await records('drivers'))[0]?.id, before?.id);
  });

  it('shows the second of two people both values, and overwrites nothing', async () => {
    // The sample assumes 2 % at this scope.
    assert.equal((await type(sample.planner, '2027-09', 0.1, 0.02)).status, 200);
    const late = await type(colleague, '2027-09', 0.2, 0.02);
    assert.equal(late.status, 409);
    assert.deepInclude(late.problem?.conflicts?.[0], {
      path: 'values.0',
      saw: 0.02,
      now: 0.1,
      by: 'Mara Ellingsen',
    });
    assert.equal((await type(colleague, '2027-09', 0.2, 0.1)).status, 200);
    const tree = await sample.planner.send<{
      nodes: { id: number; part: object; amount: number }[];
    }>('GET', `${SAMPLE}/targets/2027`);
    const [top, area] = tree.body.nodes;
    const node = `${SAMPLE}/targets/2027/nodes/${area?.id}`;
    const part = (percent: number) => ({ kind: 'percent', percent });
    const first = await sample.planner.send('PATCH', node, { part: part(21), saw: area?.part });
    assert.equal(first.status, 200, first.text);
    const second = await colleague.send('PATCH', node, { part: part(22), saw: area?.part });
    assert.equal(second.status, 409);
    assert.deepInclude(second.problem?.conflicts?.[0], { now: 21, by: 'Mara Ellingsen' });
    assert.equal(
      (await colleague.send('PATCH', node, { part: part(22), saw: part(21) })).status,
      200,
    );
    const objective = { objective: 5, saw: (top?.amount ?? 0) + 1 };
    assert.equal(
      (await sample.planner.send('PUT', `${SAMPLE}/targets/2027`, objective)).status,
      409,
    );

    const total = { scope: [], month: '2027-09', total: 70_000, saw: 1 };
    const units = await sample.planner.send('PUT', `${SAMPLE}/drivers/grossUnits/values`, {
      totals: [total],
    });
    assert.equal(units.status, 409);
    assert.isAbove(units.problem?.conflicts?.[0]?.now ?? 0, 1);
  });

  it('tells everybody who looks, within a second, and what changed since', async () => {
    const { body: start } = await colleague.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const stream = await colleague.follow(SAMPLE);
    const outside = await sample.planner.follow(SAMPLE);
    const begun = Date.now();
    await type(sample.planner, '2027-10', 0.17);
    await until(() => stream.heard.length > 0 && outside.heard.length > 0, 'a notice');
    assert.isBelow(Date.now() - begun, 1000);
    assert.deepInclude(stream.heard[0], { by: 'Mara Ellingsen', room: 'drivers' });
    const changes = await colleague.send<Changes>(
      'GET',
      `${SAMPLE}/changes?since=${start.revision}`,
    );
    assert.isFalse(changes.body.whole);
    const { put, adjustments } = changes.body;
    assert.equal([...put, ...adjustments.put][0]?.driver, 'discount');
    stream.stop();
    outside.stop();
  });

  it('answers a repeated request again and does nothing twice', async () => {
    const key = { 'idempotency-key': 'repeat-0001' };
    const body = { name: 'Only once', from: '2026-04', to: '2026-06' };
    const [one, two] = await Promise.all([
      sample.planner.send<{ id: number }>('POST', `${SAMPLE}/versions`, body, key),
      sample.planner.send<{ id: number }>('POST', `${SAMPLE}/versions`, body, key),
    ]);
    assert.equal(one.status, 201, one.text);
    assert.deepEqual(two.body, one.body);
    const later = await sample.planner.send('POST', `${SAMPLE}/versions`, body, key);
    assert.deepEqual(later.body, one.body);
    const other = await sample.planner.send(
      'POST',
      `${SAMPLE}/versions`,
      { ...body, name: 'Other' },
      key,
    );
    assert.equal(other.status, 409);
    assert.include(other.problem?.detail, 'idempotency key');
    const bad = { 'idempotency-key': 'no' };
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/versions`, body, bad)).status, 400);
    const list = await sample.planner.send<{ name: string }[]>('GET', `${SAMPLE}/versions`);
    assert.equal(list.body.filter(({ name }) => name === 'Only once').length, 1);

    const undoKey = { 'idempotency-key': 'repeat-undo-1' };
    const first = await sample.planner.send('POST', `${SAMPLE}/undo`, undefined, undoKey);
    const second = await sample.planner.send('POST', `${SAMPLE}/undo`, undefined, undoKey);
    assert.deepEqual(second.body, first.body);
  });
});
