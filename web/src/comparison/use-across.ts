import { ACROSS } from '@dravex/contract';
import { MEASURES, VERSION_CODES, type VersionMeasure } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** What stands across beside both sides of one stretch. */
export type Across = (typeof ACROSS)[number];
export const ACROSS_OFFERED = [
  { value: 'none', name: TEXTS.onePeriod },
  { value: 'month', name: TEXTS.monthByMonth },
  { value: 'quarter', name: TEXTS.quarterByQuarter },
  { value: 'year', name: TEXTS.yearByYear },
  { value: 'measures', name: TEXTS.severalMeasures },
] as const satisfies readonly { value: Across | 'none'; name: string }[];

/** The measures that stand side by side at first. */
const USUAL: readonly VersionMeasure[] = ['units', 'revenue', 'averagePrice', 'margin'];
export const MEASURES_OFFERED = VERSION_CODES.map((value) => ({
  value,
  name: MEASURES[value].name,
}));

/** What stands across, as the address has it. */
export function useAcross() {
  const route = useRoute();
  const { set } = useFrame();
  const across = computed(() => ACROSS.find((code) => code === route.query['across']));
  const measures = computed<readonly VersionMeasure[]>(() => {
    const text = route.query['measures'];
    const named = typeof text === 'string' ? text.split(',') : [];
    const known = VERSION_CODES.filter((code) => named.includes(code));
    return known.length > 0 ? known : USUAL;
  });
  return {
    across,
    measures,
    stand: (value: Across | 'none') =>
      set({
        across: value === 'none' ? undefined : value,
        measures: value === 'measures' ? measures.value.join(',') : undefined,
      }),
    /** One measure more, or one fewer; the last one stays. */
    turnMeasure: (value: VersionMeasure) => {
      const now = measures.value;
      const next = now.includes(value) ? now.filter((code) => code !== value) : [...now, value];
      return set({ measures: (next.length > 0 ? next : now).join(',') });
    },
  };
}
