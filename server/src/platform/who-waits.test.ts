import { assert } from 'chai';
import pg from 'pg';
import { SAMPLE, until, withSample } from '../testing/serve.ts';

describe('what is done for somebody who goes', () => {
  const sample = withSample();
  let other: pg.Client;

  beforeEach(async () => {
    other = new pg.Client(sample.served.connections.url);
    await other.connect();
  });
  afterEach(() => other.end());

  /** Whether a query waits for a lock. */
  const waits = async (): Promise<boolean> => {
    // Not in the transaction that locks: it would see the same all the time.
    const { rows } = await sample.served.connections.pool.query<{ waiting: number }>(`
      select count(*)::int as waiting from pg_stat_activity
      where datname = current_database() and wait_event_type = 'Lock'`);
    return (rows[0]?.waiting ?? 0) > 0;
  };
  /** Asks while a table is locked, and goes in the middle of it. */
  const askAndGo = async (method: string, path: string, body?: object): Promise<void> => {
    const { planner } = sample;
    const gone = new AbortController();
    const answer = fetch(planner.address(path), {
      method,
      headers: {
        ...{ cookie: planner.cookie, 'x-csrf-token': planner.csrfToken },
        'content-type': 'application/json',
      },
      signal: gone.signal,
      ...(body ? { body: JSON.stringify(body) } : {}),
    }).catch(() => undefined);
    await until(waits, 'it waits for the table');
    gone.abort();
    await answer;
  };

  it('stops in the database too, where it only reads', async () => {
    await other.query('begin; lock table member in access exclusive mode');
    await askAndGo('GET', `${SAMPLE}/dimensions`);
    await until(async () => !(await waits()), 'nothing waits any more, though the table is locked');
    await other.query('rollback');
    assert.equal((await sample.planner.send('GET', `${SAMPLE}/dimensions`)).status, 200);
  });

  it('is not loaded, where it is a plan file', async () => {
    const file = await sample.planner.send<object>('GET', `${SAMPLE}/plan-file`);
    await other.query('begin; lock table workspace in share mode');
    await askAndGo('POST', '/workspaces/plan-file', { ...file.body, name: 'Loaded and gone' });
    await until(async () => !(await waits()), 'nothing waits any more, though the table is locked');
    await other.query('rollback');
    const { rowCount } = await other.query(`select from workspace where name = 'Loaded and gone'`);
    assert.equal(rowCount, 0);
  });

  it('is done to its end, where it writes', async () => {
    await other.query('begin; lock table member in access exclusive mode');
    const member = { code: 'typed-and-gone', name: 'Typed and gone', parent: null };
    await askAndGo('POST', `${SAMPLE}/dimensions/product/members`, member);
    await other.query('rollback');
    await until(async () => {
      const { text } = await sample.planner.send('GET', `${SAMPLE}/dimensions`);
      return text.includes('typed-and-gone');
    }, 'the member is there');
  });
});
