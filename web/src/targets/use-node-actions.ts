import type { TargetNode } from '@dravex/contract';
import { meaningOf } from '@dravex/core';
import { computed, ref, type Ref } from 'vue';
import { WORDS } from '../format/words.ts';
import { useRights } from '../people/use-planner.ts';
import type { Moving } from './MoveDialog.vue';
import type { NodeSubject } from './NodeDialog.vue';
import type { AskedWords } from '../kit/WordsDialog.vue';
import { gapOf, isDivided } from './target-rows.ts';
import { TEXTS } from './texts.ts';
import type { useTargets } from './use-targets.ts';

/** Something that can be done with a node. */
export interface NodeAction {
  readonly name: string;
  readonly act: () => unknown;
}
export type PanelKind = 'divide' | 'leave' | 'months' | 'deals' | 'possible' | 'gap';

/**
 * What can be done with a node of the tree, and the panel that stands beside it.
 * @param nodes those in sight
 * @param asked where words are asked for, such as a question
 */
export function useNodeActions(
  targets: ReturnType<typeof useTargets>,
  nodes: Readonly<Ref<readonly TargetNode[]>>,
  asked: Ref<AskedWords | undefined>,
) {
  const { plans, divides } = useRights();
  /** What is added or edited. */
  const subject = ref<NodeSubject>();
  /** What stands beside the table, and for which node. */
  const panel = ref<{ readonly kind: PanelKind; readonly node: number }>();
  /** Whose target gives some to another one. */
  const moving = ref<Moving>();
  const inPanel = computed(() => nodes.value.find(({ id }) => id === panel.value?.node));
  const show = (kind: PanelKind, node: TargetNode): void =>
    void (panel.value = { kind, node: node.id });
  const close = (): void => void (panel.value = undefined);

  /** Whether some of a target can go to another one beside it. */
  function canMove({ id, parent, locked }: TargetNode): boolean {
    return (
      divides.value &&
      parent !== null &&
      !locked &&
      meaningOf(targets.measure.value).adds &&
      nodes.value.some((other) => other.parent === parent && other.id !== id)
    );
  }
  /** A node was dropped on another one: some of its target is to go there. */
  function move(id: number, onto: number): void {
    const [from, to] = [id, onto].map((one) => nodes.value.find((node) => node.id === one));
    if (!from || !canMove(from)) return;
    moving.value = { from, to: to?.parent === from.parent && !to.locked ? to : undefined };
  }

  /** In the order in which one does it. */
  function actionsOf(node: TargetNode): NodeAction[] {
    const { name } = node;
    const reads: NodeAction[] = [
      ...(gapOf(node) === null
        ? []
        : [{ name: TEXTS.whyIsAheadOrBehind(name), act: () => show('gap', node) }]),
      { name: TEXTS.isItPossible, act: () => show('possible', node) },
      ...(node.months ? [{ name: TEXTS.monthsOf(name), act: () => show('months', node) }] : []),
      { name: TEXTS.dealPlanOf(name), act: () => show('deals', node) },
    ];
    if (!divides.value) return reads;
    // What somebody holds was handed out to them: they divide it, and agree it or question it.
    const own = !plans.value && node.parent === null;
    const person = node.kind === 'person';
    const { adds } = meaningOf(targets.measure.value);
    return [
      { name: TEXTS.addBelowOf(name), act: () => (subject.value = { kind: 'add', below: node }) },
      ...(isDivided(node) && adds
        ? [{ name: TEXTS.divideOf(name), act: () => show('divide', node) }]
        : []),
      ...(own
        ? []
        : [{ name: TEXTS.edit(name), act: () => (subject.value = { kind: 'edit', node }) }]),
      ...reads,
      ...(node.parent === null
        ? []
        : [
            {
              name: node.locked ? TEXTS.unlock(name) : TEXTS.lock(name),
              act: () => targets.set(node, { locked: !node.locked }),
            },
          ]),
      ...(canMove(node)
        ? [
            {
              name: TEXTS.moveSomeOfToAnother(name),
              act: () => (moving.value = { from: node, to: undefined }),
            },
          ]
        : []),
      ...(person && adds && !own
        ? [{ name: TEXTS.leaves(name), act: () => show('leave', node) }]
        : []),
      ...statesOf(node, own),
      ...(node.parent !== null && !isDivided(node)
        ? [{ name: WORDS.removeOf(name), act: () => targets.remove(node) }]
        : []),
    ];
  }

  /**
   * Handing out, agreeing and questioning.
   * @param own whether it was handed out to whoever is signed in
   */
  function statesOf(node: TargetNode, own: boolean): NodeAction[] {
    const { name, state } = node;
    const become = (to: TargetNode['state'], comment = '') =>
      targets.set(node, { state: to, comment });
    const agree = { name: TEXTS.agreeTargetOf(name), act: () => become('agreed') };
    const question = {
      name: TEXTS.questionTargetOf(name),
      act: () =>
        (asked.value = {
          ...{ title: TEXTS.questionTargetOf(name), label: TEXTS.question, action: WORDS.save },
          begins: node.comment ?? '',
          done: (comment: string) => become('questioned', comment),
        }),
    };
    const back = { name: TEXTS.returnToDraft(name), act: () => become('draft') };
    if (own) {
      if (state === 'draft') return [];
      return state === 'agreed' ? [question] : [agree, question];
    }
    switch (state) {
      case 'draft':
        return [{ name: TEXTS.handOut(name), act: () => targets.handOut(node) }];
      case 'handedOut':
        return [agree, question, back];
      case 'questioned':
        return [agree, { name: TEXTS.handOutAgain(name), act: () => become('handedOut') }];
      case 'agreed':
        return [question, back];
    }
  }

  return { subject, panel, inPanel, moving, close, actionsOf, canMove, move };
}
