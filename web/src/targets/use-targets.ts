import type { NewTargetNode, TargetNode, TargetTree } from '@dravex/contract';
import type { TargetPart } from '@dravex/core';
import { ref, shallowRef, watch } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

/** The target tree of the fiscal year in which the window ends, and changing it. */
export function useTargets() {
  const plan = usePlan();
  const { fiscalYear } = useFrame();
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
  async function change(method: string, rest: string, body?: object): Promise<boolean> {
    failure.value = '';
    try {
      const answer = await plan.save(() =>
        request<TargetTree | { tree: TargetTree }>(method, address(rest), body),
      );
      tree.value = 'tree' in answer ? answer.tree : answer;
      return true;
    } catch (error) {
      failure.value = inWords(error);
      return false;
    }
  }

  return {
    tree,
    failure,
    fiscalYear,
    setObjective: (objective: number) => change('PUT', '', { objective }),
    setPart: (node: TargetNode, part: TargetPart) => change('PATCH', `/nodes/${node.id}`, { part }),
    add: (node: NewTargetNode) => change('POST', '/nodes', node),
    remove: (node: TargetNode) => change('DELETE', `/nodes/${node.id}`),
  };
}
