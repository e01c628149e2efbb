import type { Thread } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

describe('comments on numbers', () => {
  const sample = withSample();

  const PATH = `${SAMPLE}/threads`;
  const place = {
    ...{ room: 'budget', source: 'version:1', against: null, measure: 'revenue' },
    ...{ scope: [31, 1], from: '2026-10', to: '2026-10' },
  } as const;
  const say = (more: object) =>
    sample.planner.send<Thread>('POST', PATH, { ...place, text: 'Is this right?', ...more });
  const threads = async (query = ''): Promise<Thread[]> =>
    (await sample.planner.send<Thread[]>('GET', `${PATH}${query}`)).body;

  it('stand in one thread a number, with who said what and when', async () => {
    const first = await say({});
    assert.equal(first.status, 200, first.text);
    // The same scope in another order is the same number; another month is another one.
    const second = await say({ scope: [1, 31], text: 'The fair is in October' });
    assert.equal(second.body.id, first.body.id);
    await say({ from: '2026-11', to: '2026-11' });
    const [later, thread] = await threads('?room=budget');
    assert.lengthOf(later?.comments ?? [], 1);
    assert.deepEqual(
      thread?.comments.map(({ by, text }) => [by, text]),
      [
        ['Mara Ellingsen', 'Is this right?'],
        ['Mara Ellingsen', 'The fair is in October'],
      ],
    );
    assert.isEmpty(await threads('?room=comparison'));
    await say({ room: 'comparison', source: 'actual', against: 'version:1' });
    assert.lengthOf(await threads('?room=comparison'), 1);
  });

  it('go out with the comparison that they are of', async () => {
    const months = { from: '2026-04', to: '2026-09' };
    const of = { room: 'comparison', source: 'actual', against: 'version:1', ...months };
    await say({ ...of, scope: [1], text: 'Late orders, "October"' });
    const file = async (against: string) =>
      (
        await sample.planner.send(
          'GET',
          `${SAMPLE}/comparison.csv?rows=channel&from=2026-04&to=2027-03&against=${against}`,
        )
      ).text.split('\r\n');
    const [head, web] = await file('version:1');
    assert.match(head ?? '', /,Comments$/);
    assert.match(web ?? '', /^Web shop,.*,"Mara Ellingsen: Late orders, ""October"""$/);
    const [other] = await file('lastYear');
    assert.notMatch(other ?? '', /Comments/);
  });

  it('are resolved and opened again, by hand or by who goes on; undo takes each step back', async () => {
    const { body: made } = await say({ measure: 'units' });
    const path = `${PATH}/${made.id}`;
    const resolved = await sample.planner.send<Thread>('PATCH', path, { resolved: true });
    assert.isTrue(resolved.body.resolved);
    const again = await say({ measure: 'units', text: 'Not yet' });
    assert.isFalse(again.body.resolved);
    assert.lengthOf(again.body.comments, 2);
    const now = async () => (await threads()).find(({ id }) => id === made.id);
    const undone = await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal(undone.status, 200, undone.text);
    assert.deepInclude(await now(), { resolved: true, comments: made.comments });
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.isUndefined(await now());
    await sample.planner.send('POST', `${SAMPLE}/redo`);
    assert.deepInclude(await now(), { resolved: false, comments: made.comments });
  });

  it('refuse what is none, and whoever may not', async () => {
    const count = (await threads()).length;
    for (const [more, status, said] of [
      [{ text: '  ' }, 400, 'write something'],
      [{ text: 'x'.repeat(2001) }, 400, 'at most 2000'],
      [{ from: '2026-11' }, 400, 'ends before it begins'],
      [{ against: 'lastYear' }, 400, 'a budget has none'],
      [{ room: 'comparison' }, 400, 'second side'],
      [{ source: 'budget' }, 400, 'a source is actual'],
      [{ scope: [99_999] }, 400, 'There is no member'],
      [{ source: 'version:99' }, 404, 'version'],
    ] as const) {
      const refused = await say(more);
      assert.equal(refused.status, status, said);
      assert.include(refused.text, said);
    }
    const gone = await sample.planner.send('PATCH', `${PATH}/nobody`, { resolved: true });
    assert.equal(gone.status, 404);
    const reader = await sample.served.reader();
    assert.equal((await reader.send('POST', PATH, { ...place, text: 'Why?' })).status, 403);
    assert.lengthOf((await reader.send<Thread[]>('GET', PATH)).body, count);
  });

  it('follow a member that is merged into another one', async () => {
    const { body: made } = await say({ scope: [32], text: 'The coast' });
    const merged = await sample.planner.send(
      'POST',
      `${SAMPLE}/dimensions/region/members/32/merge`,
      {
        into: 31,
      },
    );
    assert.equal(merged.status, 200, merged.text);
    const found = (await threads()).find(({ id }) => id === made.id);
    assert.deepEqual(found?.scope, [31]);
  });
});
