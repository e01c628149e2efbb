import {
  budgetOperations,
  type Conflict,
  type EntriesResult,
  type TypedEntry,
  type Version,
} from '@dravex/contract';
import {
  MEASURES,
  TYPED_CODES,
  TYPED_SUBSCRIBER_CODES,
  monthFrom,
  scopesMeet,
  type SpreadBasis,
  type VersionMeasure,
} from '@dravex/core';
import { ref, shallowRef, watch } from 'vue';
import type { Unit } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import type { TableEdit } from '../grid/plan-grid.ts';
import { clashedTotals, havingSeen } from '../plan/clash.ts';
import { usePlan, type Clash } from '../plan/use-plan.ts';
import { useTyped } from '../plan/use-typed.ts';
import { ApiProblem, inWords } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';
import { readBudget } from './typed-budget.ts';

/** Typing into an open version: what is typed becomes entries, and says over how many cells. */
export function useEntries(version: () => Version | undefined, settled: () => Promise<void>) {
  const plan = usePlan();
  const { formats, versionMeasure: measure, unit, minor } = useFrame();
  /** When revenue is typed: whether units stay, or the price. */
  const keeps = ref<'units' | 'price'>('units');
  /** The last total that was spread, for choosing another basis. */
  const spread = shallowRef<{ typed: TypedEntry; cells: number; basis: SpreadBasis }>();
  /** What a number was typed into, and how it is meant, whatever is shown or chosen later. */
  interface EntryEdit extends TableEdit {
    readonly into: {
      readonly kept: Version;
      readonly measure: VersionMeasure;
      readonly unit: Unit;
      readonly keeps: 'units' | 'price';
    };
  }
  function edit(edits: readonly TableEdit[]): void {
    const kept = version();
    if (!kept) return;
    const into = { kept, measure: measure.value, unit: unit.value, keeps: keeps.value };
    typed.edit(edits.map((one) => ({ ...one, into })));
  }
  const typed = useTyped<EntryEdit>({
    keep,
    follow,
    apart: (one, other) =>
      one.span.to < other.span.from ||
      other.span.to < one.span.from ||
      !scopesMeet(plan.tree, one.scope, other.scope),
    inSight: ({ into }) =>
      into.kept.id === version()?.id && into.measure === measure.value && into.unit === unit.value,
  });
  const { say, journal } = typed;

  watch([() => version()?.id, measure], () => {
    typed.forget();
    spread.value = undefined;
  });

  // What was taken back cannot be divided otherwise.
  watch(
    () => plan.undone,
    () => (spread.value = undefined),
  );

  function show(value: number | null, of: VersionMeasure): string {
    const counted = MEASURES[of].display === 'units';
    const scaled = value === null || counted ? value : value / minor.value;
    return formats.value.show(scaled, counted ? 'units' : 'price');
  }

  /** Shows the cells of a version as the server has them now. */
  async function follow(): Promise<void> {
    await plan.catchUp();
    const kept = version();
    if (kept) await plan.loadVersion(kept.id);
    await settled();
  }

  async function send(
    list: readonly TypedEntry[],
    kept = version(),
  ): Promise<EntriesResult | undefined> {
    if (!kept) return undefined;
    try {
      const result = await plan.write(
        budgetOperations.typeIntoVersion,
        { versionId: kept.id },
        { typed: list },
      );
      journal.value = result.journal;
      return result;
    } catch (error) {
      plan.saving = 'saved';
      if (error instanceof ApiProblem && error.conflicts.length > 0) {
        plan.clash = clashOf(kept, list, error.conflicts);
        return undefined;
      }
      say(WORDS.oldValueStays(inWords(error)), true);
      return undefined;
    }
  }

  function clashOf(
    kept: Version,
    typed: readonly TypedEntry[],
    conflicts: readonly Conflict[],
  ): Clash {
    return {
      rows: clashedTotals(plan.tree, kept.name, typed, conflicts, show),
      insist: () =>
        plan.inLine(async () => {
          if (await send(havingSeen(typed, conflicts), kept)) say(TEXTS.yourValueIsSaved);
          await follow();
        }),
    };
  }

  async function keep(edits: readonly EntryEdit[]): Promise<void> {
    const { into } = edits[0] ?? {};
    if (!into) return;
    const { kept } = into;
    journal.value = null;
    spread.value = undefined;
    const code = [...TYPED_CODES, ...TYPED_SUBSCRIBER_CODES].find((one) => one === into.measure);
    if (!code) {
      const { name, making } = MEASURES[into.measure];
      const instead =
        making.kind === 'subscription'
          ? TEXTS.newSubscribersOrRecurringRevenue
          : TEXTS.revenueUnitsOrCost;
      say(TEXTS.isCalculatedEnter(name, instead), true);
      return;
    }
    const covered = { from: monthFrom(kept.from), to: monthFrom(kept.to) };
    const read = await readBudget(
      edits,
      {
        measure: code,
        covered,
        minor: minor.value,
        unit: into.unit,
        keeps: into.keeps,
        now: ({ scope, span }) => plan.compute().budgetNow(kept.id, scope, span, code),
      },
      formats.value,
    );
    typed.refuse(read.refusals);
    typed.doubt(read.doubts);
    if (read.typed.length === 0) return;
    const result = await send(read.typed, kept);
    if (!result || read.refusals.length > 0) return;
    const [only] = read.typed;
    const negative = read.typed.some(({ total, saw }) => total < 0 && (saw ?? 0) >= 0);
    if (negative) say(TEXTS.savedAndNegativeNowUndo);
    if (read.typed.length === 1 && only && result.cells > 1) {
      spread.value = { typed: only, cells: result.cells, basis: 'standing' };
    } else if (!negative) say(result.cells === 0 ? TEXTS.nothingChanged : '');
  }

  /** Divides the total that was typed last by another basis. */
  function respread(basis: SpreadBasis): Promise<void> {
    return plan.inLine(async () => {
      const last = spread.value;
      if (!last) return;
      const result = await send([{ ...last.typed, basis, saw: last.typed.total }]);
      if (result) {
        spread.value = { ...last, basis, cells: Math.max(last.cells, result.cells) };
        // A basis that was refused before is nothing to speak of any more.
        say('');
      }
      await follow();
    });
  }

  return { ...typed, edit, keeps, spread, respread };
}
