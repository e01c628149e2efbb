import { assert } from 'chai';
import { SAMPLE, withSample, until, type Visitor } from '../testing/serve.ts';
import { lockWorkspace } from '../workspaces/store.ts';
import { inTransaction } from './database.ts';

const HEADER =
  'date,channel,product,customer group,region,quantity,net amount,cost,document,line number';
const MONTHS = Array.from({ length: 9 }, (_, place) => `2027-0${place + 1}`);

describe('a server with much to do', () => {
  const sample = withSample();

  const save = (month: string): ReturnType<Visitor['send']> =>
    sample.planner.send('PUT', `${SAMPLE}/drivers/discount/values`, {
      values: [{ scope: [], month, value: 0.5 }],
    });

  it('answers readers while nine people wait to write, and then all of them', async () => {
    let saves: ReturnType<typeof save>[] = [];
    await inTransaction(sample.served.connections, async (tx) => {
      await lockWorkspace(tx, 1);
      saves = MONTHS.map(save);
      for (const path of ['/health', `${SAMPLE}/plan`, `${SAMPLE}/changes?since=1`]) {
        assert.equal((await sample.planner.send('GET', path)).status, 200, path);
      }
    });
    const refused = (await Promise.all(saves)).filter(({ status }) => status !== 200);
    assert.isEmpty(refused.map(({ text }) => text));
  });

  it('takes a file in while nine people save', async () => {
    const row = '2026-10-05,web,tap-one,households,north,1,70.00,30.00,BUSY-1,1';
    const { body } = await sample.planner.send<{ id: number }>(
      'POST',
      `${SAMPLE}/imports?fileName=busy.csv`,
      `${HEADER}\n${row}\n`,
    );
    const applying = sample.planner.send('POST', `${SAMPLE}/imports/${body.id}/apply`);
    const saves = await Promise.all(MONTHS.map(save));
    assert.isTrue(saves.every(({ status }) => status === 200));
    assert.equal((await applying).status, 200);
    await until(async () => {
      const { body: batch } = await sample.planner.send<{ state: string }>(
        'GET',
        `${SAMPLE}/imports/${body.id}`,
      );
      return batch.state === 'applied';
    }, 'the file is taken in');
  });

  it('tells a writer to try again when the wait is too long, and keeps nothing of it', async () => {
    const patient = sample.served.connections.lockWaitMs;
    const before = await sample.planner.send('GET', `${SAMPLE}/plan`);
    Object.assign(sample.served.connections, { lockWaitMs: 200 });
    try {
      await inTransaction(sample.served.connections, async (tx) => {
        await lockWorkspace(tx, 1);
        const { status, problem } = await sample.planner.send(
          'PUT',
          `${SAMPLE}/drivers/discount/values`,
          {
            values: [{ scope: [], month: '2028-01', value: 0.1 }],
          },
        );
        assert.equal(status, 503);
        assert.include(problem?.detail, 'nothing was changed. Try again in a moment');
      });
    } finally {
      Object.assign(sample.served.connections, { lockWaitMs: patient });
    }
    assert.equal((await sample.planner.send('GET', `${SAMPLE}/plan`)).text, before.text);
  });

  it('cuts windows to the horizon, however wide they are asked', async () => {
    const [wide, horizon] = ['from=0001-01&to=9999-12', 'from=2023-04&to=2029-03'];
    for (const path of [
      '/supply.csv?grain=week',
      '/table?rows=channel,product,group,region',
      '/table/measured?rows=channel,product&measures=revenue,margin',
    ]) {
      const asked = await sample.planner.send('GET', `${SAMPLE}${path}&${wide}`);
      const cut = await sample.planner.send('GET', `${SAMPLE}${path}&${horizon}`);
      assert.equal(asked.status, 200, `${path}: ${asked.text.slice(0, 300)}`);
      assert.equal(asked.text, cut.text, path);
    }
  }).timeout(20_000);

  it('computes each part of a formula once, however deep, and refuses what reaches too far', async () => {
    const depth = 40;
    const add = (code: string, months: number): ReturnType<Visitor['send']> =>
      sample.planner.send('POST', `${SAMPLE}/drivers`, {
        code,
        name: code,
        kind: 'moneyPerUnit',
        unit: 'per unit',
        formula: `${'sum('.repeat(depth)}listPrice${`,${months})`.repeat(depth)}`,
      });
    assert.equal((await add('deep', 1)).status, 201);
    const table = await sample.planner.send(
      'GET',
      `${SAMPLE}/table?rows=channel&from=2026-10&to=2027-03`,
    );
    assert.equal(table.status, 200);
    const { status, problem } = await add('deeper', 12);
    assert.equal(status, 400);
    assert.include(problem?.detail, 'it reads 440 months back; the plan has 72 months in all');
  });
});
