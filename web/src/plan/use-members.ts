import { computed, type ComputedRef } from 'vue';
import { usePlan } from './use-plan.ts';

/** The members of all dimensions, to choose a scope from: "Region: North". */
export function useMembers(): ComputedRef<
  readonly { readonly id: number; readonly name: string }[]
> {
  const plan = usePlan();
  return computed(() =>
    (plan.workspace?.plan.dimensions ?? []).flatMap((dimension) =>
      plan.tree
        .inOrder(dimension)
        .map(({ id, name }) => ({ id, name: `${dimension.name}: ${name}` })),
    ),
  );
}
