import type { FieldError } from '@dravex/contract';
import { ref, shallowRef } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { ApiProblem, inWords } from '../shell/api.ts';

/**
 * Writing as every room does it: one at a time, the foot says how far it is, a refusal is put into
 * words and stays until the next try, and what changed is brought in before anything is said.
 */
export function useWriting() {
  const plan = usePlan();
  const busy = ref(false);
  const failure = ref('');
  /** The fields that the server refused, by their place in what was sent. */
  const errors = shallowRef<readonly FieldError[]>([]);

  function forget(): void {
    failure.value = '';
    errors.value = [];
  }

  /**
   * Does something that changes what is kept.
   * @param done what follows when it is kept and brought in
   * @returns whether it was kept
   */
  async function write<T>(work: () => Promise<T>, done?: (result: T) => unknown): Promise<boolean> {
    busy.value = true;
    forget();
    try {
      const result = await plan.save(work);
      if (plan.workspace) await plan.inLine(plan.catchUp);
      await done?.(result);
      return true;
    } catch (error) {
      // It is said where it was tried; the foot speaks of what is typed into tables.
      plan.saving = 'saved';
      failure.value = inWords(error);
      errors.value = error instanceof ApiProblem ? error.errors : [];
      return false;
    } finally {
      busy.value = false;
    }
  }

  return { busy, failure, errors, write, forget };
}
