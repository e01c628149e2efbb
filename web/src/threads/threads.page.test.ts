import type { Thread } from '@dravex/contract';
import { expect } from 'chai';
import { M } from '../../../core/src/testing/small-plan.ts';
import { desk } from '../../testing/desk.ts';
import { useNotices } from '../plan/use-notices.ts';
import { commentsInWords, numberKey, useThreads } from './use-threads.ts';

const MONTH = 2026 * 12;
const thread = (part: object = {}): Thread =>
  ({
    ...{ id: 1, room: 'budget', source: 'version:3', against: null, measure: 'revenue' },
    ...{ scope: [M.web], from: '2026-01', to: '2026-01', resolved: false, comments: [], ...part },
  }) as never;

describe('what was said of numbers', () => {
  const place = { measure: 'revenue', scope: [M.web], span: { from: MONTH, to: MONTH } };
  const opened = (threads: readonly Thread[], source = 'version:3') =>
    desk(() => useThreads('budget', () => ({ source, against: null })), {
      reply: () => ({ body: threads }),
    });

  it('stands where it was said: the same number, of the same sides', async () => {
    const { used, end } = await opened([
      thread(),
      thread({ id: 2, from: '2026-02', to: '2026-02', resolved: true }),
      thread({ id: 3, source: 'version:4', scope: [M.stores] }),
    ]);
    expect([...used.on.value.open]).to.deep.equal([numberKey(place)]);
    expect(used.openCount.value).to.equal(1);
    expect(commentsInWords(used.openCount.value)).to.equal('All comments, 1 open');
    expect(commentsInWords(0)).to.equal('All comments');
    used.on.value.look(place);
    expect(used.thread.value?.id).to.equal(1);
    used.on.value.look({ ...place, measure: 'nonsense' });
    expect(used.thread.value?.id, 'nothing else was looked at').to.equal(1);
    used.lookAt(thread({ id: 2, from: '2026-02', to: '2026-02' }));
    expect(used.thread.value?.id).to.equal(2);
    end();
  });

  it('is of a scope however its members are written', () => {
    expect(numberKey({ ...place, scope: [2, 1] })).to.equal(numberKey({ ...place, scope: [1, 2] }));
  });
});

describe('what others change', () => {
  /** The stream of a server. */
  class Stream {
    static last: Stream | undefined;
    readonly #hearing = new Map<string, (event: { data: string }) => void>();
    constructor(readonly url: string) {
      Stream.last = this;
    }
    closed = false;
    addEventListener(name: string, hear: (event: { data: string }) => void): void {
      this.#hearing.set(name, hear);
    }
    tell(name: string, data: object): void {
      this.#hearing.get(name)?.({ data: JSON.stringify(data) });
    }
    close(): void {
      this.closed = true;
    }
  }

  it('is followed with the name of who did it and where, one’s own without', async () => {
    Object.assign(globalThis, { EventSource: Stream });
    const { plan, server, asked, done, end } = await desk(useNotices);
    expect(Stream.last?.url).to.equal('/api/workspaces/1/notices');
    const notice = { journal: 4, by: 'Ilse', room: 'drivers' };
    server.revision = 2;
    Stream.last?.tell('change', { ...notice, revision: 2 });
    await done();
    expect([plan.revision, plan.said?.text]).to.deep.equal([2, 'Ilse changed Drivers']);
    plan.said = undefined;
    server.revision = 3;
    Stream.last?.tell('change', { ...notice, by: 'Mara', revision: 3 });
    await new Promise((resolve) => setTimeout(resolve, 750));
    await done();
    expect([plan.revision, plan.said]).to.deep.equal([3, undefined]);
    // After a break it says where the workspace is: nothing is asked for that is known.
    const before = asked.length;
    Stream.last?.tell('start', { revision: 3 });
    await new Promise((resolve) => setTimeout(resolve, 750));
    expect(asked.length).to.equal(before);
    end();
    expect(Stream.last?.closed).to.equal(true);
  });
});
