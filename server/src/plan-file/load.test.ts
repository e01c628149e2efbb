import type { PlanFile } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('a plan file that is loaded', () => {
  const sample = withSample();
  const load = (body: string, key?: string, type = 'application/json') =>
    sample.planner.send<{ id: number }>('POST', '/workspaces/plan-file', body, {
      'content-type': type,
      ...(key === undefined ? {} : { 'idempotency-key': key }),
    });
  const saved = async (): Promise<string> =>
    (await sample.planner.send('GET', `${SAMPLE}/plan-file`)).text;

  it('makes one workspace, however often it is sent under its key, and nothing of another one', async () => {
    const text = await saved();
    const key = 'load-it-once';
    const [first, again] = [await load(text, key), await load(text, key)];
    assert.equal(first.status, 201, first.text);
    assert.deepEqual(again.body, first.body);
    // As long, and not the same.
    const other = text.replace('"Ondwell"', '"Ondwela"');
    assert.equal((await load(other, key)).status, 409);
  });

  it('is refused with the place of what is wrong, and what cannot be a plan file at all', async () => {
    const file = JSON.parse(await saved()) as PlanFile;
    const [one] = file.plan.assumptions;
    const strange = {
      ...file,
      plan: { ...file.plan, currency: { code: 'EUR', minorDigits: 'x' } },
    };
    const wrong = await load(JSON.stringify(strange));
    assert.equal(wrong.status, 400);
    assert.equal(wrong.problem?.errors?.[0]?.path, 'plan.currency.minorDigits');
    const nowhere = {
      ...file,
      plan: { ...file.plan, assumptions: [{ ...one, scope: [987_654] }] },
    };
    const refused = await load(JSON.stringify(nowhere));
    assert.equal(refused.status, 400, refused.text);
    for (const body of ['', '{', 'null', '[]', '\u00e4', '{"dravex":1}']) {
      const { status, problem } = await load(body);
      assert.equal(status, 400, `${body}: ${problem?.detail ?? ''}`);
      assert.isNotEmpty(problem?.detail, body);
    }
    assert.equal((await load('{}', undefined, 'text/plain')).status, 415);
    assert.equal((await sample.planner.send('GET', `${SAMPLE}/dimensions`)).status, 200);
  });

  it('is refused above 32 MB, and leaves nothing behind', async () => {
    const { status, problem } = await load((await saved()).padEnd(33 * 1024 ** 2));
    assert.equal(status, 413, problem?.detail);
    assert.include(problem?.detail, '32 MB');
    const count = 'select count(*)::int as workspaces from workspace';
    const { rows } = await sample.served.connections.pool.query<{ workspaces: number }>(count);
    // The sample's own, and the one of the first test.
    assert.equal(rows[0]?.workspaces, 2);
  });
});
