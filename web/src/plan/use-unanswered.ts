import { onBeforeUnmount, watch } from 'vue';
import { TEXTS } from './texts.ts';
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
      const values = own === 1 ? TEXTS.valueThatWasWaitingFor : TEXTS.valuesThatWereWaitingFor(own);
      plan.said = { text: TEXTS.notSaved(values) };
    }
    tell(0);
  });
}
