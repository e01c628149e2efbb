import type { View } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('views that are kept', () => {
  const sample = withSample();

  const PATH = `${SAMPLE}/kept-views`;
  const kept = async (): Promise<View[]> => (await sample.planner.send<View[]>('GET', PATH)).body;
  const address = 'measures=units%2CshareOfMarket&across=yes&from=2026-04&to=2027-03';

  it('are kept under a name, written over, forgotten, and brought back', async () => {
    const name = encodeURIComponent('Market, by region');
    const put = (body: object) => sample.planner.send('PUT', `${PATH}/${name}`, body);
    assert.equal((await put({ room: 'forecast', address })).status, 204);
    const [view] = await kept();
    assert.deepInclude(view, { name: 'Market, by region', room: 'forecast', address });
    assert.equal((await put({ room: 'forecast', address: 'measures=units' })).status, 204);
    assert.deepEqual(
      (await kept()).map((one) => one.address),
      ['measures=units'],
    );
    await sample.planner.send('DELETE', `${PATH}/${name}`);
    assert.isEmpty(await kept());
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal((await kept())[0]?.address, address, 'two steps back it is as it was first');
  });

  it('take no name that is none, no other room and no other text', async () => {
    const wrong: [string, object][] = [
      [' ', { room: 'forecast', address }],
      ['x', { room: 'nowhere', address }],
      ['x', { room: 'forecast', address: 'a b' }],
      ['x'.repeat(200), { room: 'forecast', address }],
    ];
    for (const [name, body] of wrong) {
      const refused = await sample.planner.send('PUT', `${PATH}/${encodeURIComponent(name)}`, body);
      assert.equal(refused.status, 400, name);
    }
    assert.equal((await sample.planner.send('DELETE', `${PATH}/nobody`)).status, 404);
  });
});
