import type { TypeOver } from '@dravex/contract';
import { applyArithmetic, MEASURES, monthFrom, monthText, type MeasuredCode } from '@dravex/core';
import { ref, shallowRef } from 'vue';
import { readArithmetic } from '../format/arithmetic.ts';
import { spanInWords } from '../format/periods.ts';
import type { TableEdit } from '../grid/plan-grid.ts';
import type { OverrideLine } from '../computation/forecast-answers.ts';
import { usePlan } from '../plan/use-plan.ts';
import { ApiProblem, inWords, request } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';

type Typed = TypeOver['typed'][number];
const MOST = 1e15;
/** What was typed into a number of the forecast's table, and which measure it is of. */
export type MeasuredEdit = TableEdit & { readonly measure: MeasuredCode };

/** Typing over the forecast: open months take what is typed, spread over the cells below it. */
export function useOverrides() {
  const plan = usePlan();
  const { formats } = useFrame();
  const message = ref('');
  const failed = ref(false);
  const refused = shallowRef<ReadonlyMap<string, string>>(new Map());
  const why = ref('');

  function forget(): void {
    message.value = '';
    failed.value = false;
    refused.value = new Map();
  }

  async function saving(work: () => Promise<{ cells: number }>): Promise<number | undefined> {
    try {
      const { cells } = await plan.save(work);
      await plan.inLine(plan.catchUp);
      return cells;
    } catch (error) {
      plan.saving = 'saved';
      await plan.inLine(plan.catchUp);
      if (error instanceof ApiProblem && error.conflicts.length > 0) throw error;
      failed.value = true;
      message.value = `${inWords(error)}. The old value stays.`;
      return undefined;
    }
  }

  async function send(typed: readonly Typed[]): Promise<void> {
    try {
      const body = { typed, why: why.value };
      const cells = await saving(() => request('POST', plan.path('/overrides'), body));
      if (cells === undefined) return;
      message.value = `Typed over ${cells} ${cells === 1 ? 'cell' : 'cells'}${cells > 1 ? ', as they stand' : ''}; Ctrl+Z takes it back`;
      why.value = '';
    } catch (error) {
      if (!(error instanceof ApiProblem)) throw error;
      const { conflicts } = error;
      const at = (path: string): Typed | undefined => typed[Number(path.split('.')[1])];
      const show = (value: number | null | undefined): string =>
        formats.value.show(value ?? null, typed[0]?.measure === 'units' ? 'units' : 'price');
      plan.clash = {
        rows: conflicts.map(({ path, now, by, at: when }) => {
          const one = at(path);
          const months = one
            ? spanInWords({ from: monthFrom(one.from), to: monthFrom(one.to) })
            : '';
          const where = one?.scope.length ? plan.tree.label(one.scope) : 'everything';
          return {
            label: `Forecast, ${MEASURES[one?.measure ?? 'revenue'].name.toLowerCase()}, ${where}, ${months}`,
            theirs: show(now),
            mine: show(one?.total),
            by,
            at: when,
          };
        }),
        insist: () => {
          const seen = new Map(conflicts.map(({ path, now }) => [at(path), now]));
          return send(
            typed.map((one) => (seen.has(one) ? { ...one, saw: seen.get(one) ?? null } : one)),
          );
        },
      };
    }
  }

  /**
   * Takes in what was typed into the table. A number that closed months are part of changes in its
   * open ones; an emptied cell drops what was typed over it.
   * @param shown what a cell of the table is now, closed months included
   */
  async function edit(
    edits: readonly MeasuredEdit[],
    shown: (edit: MeasuredEdit) => number | null,
  ): Promise<void> {
    forget();
    const typed: Typed[] = [];
    const refusals = new Map<string, string>();
    const emptied: MeasuredEdit[] = [];
    for (const one of edits) {
      const { row, column, span, scope, text } = one;
      const refuse = (reason: string): void => {
        refusals.set(`${row} ${column}`, reason);
      };
      const kind = one.measure;
      if (kind !== 'revenue' && kind !== 'units') {
        refuse(`${MEASURES[kind].name} follows from other numbers; type over revenue or units`);
        continue;
      }
      const from = Math.max(span.from, plan.closedThrough + 1);
      if (from > span.to) {
        refuse('This month is closed; it shows what the books say');
        continue;
      }
      if (text === '') {
        emptied.push(one);
        continue;
      }
      const arithmetic = readArithmetic(text, formats.value, false);
      if (!arithmetic) {
        refuse(`“${text.slice(0, 30)}” is not a number`);
        continue;
      }
      const open = { from, to: span.to };
      const saw = await plan.compute().forecastNow([...scope], open, kind);
      const whole = shown(one) ?? saw ?? 0;
      const [value = Number.NaN] = applyArithmetic(arithmetic, [whole], Number.isInteger(whole));
      const total = value - (whole - (saw ?? 0));
      if (!Number.isFinite(total) || Math.abs(total) > MOST) {
        refuse('This is more than can be kept');
        continue;
      }
      typed.push({
        scope: [...scope],
        from: monthText(from),
        to: monthText(span.to),
        measure: kind,
        total: Number(total.toPrecision(15)),
        saw,
      });
    }
    refused.value = refusals;
    const [reason] = refusals.values();
    if (reason !== undefined) {
      failed.value = true;
      message.value = `${reason}. The old value stays.`;
    }
    if (emptied.length > 0) await dropWithin(emptied);
    if (typed.length > 0) await send(typed);
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
    if (inside.length === 0) {
      message.value = 'Nothing is typed over here.';
      return;
    }
    await drop(inside);
  }

  async function drop(lines: readonly OverrideLine[] | 'all'): Promise<void> {
    const overrides =
      lines === 'all'
        ? lines
        : lines.map(({ override: { combination, month, measure: of } }) => ({
            combination,
            month,
            measure: of,
          }));
    const cells = await saving(() => request('POST', plan.path('/overrides/drop'), { overrides }));
    if (cells !== undefined) {
      message.value = `Dropped ${cells} ${cells === 1 ? 'cell' : 'cells'}; what is computed shows again`;
    }
  }

  return { message, failed, refused, why, edit, drop };
}
