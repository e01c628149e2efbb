import type { Conflict, Typing } from '@dravex/contract';
import { monthFrom, type Driver, type DriverRow, type Scope } from '@dravex/core';
import { watch, type ComputedRef } from 'vue';
import { longMonth } from '../format/periods.ts';
import type { GridEdit } from '../grid/plan-grid.ts';
import { clashRows, whereInWords } from '../plan/clash.ts';
import { usePlan, type Clash } from '../plan/use-plan.ts';
import { useTyped } from '../plan/use-typed.ts';
import { ApiProblem, inWords } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { showValue } from './driver-format.ts';
import { TEXTS } from './texts.ts';
import { isAbove, readEdits } from './typed-text.ts';
import { useFlattening } from './use-flattening.ts';

/** What the grid shows: what is typed is meant for it, whatever is shown when it is kept. */
export interface DriverShown {
  readonly driver: Driver | undefined;
  /** The first month of the grid. */
  readonly from: number;
  readonly scope: Scope;
  readonly codes: readonly string[];
}
type Rows = ReadonlyMap<string, DriverRow>;
interface DriverEdit extends GridEdit {
  readonly shown: DriverShown;
  readonly rows: Rows;
}

/** Typing into a driver's grid: values, totals that are spread, changes of whatever lies below. */
export function useDriverTyping(
  shown: ComputedRef<DriverShown>,
  rows: ComputedRef<Rows>,
  settled: () => Promise<void>,
) {
  const plan = usePlan();
  const { formats } = useFrame();
  const typed = useTyped<DriverEdit>({
    keep,
    follow: settled,
    apart: (one, other) =>
      one.column !== other.column ||
      (one.row !== other.row && !isAbove(one.row, other.row) && !isAbove(other.row, one.row)),
    inSight: ({ shown: then }) =>
      then.driver?.code === shown.value.driver?.code &&
      then.scope.join() === shown.value.scope.join() &&
      then.codes.join() === shown.value.codes.join(),
  });
  const { journal, say } = typed;
  const flattening = useFlattening<DriverEdit>(typed.edit, say);
  watch(
    () => [shown.value.driver, shown.value.from, shown.value.scope],
    () => typed.forget(),
  );

  function edit(edits: readonly GridEdit[]): void {
    const [then, lines] = [shown.value, rows.value];
    typed.edit(edits.map((one) => ({ ...one, shown: then, rows: lines })));
  }

  async function keep(edits: readonly DriverEdit[]): Promise<void> {
    const [first] = edits;
    const driver = first?.shown.driver;
    if (!first || !driver) return;
    // The rows as they are now, unless something else is shown by now.
    const lines = first.shown === shown.value ? rows.value : first.rows;
    const { from } = first.shown;
    const grid = { driver, rows: lines, placeOf: (month: string) => monthFrom(month) - from };
    const read = readEdits(edits, grid, formats.value);
    typed.refuse(read.refusals);
    typed.doubt(read.doubts);
    const { values, totals, changes } = read.typing;
    if (values.length + totals.length + changes.length === 0) return;
    journal.value = null;
    // A single line has nothing below it that would become equal.
    const single = edits.every(({ row, sure }) => sure === true || lines.get(row)?.leaf);
    const flattened = single ? [] : await plan.compute().flattening(driver.code, { values });
    if (flattened.length > 0) {
      flattening.ask({ driver: driver.name, rows: flattened, edits });
      return;
    }
    await save(driver, read.typing, (unchanged) => {
      if (read.refusals.length > 0) return;
      if (unchanged) say(TEXTS.nothingChangedTheseAreSame);
      else if (read.spreadOver > 0) {
        say(TEXTS.spreadOverForecastLinesIn(read.spreadOver));
      } else if (changes.length > 0) say(TEXTS.eachValueBelowWasChanged);
    });
  }

  /** Saves what was typed; what somebody else changed meanwhile is shown beside it. */
  async function save(
    driver: Driver,
    typing: Typing,
    done: (unchanged: boolean) => void,
  ): Promise<void> {
    try {
      const kept = await plan.type(driver.code, typing);
      ({ journal: journal.value } = kept);
      done(kept.unchanged);
    } catch (error) {
      if (error instanceof ApiProblem && error.conflicts.length > 0) {
        plan.clash = clashOf(driver, typing, error.conflicts);
        return;
      }
      say(TEXTS.oldValuesAreShownAgain(inWords(error)), true);
    }
  }

  function clashOf(driver: Driver, typing: Typing, conflicts: readonly Conflict[]): Clash {
    const display = (value: number | null): string => showValue(driver, value, formats.value);
    const values = typing.values.map(({ value, ...one }) => ({
      ...one,
      mine: value === null ? 'removed' : display(value),
    }));
    const totals = typing.totals.map(({ total, ...one }) => ({ ...one, mine: display(total) }));
    const changes = typing.changes.map(({ kind, by, ...one }) => ({
      ...one,
      mine: kind === 'times' ? TEXTS.each(by) : TEXTS.eachOf(display(by)),
    }));
    const rowsOf = (list: keyof Typing, sent: typeof totals): Clash['rows'] =>
      clashRows(
        sent,
        conflicts.filter(({ path }) => path.startsWith(list)),
        (one, { now }) => ({
          label: `${driver.name}, ${whereInWords(plan.tree, one?.scope ?? [])}, ${longMonth(monthFrom(one?.month ?? '1970-01'))}`,
          theirs: now === null ? 'removed' : display(now),
          mine: one?.mine ?? '',
        }),
      );
    return {
      rows: [
        ...rowsOf('values', values),
        ...rowsOf('totals', totals),
        ...rowsOf('changes', changes),
      ],
      // What is shown now is theirs, and it has been seen: the same typing goes over it.
      insist: () => plan.inLine(() => save(driver, typing, () => say(TEXTS.yourValueIsSaved))),
    };
  }
  return { ...typed, edit, flattening };
}
