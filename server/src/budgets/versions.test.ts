import type { PlanFile, Version, VersionChange } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample, type Answer } from '../testing/serve.ts';

const VERSIONS = `${SAMPLE}/versions`;

describe('versions of a year', () => {
  const sample = withSample();
  const list = async (): Promise<Version[]> =>
    (await sample.planner.send<Version[]>('GET', VERSIONS)).body;
  const named = async (name: string): Promise<Version | undefined> =>
    (await list()).find((one) => one.name === name);
  const change = (id: number, to: VersionChange): Promise<Answer<Version>> =>
    sample.planner.send('PATCH', `${VERSIONS}/${id}`, to);
  const undo = (): Promise<Answer<unknown>> => sample.planner.send('POST', `${SAMPLE}/undo`);
  let budget = 0;
  let outlook = 0;
  before(async () => {
    budget = (await named('Budget FY 2027'))?.id ?? 0;
    const { body } = await sample.planner.send<{ id: number }>('POST', VERSIONS, {
      ...{ name: 'Outlook October', note: 'for the board', from: '2026-04', to: '2027-03' },
    });
    outlook = body.id;
  });

  it('has one that is its budget: the first of the whole year, and then the one that is marked', async () => {
    assert.equal((await named('Budget FY 2027'))?.budgetOf, 2027);
    assert.isNull((await named('Outlook October'))?.budgetOf ?? null, 'another one was there');
    assert.equal((await change(outlook, { budget: true })).body.budgetOf, 2027);
    assert.isNull((await named('Budget FY 2027'))?.budgetOf ?? null);
    assert.equal((await undo()).status, 200);
    assert.deepEqual(
      (await list()).map(({ name, budgetOf }) => [name, budgetOf]),
      [
        ['Budget FY 2027', 2027],
        ['Outlook October', null],
      ],
    );
    const part = await sample.planner.send<{ id: number }>('POST', VERSIONS, {
      ...{ name: 'Summer', note: '', from: '2027-06', to: '2027-08' },
    });
    assert.isNull(
      (await named('Summer'))?.budgetOf ?? null,
      'some months are no budget by themselves',
    );
    await sample.planner.send('DELETE', `${VERSIONS}/${part.body.id}`);
  });

  it('are renamed, put away and brought back, each by one undo; numbers stay', async () => {
    const cells = (await named('Outlook October'))?.cells;
    const renamed = await change(outlook, { name: 'Outlook', note: 'for finance' });
    assert.deepInclude(renamed.body, { name: 'Outlook', note: 'for finance', cells });
    await undo();
    assert.deepInclude(await named('Outlook October'), { note: 'for the board' });
    await change(budget, { putAway: true });
    assert.deepInclude(await named('Budget FY 2027'), { putAway: true, budgetOf: null });
    await undo();
    assert.deepInclude(await named('Budget FY 2027'), { putAway: false, budgetOf: 2027 });
  });

  it('travel in a plan file with what they are', async () => {
    const { body } = await sample.planner.send<PlanFile>('GET', `${SAMPLE}/plan-file`);
    assert.deepEqual(
      body.versions.map(({ name, budgetOf, putAway }) => ({ name, budgetOf, putAway })),
      (await list()).map(({ name, budgetOf, putAway }) => ({ name, budgetOf, putAway })),
    );
  });

  it('refuse a name that is taken, nothing, and what is not there; deleted and brought back it is the budget again', async () => {
    const taken = await change(outlook, { name: 'Budget FY 2027' });
    assert.equal(taken.status, 409);
    assert.include(taken.text, 'choose another name');
    assert.equal((await change(outlook, {})).status, 400);
    assert.equal((await change(outlook, { name: '' })).status, 400);
    assert.equal((await change(99_999, { name: 'X' })).status, 404);
    await sample.planner.send('DELETE', `${VERSIONS}/${budget}`);
    await change(outlook, { budget: true });
    assert.equal((await undo()).status, 200);
    assert.equal((await undo()).status, 200);
    const marked = (await list()).filter(({ budgetOf }) => budgetOf === 2027);
    assert.deepEqual(
      marked.map(({ name }) => name),
      ['Budget FY 2027'],
    );
  });
});
