import { assert } from 'chai';
import fc from 'fast-check';
import { ref } from 'vue';
import type { GridEdit } from '../grid/plan-grid.ts';
import { Line } from './line.ts';
import { TypedEdits, type Keeping } from './typed-edits.ts';

const edit = (column: string, text: string): GridEdit => ({ row: 'r', column, text });
const soon = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 1));
const idle = (line: Line): Promise<void> => line.join(() => Promise.resolve());

/** A grid that writes down what it does; cells are read against what was followed last. */
function gridOf(line: Line, keep: (edits: readonly GridEdit[]) => Promise<void>) {
  const done: string[] = [];
  const keeping: Keeping<GridEdit> = {
    async keep(edits) {
      done.push(edits.map(({ text }) => text).join(' '));
      await keep(edits);
    },
    follow: () => Promise.resolve(void done.push('follow')),
    apart: (one, other) => one.column !== other.column,
  };
  return { done, typed: new TypedEdits(line, keeping) };
}

describe('what is typed', () => {
  it('is kept one after the other, and followed when nothing more waits', async () => {
    const line = new Line();
    const { done, typed } = gridOf(line, soon);
    typed.add([edit('a', '1')]);
    typed.add([edit('b', '2')]);
    typed.add([edit('c', '3'), edit('d', '3')]);
    assert.sameMembers([...typed.waiting.value.keys()], ['r a', 'r b', 'r c', 'r d']);
    assert.equal(line.waiting.value, 3);
    await idle(line);
    assert.deepEqual(done, ['1', '2', '3 3', 'follow']);
    assert.isEmpty([...typed.waiting.value]);
  });

  it('never goes past an undo, and is read anew where it is read against what was typed', async () => {
    const line = new Line();
    const { done, typed } = gridOf(line, soon);
    typed.add([edit('a', '1')]);
    typed.add([edit('b', '2')]);
    const undone = line.join(() => Promise.resolve(void done.push('undo')));
    typed.add([edit('c', '+8%')]);
    typed.add([edit('c', '4')]);
    await undone;
    await idle(line);
    assert.deepEqual(done, ['1', '2', 'follow', 'undo', '+8%', 'follow', '4', 'follow']);
  });

  it('waits no longer where it was refused, and what comes after it is kept', async () => {
    const line = new Line();
    const refused = new Set(['13']);
    const kept: string[] = [];
    const { typed } = gridOf(line, ([one]) => {
      if (!refused.has(one?.text ?? '')) kept.push(one?.text ?? '');
      return Promise.resolve();
    });
    typed.add([edit('a', '13')]);
    typed.add([edit('a', '14')]);
    assert.equal(typed.waiting.value.get('r a'), '14');
    await idle(line);
    assert.deepEqual(kept, ['14']);
    assert.isEmpty([...typed.waiting.value]);
  });

  it('shows as waiting only what was typed into what is in sight', async () => {
    const line = new Line();
    const shown = ref('discount');
    const typed = new TypedEdits<GridEdit & { driver: string }>(line, {
      keep: soon,
      follow: () => Promise.resolve(),
      apart: () => true,
      inSight: ({ driver }) => driver === shown.value,
    });
    const waiting = (): string => [...typed.waiting.value].flat().join(' ');
    typed.add([{ ...edit('a', '1'), driver: 'discount' }]);
    typed.add([{ ...edit('a', '2'), driver: 'price' }]);
    assert.equal(waiting(), 'r a 1');
    shown.value = 'price';
    assert.equal(waiting(), 'r a 2');
    await idle(line);
    assert.equal(waiting(), '');
  });

  it('comes to what typing slowly comes to, however fast it is typed', async () => {
    const list = fc.array(
      fc.record({
        column: fc.constantFrom('a', 'b', 'c'),
        text: fc.constantFrom('1', '2', '3', '+=4', 'x2'),
        pause: fc.boolean(),
      }),
      { maxLength: 12 },
    );
    const worked = (now: number, text: string): number =>
      text === '+=4' ? now + 4 : text === 'x2' ? now * 2 : Number(text);
    await fc.assert(
      fc.asyncProperty(list, async (edits) => {
        const line = new Line();
        const [slow, server] = [new Map<string, number>(), new Map<string, number>()];
        let screen = new Map<string, number>();
        const typed = new TypedEdits<GridEdit>(line, {
          async keep([one]) {
            const now = screen.get(one?.column ?? '') ?? 0;
            await soon();
            server.set(one?.column ?? '', worked(now, one?.text ?? ''));
          },
          follow: () => Promise.resolve(void (screen = new Map(server))),
          apart: (one, other) => one.column !== other.column,
        });
        for (const { column, text, pause } of edits) {
          slow.set(column, worked(slow.get(column) ?? 0, text));
          typed.add([edit(column, text)]);
          if (pause) await soon();
        }
        await idle(line);
        assert.deepEqual([...server].sort(), [...slow].sort());
      }),
      { numRuns: 60 },
    );
  });
});
