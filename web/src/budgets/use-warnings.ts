import { threadOperations, type Thread, type Version } from '@dravex/contract';
import {
  inBoth,
  monthFrom,
  versionSource,
  type PlanWarning,
  type Scope,
  type WarningsQuery,
} from '@dravex/core';
import { computed } from 'vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { numberKey } from '../threads/use-threads.ts';
import { WARNING_NAMES } from './warning-words.ts';

/** What is to be checked in a line; with the reason, where it was dismissed. */
export interface Check extends PlanWarning {
  /** The line's scope within the one that is shown. */
  readonly within: Scope;
  readonly dismissed?: { readonly by: string; readonly why: string } | undefined;
}

/**
 * What deserves a second look in a version, by the rows that are shown. It is dismissed by a comment
 * on its line that is resolved: opened again, it is to be checked again.
 */
export function useWarnings(version: () => Version | undefined, threads: () => readonly Thread[]) {
  const plan = usePlan();
  const { rows, scope } = useFrame();
  const { data } = useAnswer([version, rows, scope, () => plan.tick], async () => {
    const kept = version();
    if (!kept) return undefined;
    await plan.loadVersion(kept.id);
    const query: WarningsQuery = {
      rows: rows.value,
      scope: scope.value,
      span: { from: monthFrom(kept.from), to: monthFrom(kept.to) },
      closedThrough: plan.closedThrough,
    };
    return { query, ...(await plan.compute().planWarnings(versionSource(kept.id), query)) };
  });
  const placeOf = (within: Scope) => ({
    ...{ measure: 'revenue', scope: within },
    span: data.value?.query.span ?? { from: 0, to: 0 },
  });
  const said = computed(
    () =>
      new Map(
        threads().map((thread) => {
          const { measure, scope: of, from, to } = thread;
          const span = { from: monthFrom(from), to: monthFrom(to) };
          return [numberKey({ measure, scope: of, span }), thread] as const;
        }),
      ),
  );
  const checks = computed<Check[]>(() =>
    (data.value?.warnings ?? []).map((warning) => {
      const within = inBoth(plan.tree, warning.scope, data.value?.query.scope ?? []);
      const thread = said.value.get(numberKey(placeOf(within)));
      const begins = `${WARNING_NAMES[warning.kind]}: `;
      const comment = thread?.resolved
        ? thread.comments.findLast(({ text }) => text.startsWith(begins))
        : undefined;
      const dismissed = comment && { by: comment.by, why: comment.text.slice(begins.length) };
      return { ...warning, within, dismissed };
    }),
  );
  const open = computed(() => checks.value.filter(({ dismissed }) => !dismissed));
  /** Most lines repeat last year: that is said of the plan as a whole. */
  const repeats = computed(() => {
    const lines = data.value?.lines ?? 0;
    const same = open.value.filter(({ kind }) => kind === 'repeats').length;
    return lines > 1 && same > lines / 2 ? { same, lines } : undefined;
  });
  return {
    checks,
    repeats,
    openCount: computed(() => open.value.length),
    /** The rows in which something is to be checked, and those above them, which may be folded. */
    rows: computed(
      () =>
        new Set(
          open.value.flatMap(({ key }) => {
            const path = key.split('/');
            return path.map((_, depth) => path.slice(0, depth + 1).join('/'));
          }),
        ),
    ),
    dismiss: async ({ kind, within }: Check, why: string): Promise<void> => {
      const kept = version();
      if (!kept) return;
      await plan.ask(
        threadOperations.comment,
        {},
        {
          ...{ room: 'budget', source: `version:${kept.id}`, against: null, measure: 'revenue' },
          ...{ scope: [...within], from: kept.from, to: kept.to },
          ...{ text: `${WARNING_NAMES[kind]}: ${why.trim()}`, resolved: true },
        },
      );
    },
  };
}
