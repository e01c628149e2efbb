import { assert } from 'chai';
import { SAMPLE, serveSample } from '../testing/serve.ts';

describe('metrics', () => {
  const TOKEN = 'a token for whoever watches';

  it('are told to who has the token, by route and status, with what the process is like', async () => {
    const served = await serveSample({ metricsToken: TOKEN });
    const { origin } = served;
    const read = (token?: string): Promise<Response> =>
      fetch(`${origin}/metrics`, {
        ...(token === undefined ? {} : { headers: { authorization: `Bearer ${token}` } }),
      });
    try {
      const planner = await served.planner();
      await planner.send('GET', `${SAMPLE}/plan`);
      await planner.send('GET', '/workspaces/99/plan');
      assert.equal((await read()).status, 401);
      assert.equal((await read('another token')).status, 401);
      const answer = await read(TOKEN);
      assert.equal(answer.status, 200);
      assert.match(answer.headers.get('content-type') ?? '', /^text\/plain; version=0\.0\.4/);
      const text = await answer.text();
      const count = (status: number): string =>
        `dravex_request_seconds_count{method="GET",route="/workspaces/:workspaceId/plan",status="${status}"} 1`;
      assert.include(text, count(200));
      assert.include(text, count(404));
      assert.match(text, /^dravex_database_connections\{pool="read",state="idle"\} \d/m);
      assert.match(text, /^dravex_database_away 0$/m);
      assert.match(text, /^process_resident_memory_bytes \d/m);
      assert.match(text, /^nodejs_eventloop_lag_p99_seconds \d/m);
    } finally {
      await served.close();
    }
  }).timeout(20_000);
});
