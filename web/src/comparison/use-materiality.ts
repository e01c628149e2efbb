import type { Materiality } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { useFrame } from '../shell/use-frame.ts';

/** From which size on differences matter, as the address has it: `least` in currency units, `leastShare` in percent. */
export function useMateriality() {
  const route = useRoute();
  const { set } = useFrame();
  const number = (name: string): number => {
    const value = Number(route.query[name]);
    return Number.isFinite(value) && value > 0 ? value : 0;
  };
  const least = computed<Materiality>(() => ({
    amount: number('least'),
    share: number('leastShare') / 100,
  }));
  return {
    least,
    setLeast: ({ amount, share }: Materiality) =>
      set({
        least: amount > 0 ? String(amount) : undefined,
        leastShare: share > 0 ? String(Number((share * 100).toPrecision(12))) : undefined,
      }),
  };
}
