import { forecastOperations, type Conflict, type TypeOver } from '@dravex/contract';
import {
  ACTUAL,
  applyArithmetic,
  MEASURES,
  monthFrom,
  monthText,
  scopesMeet,
  type Source,
  type VersionMeasure,
  type MeasuredCode,
} from '@dravex/core';
import { ref } from 'vue';
import { readArithmetic } from '../format/arithmetic.ts';
import { unitOf, type Unit } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import type { TableEdit } from '../grid/plan-grid.ts';
import type { OverrideLine } from '../computation/forecast-answers.ts';
import { unitInWords } from '../grid/table-rows.ts';
import { clashedTotals, havingSeen } from '../plan/clash.ts';
import { usePlan, type Clash } from '../plan/use-plan.ts';
import { meantInPlan, useTyped, type Doubt, type Refusal } from '../plan/use-typed.ts';
import { ApiProblem, inWords } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

type Typed = TypeOver['typed'][number];
const MOST = 1e15;
/** What was typed into a number of the forecast's table, and which measure it is of. */
export type MeasuredEdit = TableEdit & { readonly measure: MeasuredCode };

/** Typing over the forecast: open months take what is typed, spread over the cells below it. */
export function useOverrides(settled: () => Promise<void>) {
  const plan = usePlan();
  const { formats, unit, counted } = useFrame();
  const why = ref('');
  /** A number is meant in the unit in which it was typed, whatever is shown when it is kept. */
  interface OverrideEdit extends MeasuredEdit {
    readonly unit: Unit;
    /** The sales that the closed months of it show. */
    readonly sold: Source;
  }
  function edit(edits: readonly MeasuredEdit[]): void {
    typed.edit(edits.map((one) => ({ ...one, unit: unit.value, sold: counted(ACTUAL) })));
  }
  const typed = useTyped<OverrideEdit>({
    keep,
    follow: async () => {
      await plan.catchUp();
      await settled();
    },
    apart: (one, other) =>
      one.span.to < other.span.from ||
      other.span.to < one.span.from ||
      !scopesMeet(plan.tree, one.scope, other.scope),
    inSight: (one) => one.unit === unit.value,
  });
  const { say } = typed;

  /**
   * Shows the effect of something at once and writes it. What was there is shown again where it is
   * not kept.
   * @returns how many cells it changed; undefined where it was refused, and said
   */
  async function saving(
    preview: Parameters<typeof plan.show>[0],
    work: () => Promise<{ cells: number }>,
  ): Promise<number | undefined> {
    try {
      await plan.show(preview);
      return (await work()).cells;
    } catch (error) {
      plan.saving = 'saved';
      await plan.reload().catch(() => undefined);
      if (error instanceof ApiProblem && error.conflicts.length > 0) throw error;
      say(WORDS.oldValueStays(inWords(error)), true);
      return undefined;
    }
  }

  async function send(list: readonly Typed[]): Promise<void> {
    try {
      const cells = await saving(
        (computing) => computing.previewOverrides(list),
        () => plan.write(forecastOperations.typeOver, {}, { typed: list, why: why.value }),
      );
      if (cells === undefined) return;
      say(TEXTS.cellsOverridden(cells));
      why.value = '';
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      plan.clash = clashOf(list, error.conflicts);
    }
  }

  function clashOf(list: readonly Typed[], conflicts: readonly Conflict[]): Clash {
    const show = (value: number | null, of: VersionMeasure): string =>
      formats.value.show(value, of === 'units' ? 'units' : 'price');
    return {
      rows: clashedTotals(plan.tree, WORDS.forecast, list, conflicts, show),
      insist: () =>
        plan.inLine(async () => {
          await send(havingSeen(list, conflicts));
          await plan.catchUp();
        }),
    };
  }

  /**
   * Takes in what was typed into the table. A number that closed months are part of changes in its
   * open ones; an emptied cell drops what was typed over it.
   */
  async function keep(edits: readonly OverrideEdit[]): Promise<void> {
    const list: Typed[] = [];
    const refusals: Refusal[] = [];
    const doubts: Doubt<OverrideEdit>[] = [];
    const emptied: MeasuredEdit[] = [];
    for (const one of edits) {
      const read = await readOne(one);
      if (read.kind === 'typed') list.push(read.typed);
      else if (read.kind === 'refused') refusals.push(read);
      else if (read.kind === 'doubted') doubts.push(read.doubt);
      else emptied.push(one);
    }
    typed.refuse(refusals);
    typed.doubt(doubts);
    if (emptied.length > 0) await dropWithin(emptied);
    if (list.length > 0) await send(list);
  }

  /** What one typed text comes to. */
  async function readOne(
    one: OverrideEdit,
  ): Promise<
    | { readonly kind: 'typed'; readonly typed: Typed }
    | ({ readonly kind: 'refused' } & Refusal)
    | { readonly kind: 'doubted'; readonly doubt: Doubt<OverrideEdit> }
    | { readonly kind: 'emptied' }
  > {
    const { row, column, span, scope, text, measure } = one;
    const refused = (reason: string) =>
      ({ kind: 'refused', place: `${row} ${column}`, reason }) as const;
    if (measure !== 'revenue' && measure !== 'units') {
      return refused(TEXTS.isCalculatedEnterRevenueOr(MEASURES[measure].name));
    }
    const from = Math.max(span.from, plan.closedThrough + 1);
    if (from > span.to) return refused(TEXTS.thisMonthIsClosedIt);
    if (text === '') return { kind: 'emptied' };
    const { display } = MEASURES[measure];
    const size = unitOf(display, one.unit);
    const arithmetic = readArithmetic(text, formats.value, false, size);
    if (!arithmetic) return refused(WORDS.isNotNumber(text.slice(0, 30)));
    const saw = await plan.compute().forecastNow([...scope], { from, to: span.to }, measure);
    const closed =
      from === span.from
        ? 0
        : await plan
            .compute()
            .soldIn(one.sold, [...scope], { from: span.from, to: from - 1 }, measure);
    const whole = closed + (saw ?? 0);
    const [value = Number.NaN] = applyArithmetic(arithmetic, [whole], Number.isInteger(whole));
    const meant = meantInPlan(one, value, whole);
    if (meant !== undefined) {
      const words = (number: number): string =>
        `${formats.value.full(number / size, display)} ${unitInWords(display, one.unit, formats.value)}`;
      return {
        kind: 'doubted',
        doubt: {
          edit: one,
          typed: words(value),
          meant: words(meant),
          stands: words(whole),
          text: formats.value.typed(meant / size, false),
        },
      };
    }
    const total = value - closed;
    if (!Number.isFinite(total) || Math.abs(total) > MOST) {
      return refused(TEXTS.thisNumberIsTooLarge);
    }
    const months = { from: monthText(from), to: monthText(span.to) };
    const rounded = Number(total.toPrecision(15));
    return {
      kind: 'typed',
      typed: { scope: [...scope], ...months, measure, total: rounded, saw },
    };
  }

  /** Drops what is typed over the cells of emptied numbers. */
  async function dropWithin(emptied: readonly MeasuredEdit[]): Promise<void> {
    const lines = await plan.compute().overrides();
    const inside = lines.filter(({ override, members }) =>
      emptied.some(
        ({ scope, span, measure }) =>
          override.measure === measure &&
          monthFrom(override.month) >= span.from &&
          monthFrom(override.month) <= span.to &&
          plan.tree.covers(scope, members),
      ),
    );
    if (inside.length === 0) say(TEXTS.thereIsNoOverrideHere);
    else await dropNow(inside);
  }

  async function dropNow(lines: readonly OverrideLine[] | 'all'): Promise<void> {
    const overrides =
      lines === 'all'
        ? lines
        : lines.map(({ override: { combination, month, measure: of } }) => ({
            combination,
            month,
            measure: of,
          }));
    const gone = lines === 'all' ? await plan.compute().overrides() : lines;
    const cells = await saving(
      (computing) => computing.previewWithout(gone.map(({ override }) => override)),
      () => plan.write(forecastOperations.dropOverrides, {}, { overrides }),
    );
    if (cells !== undefined) {
      say(TEXTS.removedOverrideOfCells(cells));
    }
  }
  function drop(lines: readonly OverrideLine[] | 'all'): Promise<void> {
    return plan.inLine(async () => {
      await dropNow(lines);
      await plan.catchUp();
    });
  }

  return { ...typed, edit, why, drop };
}
