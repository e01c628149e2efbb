import { onBeforeUnmount, watch } from 'vue';
import { usePlan } from './use-plan.ts';

/**
 * Values that wait for somebody's answer: whoever leaves the page is warned, and whoever leaves the
 * room is told that they were not kept.
 * @param count how many there are
 */
export function useUnanswered(count: () => number): void {
  const plan = usePlan();
  let own = 0;
  const tell = (now: number): void => {
    plan.unanswered += now - own;
    own = now;
  };
  watch(count, tell);
  onBeforeUnmount(() => {
    if (own > 0) {
      const values =
        own === 1
          ? 'A value that was waiting for your answer was'
          : `${own} values that were waiting for your answer were`;
      plan.said = { text: `${values} not saved` };
    }
    tell(0);
  });
}
