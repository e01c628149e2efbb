import type { Conflict, NewTargetNode, TargetNode, TargetTree } from '@dravex/contract';
import type { TargetPart } from '@dravex/core';
import { ref, shallowRef, watch } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { ApiProblem, inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** The target tree of the fiscal year in which the window ends, and changing it. */
export function useTargets() {
  const plan = usePlan();
  const { fiscalYear, formats } = useFrame();
  const tree = shallowRef<TargetTree>();
  const failure = ref('');

  const address = (rest = ''): string => plan.path(`/targets/${fiscalYear.value}${rest}`);

  async function load(): Promise<void> {
    try {
      tree.value = await request<TargetTree>('GET', address());
      failure.value = '';
    } catch (error) {
      failure.value = inWords(error);
    }
  }
  watch([fiscalYear, () => plan.tick], load, { immediate: true });

  /** Sends a change; the answer is the whole tree. @returns whether it was taken */
  async function change(
    method: string,
    rest: string,
    body?: object,
    clash?: (conflict: Conflict) => void,
  ): Promise<boolean> {
    failure.value = '';
    try {
      const answer = await plan.save(() =>
        request<TargetTree | { tree: TargetTree }>(method, address(rest), body),
      );
      tree.value = 'tree' in answer ? answer.tree : answer;
      return true;
    } catch (error) {
      const [conflict] = error instanceof ApiProblem ? error.conflicts : [];
      if (conflict && clash) {
        plan.saving = 'saved';
        await load();
        clash(conflict);
        return false;
      }
      failure.value = inWords(error);
      return false;
    }
  }

  function shown(part: TargetPart): string {
    if (part.kind === 'percent') return formats.value.show(part.percent / 100, 'percent');
    const minor = 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2);
    return formats.value.show(part.amount / minor, 'price');
  }

  /** Gives a node another part; where somebody else did meanwhile, both are shown. */
  function setPart(node: TargetNode, part: TargetPart): Promise<boolean> {
    const top = node.parent === null;
    const saw = node.part.kind === 'amount' ? node.part.amount : undefined;
    const amount = part.kind === 'amount' ? part.amount : 0;
    const [method, rest, body] = top
      ? ['PUT', '', { objective: amount, saw }]
      : ['PATCH', `/nodes/${node.id}`, { part, saw: node.part }];
    return change(method, rest, body, ({ by, at }) => {
      const now = tree.value?.nodes.find(({ id }) => id === node.id);
      if (!now) return;
      const label = `Target of ${node.name}, FY ${fiscalYear.value}`;
      const insist = async (): Promise<void> => void (await setPart(now, part));
      plan.clash = {
        rows: [{ label, theirs: shown(now.part), mine: shown(part), by, at }],
        insist,
      };
    });
  }

  return {
    tree,
    failure,
    fiscalYear,
    setObjective: (objective: number) => change('PUT', '', { objective }),
    setPart,
    add: (node: NewTargetNode) => change('POST', '/nodes', node),
    remove: (node: TargetNode) => change('DELETE', `/nodes/${node.id}`),
  };
}
