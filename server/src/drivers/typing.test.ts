import type { TypingResult, WorkspacePlan } from '@dravex/contract';
import { compile, evaluate, monthFrom, seriesOfDriver, type Model } from '@dravex/core';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('what is typed above several values', () => {
  const sample = withSample();
  let trade = 0;
  before(async () => {
    const { plan } = await read();
    trade = plan.dimensions[0]?.members.find(({ code }) => code === 'trade')?.id ?? 0;
  });

  const read = async (): Promise<WorkspacePlan> =>
    (await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`)).body;
  const modelNow = async (): Promise<Model> => evaluate(compile((await read()).plan));
  const pricesIn = (model: Model, month = '2027-01'): Map<string, number> =>
    new Map(
      model.streams.flatMap(({ combination, codes }, place) => {
        if (!codes.includes('listPrice') || !combination.members.includes(trade)) return [];
        const { values } = seriesOfDriver(model, place, 'listPrice') ?? { values: [] };
        return [[combination.members.join(), values[monthFrom(month) - model.first] ?? NaN]];
      }),
    );
  const put = (driver: string, body: object) =>
    sample.planner.send<TypingResult>('PUT', `${SAMPLE}/drivers/${driver}/values`, body);
  const change = (kind: 'times' | 'plus', by: number, more: object = {}) => ({
    changes: [{ scope: [trade], month: '2027-01', kind, by, ...more }],
  });

  it('changes each value below by it, and one undo brings all of them back', async () => {
    const before = pricesIn(await modelNow());
    const next = pricesIn(await modelNow(), '2027-02');
    assert.isAbove(new Set(before.values()).size, 1, 'they differ');
    const { status, body, text } = await put('listPrice', change('times', 1.04));
    assert.equal(status, 200, text);
    assert.lengthOf(body.adjustments.put, 1);
    assert.isEmpty(body.put, 'no price is written in place of others');
    const after = pricesIn(await modelNow());
    for (const [members, price] of before) {
      assert.closeTo(after.get(members) ?? 0, price * 1.04, 1e-9);
    }
    assert.deepEqual(pricesIn(await modelNow(), '2027-02'), next, 'no other month');
    const undone = await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal(undone.status, 200, undone.text);
    assert.deepEqual(pricesIn(await modelNow()), before);
  });

  it('lies on top of what was changed there before', async () => {
    const before = pricesIn(await modelNow());
    const first = await put('listPrice', change('times', 1.1));
    const second = await put('listPrice', change('times', 1.1));
    assert.notEqual(second.body.adjustments.put[0]?.id, first.body.adjustments.put[0]?.id);
    const after = pricesIn(await modelNow());
    for (const [members, price] of before) {
      assert.closeTo(after.get(members) ?? 0, price * 1.21, 1e-9);
    }
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.deepEqual(pricesIn(await modelNow()), before);
  });

  it('is refused where one value below would leave its bounds, and nothing is kept', async () => {
    const { adjustments } = (await read()).plan;
    const { status, problem } = await put('discount', change('plus', 0.95));
    assert.equal(status, 400);
    assert.equal(problem?.errors?.[0]?.path, 'changes.0.by');
    assert.include(problem?.errors?.[0]?.message, 'above the maximum of 100 %');
    assert.deepEqual((await read()).plan.adjustments, adjustments);
    assert.equal((await put('listPrice', change('times', Number.MAX_VALUE))).status, 400);
    const closed = await put('listPrice', {
      changes: [{ scope: [trade], month: '2026-09', kind: 'times', by: 2 }],
    });
    assert.equal(closed.problem?.errors?.[0]?.path, 'changes.0.month');
  });

  it('shows both numbers where somebody changed it meanwhile', async () => {
    const { status, problem } = await put('listPrice', change('times', 1.04, { saw: 1 }));
    assert.equal(status, 409);
    const [conflict] = problem?.conflicts ?? [];
    assert.equal(conflict?.saw, 1);
    const kept = await put('listPrice', change('times', 1.04, { saw: conflict?.now }));
    assert.equal(kept.status, 200, kept.text);
  });
});
