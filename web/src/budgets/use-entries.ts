import type { Conflict, EntriesResult, TypedEntry, Version } from '@dravex/contract';
import { MEASURES, TYPED_CODES, monthFrom, type MeasureCode, type SpreadBasis } from '@dravex/core';
import { computed, ref, shallowRef, watch } from 'vue';
import { spanInWords } from '../format/periods.ts';
import type { TableEdit } from '../grid/plan-grid.ts';
import { usePlan } from '../plan/use-plan.ts';
import { ApiProblem, inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { readBudget } from './typed-budget.ts';

/** By what a total can be divided instead, in words. */
export const BASES: readonly { readonly basis: SpreadBasis; readonly name: string }[] = [
  { basis: 'standing', name: 'as they stand' },
  { basis: 'equal', name: 'equally' },
  { basis: 'lastYear', name: 'as last year' },
  { basis: 'forecast', name: 'as forecast' },
];

/** Typing into an open version: what is typed becomes entries, and says over how many cells. */
export function useEntries(version: () => Version | undefined) {
  const plan = usePlan();
  const { formats, measure } = useFrame();
  const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));
  /** When revenue is typed: whether units stay, or the price. */
  const keeps = ref<'units' | 'price'>('units');
  const message = ref('');
  const failed = ref(false);
  const refused = shallowRef<ReadonlyMap<string, string>>(new Map());
  const journal = ref<number | null>(null);
  /** The last total that was spread, for choosing another basis. */
  const spread = shallowRef<{ typed: TypedEntry; cells: number; basis: SpreadBasis }>();

  function forget(): void {
    message.value = '';
    failed.value = false;
    refused.value = new Map();
    journal.value = null;
    spread.value = undefined;
  }
  watch([() => version()?.id, measure], forget);

  function show(value: number, of: MeasureCode): string {
    const scaled = of === 'units' ? value : value / minor.value;
    return formats.value.show(scaled, of === 'units' ? 'units' : 'price');
  }

  /** The cells of a version as the server has them now. */
  async function follow(): Promise<void> {
    await plan.inLine(plan.catchUp);
  }

  async function send(typed: readonly TypedEntry[]): Promise<EntriesResult | undefined> {
    const kept = version();
    if (!kept) return undefined;
    try {
      const result = await plan.save(() =>
        request<EntriesResult>('POST', plan.path(`/versions/${kept.id}/entries`), { typed }),
      );
      journal.value = result.journal;
      await follow();
      return result;
    } catch (error) {
      await follow();
      if (error instanceof ApiProblem && error.conflicts.length > 0) {
        plan.saving = 'saved';
        plan.clash = clashOf(kept, typed, error.conflicts);
        return undefined;
      }
      failed.value = true;
      message.value = `${inWords(error)}. The old value stays.`;
      return undefined;
    }
  }

  function clashOf(kept: Version, typed: readonly TypedEntry[], conflicts: readonly Conflict[]) {
    const placeOf = (path: string): number => Number(path.split('.')[1]);
    return {
      rows: conflicts.map(({ path, now, by, at }) => {
        const one = typed[placeOf(path)];
        const months = one ? spanInWords({ from: monthFrom(one.from), to: monthFrom(one.to) }) : '';
        const where = one?.scope.length ? plan.tree.label(one.scope) : 'everything';
        const of = one?.measure ?? 'revenue';
        return {
          label: `${kept.name}, ${MEASURES[of].name.toLowerCase()}, ${where}, ${months}`,
          theirs: now === null ? '–' : show(now, of),
          mine: one ? show(one.total, of) : '',
          by,
          at,
        };
      }),
      insist: async () => {
        const seen = new Map(conflicts.map(({ path, now }) => [placeOf(path), now]));
        const again = typed.map((one, index) =>
          seen.has(index) ? { ...one, saw: seen.get(index) ?? null } : one,
        );
        if (await send(again)) message.value = 'Yours stands now.';
      },
    };
  }

  async function edit(edits: readonly TableEdit[]): Promise<void> {
    const kept = version();
    if (!kept) return;
    forget();
    const typed = TYPED_CODES.find((code) => code === measure.value);
    if (!typed) {
      failed.value = true;
      message.value = `${MEASURES[measure.value].name} follows from other numbers; type over revenue, units or cost.`;
      return;
    }
    const covered = { from: monthFrom(kept.from), to: monthFrom(kept.to) };
    const read = await readBudget(
      edits,
      {
        measure: typed,
        covered,
        minor: minor.value,
        keeps: keeps.value,
        now: ({ scope, span }) => plan.compute().budgetNow(kept.id, scope, span, typed),
      },
      formats.value,
    );
    refused.value = new Map(read.refusals.map(({ place, reason }) => [place, reason]));
    const [first] = read.refusals;
    if (first) {
      failed.value = true;
      message.value = `${first.reason}. The old value stays.`;
    }
    if (read.typed.length === 0) return;
    const result = await send(read.typed);
    if (!result || first) return;
    const [only] = read.typed;
    if (read.typed.length === 1 && only && result.cells > 1) {
      spread.value = { typed: only, cells: result.cells, basis: 'standing' };
    } else message.value = result.cells === 0 ? 'Nothing changed.' : '';
  }

  /** Divides the total that was typed last by another basis. */
  async function respread(basis: SpreadBasis): Promise<void> {
    const last = spread.value;
    if (!last) return;
    const typed = { ...last.typed, basis, saw: last.typed.total };
    const result = await send([typed]);
    if (result) spread.value = { ...last, basis, cells: Math.max(last.cells, result.cells) };
  }

  return { keeps, message, failed, refused, journal, spread, edit, respread };
}
