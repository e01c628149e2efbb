import { driverRows, type Driver, type DriverRowHead, type DriverRow } from '@dravex/core';
import { ref, type Ref } from 'vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';

/**
 * A driver by rows of scopes, from the worker. An edit changes numbers only: the rows themselves
 * come once, and only the numbers come anew. `weightedBy` says what means are weighted by.
 */
export function useDriverTable(driver: Ref<Driver | undefined>) {
  const plan = usePlan();
  const { span, scope, rows } = useFrame();
  const weightedBy = ref<string | null>(null);
  let known: { structure: number; heads: readonly DriverRowHead[] } | undefined;
  const answer = useAnswer(
    [driver, rows, scope, span, () => plan.tick],
    async (): Promise<DriverRow[]> => {
      if (!driver.value) return [];
      const query = {
        driver: driver.value.code,
        rows: [...rows.value],
        scope: [...scope.value],
        span: { from: span.value.from, to: span.value.to },
      };
      const found = await plan.compute().driverTable(query, known?.structure ?? 0);
      const heads = found.heads ?? known?.heads ?? [];
      known = { structure: found.structure, heads };
      weightedBy.value = found.weightedBy;
      return driverRows(heads, found.numbers);
    },
  );
  return { ...answer, weightedBy };
}
