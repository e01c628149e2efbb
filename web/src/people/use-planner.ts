import { computed, type ComputedRef } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { useSession } from './use-session.ts';

/** Whether whoever is signed in plans in the workspace in force; else they only read it. */
export function usePlanner(): ComputedRef<boolean> {
  const plan = usePlan();
  const session = useSession();
  return computed(() => session.roleIn(plan.workspaceId) === 'planner');
}
