import { monthFrom } from '@dravex/core';
import { computed, shallowRef } from 'vue';
import type { Flattening } from '../computation/driver-answers.ts';
import { longMonth } from '../format/periods.ts';
import type { GridEdit } from '../grid/plan-grid.ts';
import { whereInWords } from '../plan/clash.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useUnanswered } from '../plan/use-unanswered.ts';
import { TEXTS } from './texts.ts';

/** What was typed in one go and would make different values equal. */
interface Flattens<Edit> {
  readonly driver: string;
  readonly rows: readonly Flattening[];
  readonly edits: readonly Edit[];
}

const SHOWN = 4;
const placesOf = ({ driver, edits }: Flattens<GridEdit>): string[] =>
  edits.map(({ row, column }) => `${driver} ${row} ${column}`);

/**
 * Values that would make different ones equal: each waits until somebody has seen what it flattens,
 * however many are typed meanwhile, and whatever is shown by then.
 * @param edit takes them once they are meant so
 */
export function useFlattening<Edit extends GridEdit>(
  edit: (edits: readonly Edit[]) => void,
  say: (text: string) => void,
) {
  const plan = usePlan();
  const open = shallowRef<readonly Flattens<Edit>[]>([]);
  useUnanswered(() => open.value.length);

  /** Asks about what was typed; what stood in the same cells before is not asked about any more. */
  function ask(one: Flattens<Edit>): void {
    const places = new Set(placesOf(one));
    const others = open.value.filter((other) => !placesOf(other).every((at) => places.has(at)));
    open.value = [...others, one];
  }
  const inWords = computed(() => {
    const lines = open.value.flatMap(({ driver, rows }) =>
      rows.map(({ scope, month, streams, values }) => {
        const where = whereInWords(plan.tree, scope);
        const label = where.charAt(0).toUpperCase() + where.slice(1);
        return TEXTS.oneForForecastLinesThat(
          label,
          longMonth(monthFrom(month)),
          driver.toLowerCase(),
          streams,
          values,
        );
      }),
    );
    return lines.length > SHOWN
      ? [...lines.slice(0, SHOWN), TEXTS.andMoreCells(lines.length - SHOWN)]
      : lines;
  });
  function take(): Edit[] {
    const edits = open.value.flatMap((one) => one.edits);
    open.value = [];
    return edits;
  }
  return {
    inWords,
    ask,
    /** It is meant so: each is kept as it was typed. */
    flatten: (): void => edit(take().map((one) => ({ ...one, sure: true }))),
    leave(): void {
      take();
      say(TEXTS.nothingWasChanged);
    },
  };
}
