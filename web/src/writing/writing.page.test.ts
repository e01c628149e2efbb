import { connectionOperations } from '@dravex/contract';
import { expect } from 'chai';
import { ref } from 'vue';
import { settle, within } from '../../testing/mounting.ts';
import { answering, refusal } from '../../testing/server.ts';
import { call } from '../shell/client.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useForm } from './use-form.ts';
import { useSaving } from './use-saving.ts';
import { useWork } from './use-work.ts';
import { useWriting } from './use-writing.ts';

describe('writing', () => {
  it('is under way, then kept; what follows hears what was answered', async () => {
    const { used, end } = within(() => ({ ...useWriting(), plan: usePlan() }));
    let answer: (value: number) => void = () => undefined;
    const heard: number[] = [];
    const done = used.write(
      () => new Promise<number>((resolve) => (answer = resolve)),
      (value) => heard.push(value),
    );
    expect([used.busy.value, used.plan.saving]).to.deep.equal([true, 'saving']);
    answer(7);
    expect(await done).to.equal(true);
    expect([used.busy.value, used.plan.saving, heard]).to.deep.equal([false, 'saved', [7]]);
    end();
  });

  it('puts a refusal into words that stay until the next try, and the foot is calm', async () => {
    const { used, end } = within(() => ({ ...useWriting(), plan: usePlan() }));
    expect(await used.write(() => Promise.reject(new Error('The name is taken')))).to.equal(false);
    expect(used.failure.value).to.equal('The name is taken');
    expect(used.plan.saving).to.equal('saved');
    const next = used.write(() => Promise.resolve());
    expect(used.failure.value).to.equal('');
    await next;
    end();
  });
});

describe('a form', () => {
  const fresh = { name: '', url: 'https://erp.example', key: 'k', everyMinutes: 60 };
  /** The form of a connection, checked by the contract's own schema. */
  const formOf = (send: (body: object) => Promise<unknown>, known = ref(fresh)) =>
    within(() =>
      useForm({
        fresh: () => ({ ...known.value }),
        schema: connectionOperations.addConnection.body,
        send,
      }),
    );

  it('complains of a field when it was left, and of all when it is sent', async () => {
    const sent: object[] = [];
    const { used, end } = formOf(async (body) => sent.push(body));
    expect(used.field('name').errorMessages).to.deep.equal([]);
    used.field('name').onBlur();
    expect(used.field('name').errorMessages).to.deep.equal(['give it a name']);
    used.field('url')['onUpdate:modelValue']('nowhere');
    expect(used.field('url').errorMessages).to.deep.equal([]);
    expect(await used.submit()).to.equal(false);
    expect(used.field('url').errorMessages[0]).to.contain('an address such as');
    expect(sent).to.deep.equal([]);
    used.field('name')['onUpdate:modelValue']('Order book');
    used.field('url')['onUpdate:modelValue']('http://books.example');
    expect(await used.submit()).to.equal(true);
    expect(sent).to.deep.equal([{ ...fresh, name: 'Order book', url: 'http://books.example' }]);
    end();
  });

  it('shows what the server refuses at the field itself, and keeps what was typed', async () => {
    const { asked, end: endServer } = answering(() =>
      refusal(400, 'This is wrong', { errors: [{ path: 'key', message: 'not the key' }] }),
    );
    const { used, end } = formOf(() =>
      call(
        connectionOperations.addConnection,
        { workspaceId: 1 },
        { name: 'Order book', url: 'https://erp.example', key: 'k' },
      ),
    );
    used.form.value.name = 'Order book';
    expect(await used.submit()).to.equal(false);
    expect(asked.map(({ method, path }) => `${method} ${path}`)).to.deep.equal([
      'POST /workspaces/1/connections',
    ]);
    expect(used.failure.value).to.equal('This is wrong');
    expect(used.field('key').errorMessages).to.deep.equal(['not the key']);
    expect(used.form.value.name).to.equal('Order book');
    // What a field says is not said twice.
    expect(used.failure.value).to.equal('This is wrong');
    endServer();
    end();
  });

  it('keeps what was typed when something arrives, and what is typed while it is being kept', async () => {
    const known = ref({ ...fresh });
    let answer: () => void = () => undefined;
    const { used, end } = formOf(() => new Promise<void>((resolve) => (answer = resolve)), known);
    used.form.value.name = 'Mine';
    known.value = { ...fresh, key: 'changed by somebody' };
    await settle();
    expect(used.form.value.name).to.equal('Mine');
    const done = used.submit();
    await settle();
    used.form.value.name = 'Mine, and more';
    answer();
    expect(await done).to.equal(true);
    expect(used.form.value.name).to.equal('Mine, and more');
    end();
  });
});

describe('long work', () => {
  it('is in sight while it lasts, with how far it is and how to stop it', async () => {
    const { used: work, end } = within(useWork);
    let go: () => void = () => undefined;
    let stopped = false;
    const done = work.during('Importing', async (said) => {
      said.share = 0.25;
      said.stop = () => (stopped = true);
      await new Promise<void>((resolve) => (go = resolve));
    });
    expect(work.list.map(({ name, share }) => [name, share])).to.deep.equal([['Importing', 0.25]]);
    work.list[0]?.stop?.();
    expect(stopped).to.equal(true);
    go();
    await done;
    expect(work.list).to.deep.equal([]);
    await work.during('Failing', () => Promise.reject(new Error('no'))).catch(() => undefined);
    expect(work.list).to.deep.equal([]);
    end();
  });
});

describe('saving a file', () => {
  /** What the browser was given to keep, by name. */
  function keeping(): { kept: string[]; end(): void } {
    const kept: string[] = [];
    const click = HTMLAnchorElement.prototype.click;
    HTMLAnchorElement.prototype.click = function (this: HTMLAnchorElement) {
      kept.push(this.download);
    };
    return { kept, end: () => (HTMLAnchorElement.prototype.click = click) };
  }

  it('keeps what arrives, says how much, and is stopped without a file', async () => {
    const before = globalThis.fetch;
    let go: () => void = () => undefined;
    const fake = (_: string, { signal }: { signal: AbortSignal }): Promise<Response> =>
      Promise.resolve(
        new Response(
          new ReadableStream({
            start(stream) {
              stream.enqueue(new Uint8Array(2000));
              signal.addEventListener('abort', () => stream.error(new Error('aborted')));
              go = () => stream.close();
            },
          }),
          { headers: { 'content-disposition': 'attachment; filename="table.csv"' } },
        ),
      );
    Object.assign(globalThis, { fetch: fake });
    const { kept, end: endKeeping } = keeping();
    const { used, end } = within(() => ({ save: useSaving(), work: useWork(), plan: usePlan() }));
    const done = used.save('Save as CSV', '/api/table.csv');
    await settle();
    expect(used.work.list.map(({ name, arrived }) => [name, arrived])).to.deep.equal([
      ['Save as CSV', 2000],
    ]);
    go();
    await done;
    expect(kept).to.deep.equal(['table.csv']);
    const stopped = used.save('Save as CSV', '/api/table.csv');
    await settle();
    used.work.list[0]?.stop?.();
    await stopped;
    expect(used.plan.said?.text).to.equal('Stopped; nothing was saved');
    expect([kept.length, used.work.list.length]).to.deep.equal([1, 0]);
    Object.assign(globalThis, { fetch: before });
    endKeeping();
    end();
  });

  it('says what the server refuses', async () => {
    const { end: endServer } = answering(() => refusal(400, 'This period is too long'));
    const { used, end } = within(() => ({ save: useSaving(), plan: usePlan() }));
    await used.save('Save as CSV', '/api/table.csv');
    expect(used.plan.said?.text).to.equal('This period is too long');
    endServer();
    end();
  });
});
