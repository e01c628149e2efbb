import { plansIn, readsAllOf } from '@dravex/contract';
import { computed, type ComputedRef } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { useSession } from './use-session.ts';

/** Whether whoever is signed in plans in the workspace in force; else they only read it. */
export function usePlanner(): ComputedRef<boolean> {
  return useRights().plans;
}

/** What whoever is signed in may do in the workspace in force. */
export function useRights() {
  const plan = usePlan();
  const session = useSession();
  const role = computed(() => session.roleIn(plan.workspaceId));
  const plans = computed(() => plansIn(role.value));
  return {
    plans,
    /** Whether all of the plan is in sight, or only the own part of the targets. */
    readsAll: computed(() => readsAllOf(role.value)),
    /** Whether targets can be divided: all of them, or the own part. */
    divides: computed(() => plans.value || role.value === 'manager'),
    /** Whether it is theirs to say who may enter. */
    owns: computed(() => role.value === 'owner'),
  };
}
