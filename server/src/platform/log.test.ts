import { PassThrough } from 'node:stream';
import { assert } from 'chai';
import { SAMPLE, serveSample, until } from '../testing/serve.ts';
import { makeLog, serializeError, withoutQuery } from './log.ts';

describe('the log', () => {
  it('has no query of an address', () => {
    assert.equal(withoutQuery('/api/workspaces/1/table?token=secret'), '/api/workspaces/1/table');
    assert.equal(withoutQuery(undefined), '');
  });

  it('names what failed, and no parameter of it', () => {
    const cause = Object.assign(new Error('duplicate key value'), { code: '23505' });
    const failed = Object.assign(
      new Error('Failed query: insert into person values ($1)\nparams: secret@ondwell.example', {
        cause,
      }),
      { query: 'insert into person values ($1)', params: ['secret@ondwell.example'] },
    );
    const text = JSON.stringify(serializeError(failed));
    assert.include(text, 'duplicate key value');
    assert.include(text, '23505');
    assert.notInclude(text, 'secret@');
    assert.notInclude(
      JSON.stringify(serializeError(new Error('Failed query: x\nparams: secret@a'))),
      'secret@',
    );
  });

  it('of a server holds no secret, and names each failure of its own by the id that is answered', async () => {
    const out = new PassThrough();
    let written = '';
    out.on('data', (bytes) => (written += String(bytes)));
    const served = await serveSample({}, makeLog('debug', out));
    const { origin, connections } = served;
    const planner = served.visitor();
    try {
      await planner.signIn('planner@ondwell.example', 'not-the-password');
      await planner.signIn('planner@ondwell.example', 'plan the year');
      const made = await planner.send<{ token: string }>('POST', `${SAMPLE}/tokens`, { name: 'x' });
      await fetch(`${origin}/api/reporting/actuals?from=2026-04&to=2026-04`, {
        headers: { authorization: `Bearer ${made.body.token}` },
      });
      const key = 'a-key-of-a-service';
      const feed = { name: 'Feed', url: 'http://127.0.0.1:9', key, everyMinutes: null };
      await planner.send('POST', `${SAMPLE}/connections`, feed);
      // Something fails on our side, with what was typed among the parameters.
      await connections.pool.query('alter table journal rename to journal_gone');
      const failed = await planner.send(
        'POST',
        `${SAMPLE}/drivers/discount/assumptions`,
        { scope: [], profile: { kind: 'value', value: 0.01 }, note: 'a note that is private' },
        { 'x-request-id': 'from-a-proxy-7' },
      );
      assert.equal(failed.status, 500, failed.text);
      assert.equal(failed.problem?.requestId, 'from-a-proxy-7');
      assert.include(failed.problem?.detail, 'from-a-proxy-7');
      await until(() => written.includes('unexpected failure'), 'it is written down');
      const line = written.split('\n').find((one) => one.includes('unexpected failure')) ?? '';
      const told = JSON.parse(line) as { requestId: string; error: Record<string, string> };
      assert.equal(told.requestId, 'from-a-proxy-7');
      assert.include(told.error['message'], 'journal');
      assert.include(told.error['stack'], 'at ');
      for (const secret of [
        ...['plan the year', 'not-the-password', made.body.token, key, 'a note that is private'],
        ...[planner.cookie.slice(12, 40), planner.csrfToken],
      ]) {
        assert.notInclude(written, secret);
      }
    } finally {
      await served.close();
    }
  }).timeout(20_000);
});
