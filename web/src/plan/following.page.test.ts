import { expect } from 'chai';
import { nextTick, ref, shallowRef } from 'vue';
import { M } from '../../../core/src/testing/small-plan.ts';
import { desk } from '../../testing/desk.ts';
import { useCode } from '../people/use-code.ts';
import { useRights } from '../people/use-planner.ts';
import { ApiProblem } from '../shell/api.ts';
import { useSure } from '../writing/use-sure.ts';
import { useAnswer } from './use-answer.ts';
import { useMembers } from './use-members.ts';
import { meantBy, meantInPlan, useTyped } from './use-typed.ts';
import { useUnanswered } from './use-unanswered.ts';

/** Questions that are answered when somebody says so. */
function questions() {
  const open: ((answer: string) => void)[] = [];
  return {
    ask: () => new Promise<string>((resolve) => open.push(resolve)),
    answer: (place: number, text: string) => open[place]?.(text),
    count: () => open.length,
  };
}

describe('what follows what it depends on', () => {
  it('drops an answer that was overtaken, and keeps the last one until the next is there', async () => {
    const source = ref(1);
    const { ask, answer, count } = questions();
    const { used, end } = await desk(() => useAnswer([source], ask));
    source.value = 2;
    await nextTick();
    expect(count()).to.equal(2);
    answer(1, 'second');
    await used.settled();
    answer(0, 'first');
    await nextTick();
    expect(used.data.value).to.equal('second');
    source.value = 3;
    await nextTick();
    expect(used.data.value).to.equal('second');
    answer(2, 'third');
    await used.settled();
    expect(used.data.value).to.equal('third');
    end();
  });

  it('says why there is no answer, and waits for what comes together where it may', async () => {
    const source = ref(0);
    let asked = 0;
    const { used, end } = await desk(() =>
      useAnswer(
        [source],
        () => {
          asked += 1;
          return asked === 1 ? Promise.reject(new Error('Nothing there')) : Promise.resolve(asked);
        },
        20,
      ),
    );
    expect(used.failure.value).to.equal('Nothing there');
    for (const next of [1, 2, 3]) {
      source.value = next;
      await nextTick();
    }
    await used.settled();
    expect([asked, used.data.value, used.failure.value]).to.deep.equal([2, 2, '']);
    end();
  });
});

describe('what was typed and waits for an answer', () => {
  const edit = (text: string, part: object = {}) => ({ row: 'r', column: 'c', text, ...part });
  const typing = () => {
    const kept: string[] = [];
    const typed = useTyped({
      keep: (edits) => {
        for (const one of edits) {
          if (one.text === 'slip' && !('sure' in one && one.sure)) {
            const words = { typed: '1,000', meant: '1', stands: '1', text: '1' };
            typed.doubt([{ edit: one, ...words }]);
          } else if (one.text === 'no') {
            typed.refuse([{ place: 'r c', reason: 'Not a number' }]);
          } else kept.push(one.text);
        }
        return Promise.resolve();
      },
      follow: () => Promise.resolve(),
      apart: () => false,
    });
    return { ...typed, kept };
  };

  it('is kept as it was typed, as it was meant, or not at all', async () => {
    const { used, plan, done, end } = await desk(typing);
    used.edit([edit('slip')]);
    await done();
    expect([used.kept.length, plan.unanswered]).to.deep.equal([0, 1]);
    used.settle('meant');
    await done();
    expect([used.kept, plan.unanswered]).to.deep.equal([['1'], 0]);
    used.edit([edit('slip')]);
    await done();
    used.settle('typed');
    await done();
    expect(used.kept).to.deep.equal(['1', 'slip']);
    used.edit([edit('slip')]);
    await done();
    used.settle('nothing');
    expect(used.message.value).to.equal('Nothing was changed.');
    // What is typed anew in the same cell is what counts.
    used.edit([edit('slip')]);
    await done();
    used.edit([edit('7')]);
    await done();
    expect([used.doubts.value.length, used.kept.at(-1)]).to.deep.equal([0, '7']);
    end();
  });

  it('stays marked where it was refused until something else is typed there, or all is undone', async () => {
    const { used, plan, done, end } = await desk(typing);
    used.edit([edit('no')]);
    await done();
    expect(used.refused.value.get('r c')).to.equal('Not a number');
    expect(used.message.value).to.equal('Not a number. The old value stays.');
    used.edit([edit('7')]);
    expect(used.refused.value.size).to.equal(0);
    await done();
    used.say('12 cells changed.');
    used.journal.value = 5;
    plan.undone += 1;
    await nextTick();
    expect([used.message.value, used.journal.value]).to.deep.equal(['', null]);
    end();
  });

  it('is told to whoever leaves the room', async () => {
    const count = ref(2);
    const { plan, end } = await desk(() => useUnanswered(() => count.value));
    count.value = 1;
    await nextTick();
    expect(plan.unanswered).to.equal(1);
    end();
    expect(plan.unanswered).to.equal(0);
    expect(plan.said?.text).to.equal('A value that was waiting for your answer was not saved');
  });

  it('may be a slip by a thousand, or a minus that was not meant', () => {
    expect(meantBy(edit('1200000'), 1_200_000, 1100)).to.equal(1200);
    expect(meantBy(edit('1.2'), 1.2, 1100)).to.equal(1200);
    expect(meantBy(edit('1200'), 1200, 1100)).to.equal(undefined);
    expect(meantBy(edit('x1000'), 1_100_000, 1100), 'meant by its sign').to.equal(undefined);
    expect(meantBy(edit('1200000', { sure: true }), 1_200_000, 1100)).to.equal(undefined);
    expect(meantInPlan(edit('-5'), -5, 10)).to.equal(5);
    expect(meantInPlan(edit('-5'), -5, -10)).to.equal(undefined);
  });
});

describe('who may do what, and what is asked on the way', () => {
  it('follows the role in the workspace', async () => {
    for (const [role, expected] of [
      ['owner', [true, true, true, true]],
      ['planner', [true, true, true, false]],
      ['manager', [false, false, true, false]],
      ['reader', [false, true, false, false]],
    ] as const) {
      const { used, end } = await desk(useRights, { role });
      const { plans, readsAll, divides, owns } = used;
      expect([plans, readsAll, divides, owns].map(({ value }) => value)).to.deep.equal(expected);
      end();
    }
  });

  it('names members with their dimensions, as they are chosen', async () => {
    const { used, end } = await desk(useMembers);
    expect(used.value.find(({ id }) => id === M.north)?.name).to.equal('Region: north');
    end();
  });

  it('asks for a code once the server says that it needs one', async () => {
    const { needsCode, asking } = useCode();
    const errors = [{ path: 'code', message: 'Enter the code' }];
    const wrong = () => Promise.reject(new ApiProblem(401, 'Wrong password'));
    await asking(wrong).catch(() => undefined);
    expect(needsCode.value).to.equal(false);
    const asks = () => Promise.reject(new ApiProblem(401, 'A code is needed', errors));
    await asking(asks).catch(() => undefined);
    expect(needsCode.value).to.equal(true);
    expect(await asking(() => Promise.resolve(7))).to.equal(7);
  });

  it('does what was asked about by the same button, and asks anew after a change', async () => {
    const form = ref({ sure: false, name: 'North' });
    const wrong = shallowRef<string[]>([]);
    const { used, end } = await desk(() => useSure(form, () => wrong.value));
    wrong.value = ['12 members lose their area'];
    await nextTick();
    expect([form.value.sure, used.value]).to.deep.equal([true, '12 members lose their area']);
    form.value.name = 'South';
    await nextTick();
    expect([form.value.sure, used.value]).to.deep.equal([false, '']);
    end();
  });
});
