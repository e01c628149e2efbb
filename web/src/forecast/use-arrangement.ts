import { MEASURE_CODES, type MeasuredCode, MEASURED_CODES } from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { WORDS } from '../format/words.ts';
import { useRowOrder } from '../grid/use-order.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

const isMeasure = (code: string): code is MeasuredCode =>
  MEASURED_CODES.some((known) => known === code);

/** What stands beside the table: how streams are forecast, what is typed over, what is not forecast. */
const PANELS = ['methods', 'typed', 'loose'] as const;
export type Panel = (typeof PANELS)[number] | '';

export type ChartKind =
  | 'total'
  | 'stack'
  | 'lines'
  | 'share'
  | 'multiples'
  | 'price'
  | 'funnel'
  | 'subscriptions'
  | 'none';
/** The charts of the forecast, in the order in which they are offered. */
export const CHARTS: readonly { readonly value: ChartKind; readonly name: string }[] = [
  { value: 'total', name: WORDS.total },
  { value: 'stack', name: TEXTS.stackedParts },
  { value: 'lines', name: TEXTS.linesByPart },
  { value: 'share', name: TEXTS.shares },
  { value: 'multiples', name: TEXTS.smallCharts },
  { value: 'price', name: TEXTS.priceAndVolume },
  { value: 'funnel', name: TEXTS.funnels },
  { value: 'subscriptions', name: TEXTS.subscriptions },
  { value: 'none', name: TEXTS.noChart },
];

/** Charts that are of the whole scope, and not of its parts. */
const WHOLE: readonly ChartKind[] = ['total', 'funnel', 'subscriptions', 'none'];
export const isOfParts = (chart: ChartKind): boolean => !WHOLE.includes(chart);

/**
 * How the forecast's table is laid out, all of it in the address: its measures and where they
 * stand, the order of rows, what is pinned, how deep rows are open, and whether empty ones show.
 */
export function useArrangement() {
  const route = useRoute();
  const plan = usePlan();
  const { measure, rows, set } = useFrame();
  const { order, setOrder, turnOrder } = useRowOrder();
  const text = (name: string): string => {
    const value = route.query[name];
    return typeof value === 'string' ? value : '';
  };

  const measures = computed<readonly MeasuredCode[]>(() => {
    const wanted = text('measures').split(',').filter(isMeasure);
    return wanted.length > 0 ? [...new Set(wanted)] : [measure.value];
  });
  const across = computed(() => text('across') === 'yes');
  const empty = computed(() => text('empty') === 'yes');
  const pinned = computed<readonly string[]>(() => text('pin').split(',').filter(Boolean));
  /** How many levels of rows are open. */
  const depth = computed(() => {
    const levels = Number(text('levels'));
    return Number.isInteger(levels) && levels >= 1 && levels <= 9 ? levels - 1 : 1;
  });

  const chart = computed<ChartKind>(
    () => CHARTS.find(({ value }) => value === text('chart'))?.value ?? 'total',
  );
  /** The dimension whose members a chart shows apart; the outermost of the rows at first. */
  const by = computed(() => {
    const known = plan.workspace?.plan.dimensions.some(({ code }) => code === text('by')) ?? false;
    return known ? text('by') : (rows.value[0] ?? '');
  });

  const panel = computed<Panel>(() => PANELS.find((name) => name === text('panel')) ?? '');

  return {
    panel,
    /** Opens what stands beside the table, or closes it where it is open. */
    turnPanel: (name: Panel) =>
      set({ panel: panel.value === name ? undefined : name || undefined }),
    chart,
    by,
    setChart: (kind: ChartKind) => set({ chart: kind === 'total' ? undefined : kind }),
    setBy: (code: string) => set({ by: code === rows.value[0] ? undefined : code }),
    measures,
    across,
    order,
    empty,
    pinned,
    depth,
    /** Shows these measures, in the order in which they are offered; never none. */
    setMeasures(codes: readonly MeasuredCode[]): void {
      const wanted = MEASURED_CODES.filter((code) => codes.some((one) => one === code));
      const [first] = wanted;
      if (first === undefined) return;
      // What rolls up by itself is the measure of the heading, the chart, and the other rooms.
      const frame = MEASURE_CODES.find((code) => wanted.includes(code));
      const alone = wanted.length === 1 && first === frame;
      void set({ measures: alone ? undefined : wanted.join(','), measure: frame ?? 'revenue' });
    },
    setAcross: (yes: boolean) => set({ across: yes ? 'yes' : undefined, order: undefined }),
    setEmpty: (yes: boolean) => set({ empty: yes ? 'yes' : undefined }),
    setDepth: (levels: number) => set({ levels: levels === 2 ? undefined : String(levels) }),
    turnOrder,
    setOrder,
    togglePin(row: string): void {
      const there = pinned.value.includes(row);
      const next = there ? pinned.value.filter((key) => key !== row) : [...pinned.value, row];
      void set({ pin: next.length > 0 ? next.join(',') : undefined });
    },
  };
}
