import type { TargetNode } from '@dravex/contract';
import { expect } from 'chai';
import { ref } from 'vue';
import { desk, type DeskParts } from '../../testing/desk.ts';
import type { AskedWords } from '../kit/WordsDialog.vue';
import { useNodeActions } from './use-node-actions.ts';
import { useTargets } from './use-targets.ts';

const node = (id: number, part: Partial<TargetNode> = {}): TargetNode =>
  ({
    ...{ id, parent: 1, level: 1, name: `N${id}`, kind: 'area', locked: false, state: 'draft' },
    ...{ scope: [], seller: null, months: null, comment: null, unassigned: null, known: true },
    ...{ part: { kind: 'percent', percent: 50 }, amount: 100, lastYear: 0, actual: 0, due: null },
    ...{ others: null, toDate: null, counts: null, overAssigned: null, ...part },
  }) as TargetNode;
const ALL = [node(1, { parent: null, level: 0 }), node(2), node(3), node(4, { kind: 'person' })];

const opened = (role: NonNullable<DeskParts['role']>, nodes = ALL) =>
  desk(
    () => {
      const asked = ref<AskedWords>();
      return { ...useNodeActions(useTargets(), ref(nodes), asked), asked };
    },
    { role, at: 'from=2026-01&to=2026-12', reply: () => ({ body: { objectives: [], nodes: [] } }) },
  );
const names = (actions: readonly { name: string }[]) => actions.map(({ name }) => name);

describe('what can be done with a target', () => {
  it('is only looked at by whoever reads', async () => {
    const { used, end } = await opened('reader');
    expect(names(used.actionsOf(ALL[1] as TargetNode))).to.deep.equal([
      'Is it possible?',
      'Deal plan of N2',
    ]);
    expect(used.canMove(ALL[1] as TargetNode)).to.equal(false);
    end();
  });

  it('is added to, edited, locked, handed out and removed by whoever plans', async () => {
    const { used, sent, done, end } = await opened('planner');
    const of = (id: number) => used.actionsOf(ALL.find((one) => one.id === id) as TargetNode);
    expect(names(of(2))).to.deep.equal([
      ...['Add below N2', 'Edit N2', 'Is it possible?', 'Deal plan of N2', 'Lock N2'],
      ...['Move some of N2 to another', 'Hand out N2', 'Remove N2'],
    ]);
    expect(names(of(1)), 'the whole company is not removed').to.not.include('Remove N1');
    expect(names(of(4))).to.include('N4 leaves');
    const act = (id: number, name: string) =>
      of(id)
        .find((one) => one.name === name)
        ?.act();
    act(2, 'Edit N2');
    expect(used.subject.value).to.deep.include({ kind: 'edit' });
    act(4, 'N4 leaves');
    expect(used.inPanel.value?.id).to.equal(4);
    used.close();
    expect(used.inPanel.value).to.equal(undefined);
    act(2, 'Lock N2');
    await done();
    expect(sent().at(-1)?.body).to.deep.equal({ locked: true });
    end();
  });

  it('goes on its way: handed out, questioned, agreed, and back', async () => {
    const found: string[][] = [];
    for (const state of ['draft', 'handedOut', 'questioned', 'agreed'] as const) {
      const { used, sent, done, end } = await opened('planner');
      const actions = used.actionsOf(node(2, { state, comment: 'Too much' }));
      if (state === 'handedOut') {
        await actions.find(({ name }) => name === 'Question the target of N2')?.act();
        expect(used.asked.value?.begins).to.equal('Too much');
        await used.asked.value?.done('Half of it?');
        await done();
        expect(sent().at(-1)?.body).to.deep.equal({ state: 'questioned', comment: 'Half of it?' });
      }
      end();
      found.push(names(actions).filter((name) => /target of|Hand out|draft/.test(name)));
    }
    expect(found).to.deep.equal([
      ['Hand out N2'],
      ['Agree the target of N2', 'Question the target of N2', 'Return N2 to draft'],
      ['Agree the target of N2', 'Hand out N2 again'],
      ['Question the target of N2', 'Return N2 to draft'],
    ]);
  });

  it('gives some to another one that it is dropped on, but to none elsewhere', async () => {
    const elsewhere = node(9, { parent: 7 });
    const { used, end } = await opened('planner', [...ALL, elsewhere]);
    used.move(2, 3);
    expect([used.moving.value?.from.id, used.moving.value?.to?.id]).to.deep.equal([2, 3]);
    used.move(2, 9);
    expect(used.moving.value?.to, 'it is chosen then').to.equal(undefined);
    used.moving.value = undefined;
    used.move(1, 2);
    expect(used.moving.value).to.equal(undefined);
    end();
  });
});
