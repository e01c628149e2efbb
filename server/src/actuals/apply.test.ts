import type { ImportBatch, ImportPreview, WorkspacePlan } from '@dravex/contract';
import { assert } from 'chai';
import { inTransaction } from '../platform/database.ts';
import { SAMPLE, withSample, until } from '../testing/serve.ts';
import { lockWorkspace } from '../workspaces/store.ts';

const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number';

describe('applying a file in the background', () => {
  const sample = withSample();
  let documents = 0;

  const bring = async (): Promise<string> => {
    documents += 1;
    const row = `2026-10-05,web,tap-one,households,north,1,70.00,30.00,J-${documents},1`;
    const { body, status, text } = await sample.planner.send<ImportPreview>(
      'POST',
      `${SAMPLE}/imports?fileName=job-${documents}.csv`,
      `${HEADER}\n${row}\n`,
    );
    assert.equal(status, 201, text);
    return `${SAMPLE}/imports/${body.id}`;
  };
  const revenue = async (): Promise<number> => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    return body.plan.actuals.revenue.reduce((sum, cents) => sum + cents, 0);
  };
  const state = async (path: string): Promise<ImportBatch> =>
    (await sample.planner.send<ImportBatch>('GET', path)).body;

  it('is stopped while it waits, and nothing of it is taken in', async () => {
    const path = await bring();
    const before = await revenue();
    // Somebody else writes for a while, so the job stands in line.
    await inTransaction(sample.served.connections, async (tx) => {
      await lockWorkspace(tx, 1);
      const applying = sample.planner.send<ImportBatch>('POST', `${path}/apply`);
      await until(async () => (await state(path)).job?.state !== undefined, 'there is a job');
      const stopped = await sample.planner.send('POST', `${path}/stop`);
      assert.equal(stopped.status, 200, stopped.text);
      const answer = await applying;
      assert.equal(answer.body.job?.state, 'stopped', answer.text);
    });
    const after = await state(path);
    assert.equal(after.state, 'previewed');
    assert.include(after.job?.message, 'nothing of it was imported');
    assert.equal(await revenue(), before);
    const again = await sample.planner.send<ImportBatch>('POST', `${path}/apply`);
    assert.equal(again.body.state, 'applied', again.text);
    assert.equal(await revenue(), before + 7000);
  }).timeout(30_000);

  it('says so when its server ended in the middle', async () => {
    const path = await bring();
    const id = Number(path.split('/').at(-1));
    // What a killed server leaves behind: a job that runs, and nobody who holds its lock.
    await sample.served.connections.pool.query(
      `insert into import_job (workspace_id, batch_id, state, requested_by)
       values (1, $1, 'running', 1)`,
      [id],
    );
    const jobState = await state(path);
    assert.equal(jobState.job?.state, 'failed');
    assert.include(jobState.job?.message, 'The server ended during the import');
    assert.equal(jobState.state, 'previewed');
    const applied = await sample.planner.send<ImportBatch>('POST', `${path}/apply`);
    assert.equal(applied.body.state, 'applied', applied.text);
  });

  it('is done by the server that is there when the one that was asked is not', async () => {
    const path = await bring();
    const id = Number(path.split('/').at(-1));
    const before = await revenue();
    await sample.served.connections.pool.query(
      `insert into import_job (workspace_id, batch_id, state, steps, requested_by)
       values (1, $1, 'waiting', 3, 1)`,
      [id],
    );
    await sample.served.connections.pool.query(
      `insert into queue.job (name, data, retry_limit) values ('apply-import', $1, 0)`,
      [JSON.stringify({ workspaceId: 1, batchId: id, personId: 1 })],
    );
    // Any use of the queue starts it; a server does so by itself.
    await sample.planner.send('POST', `${await bring()}/apply`);
    await until(async () => (await state(path)).state === 'applied', 'it is applied');
    assert.equal(await revenue(), before + 14_000);
  }).timeout(30_000);

  it('refuses to stop what is not under way, and to apply what is', async () => {
    const path = await bring();
    assert.equal((await sample.planner.send('POST', `${path}/stop`)).status, 409);
    const key = { 'idempotency-key': 'apply-it-once' };
    const first = await sample.planner.send<ImportBatch>('POST', `${path}/apply`, undefined, key);
    const again = await sample.planner.send<ImportBatch>('POST', `${path}/apply`, undefined, key);
    assert.equal(first.body.state, 'applied');
    assert.deepEqual([again.status, again.body.state], [200, 'applied'], 'the same request again');
    assert.equal((await sample.planner.send('POST', `${path}/apply`)).status, 409);
  });
});
