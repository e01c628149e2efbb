import {
  sheetOperations,
  type FilledSheet,
  type SheetLine,
  type SheetLineChange,
  type SheetState,
  type TypedLine,
} from '@dravex/contract';
import { scopesMeet } from '@dravex/core';
import { computed, ref, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import type { GridEdit } from '../grid/plan-grid.ts';
import { clashRows, havingSeen } from '../plan/clash.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useTyped, type Doubt, type Refusal } from '../plan/use-typed.ts';
import { ApiProblem, inWords } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useWriting } from '../writing/use-writing.ts';
import { readLine, type SheetEdit } from './read-line.ts';
import { lookOf } from './sheet-rows.ts';

/** A sheet with its lines, and filling it in. */
export function useSheet(id: () => string) {
  const plan = usePlan();
  const { formats, unit } = useFrame();
  const at = (sheet = id()) => ({ sheet });
  const again = ref(0);
  const { data, failure, settled } = useAnswer([id, again, () => plan.tick], () =>
    plan.ask(sheetOperations.readSheet, at()),
  );
  const filled = computed(() => (data.value?.sheet.id === id() ? data.value : undefined));
  /** Reads it anew: something of it was changed that is not of the plan. */
  async function load(): Promise<void> {
    again.value += 1;
    await settled();
  }
  const look = computed(() => filled.value && lookOf(filled.value, formats.value, unit.value));

  const typed = useTyped<SheetEdit>({
    keep,
    follow: async () => {
      await plan.catchUp();
      await settled();
    },
    apart: (one, other) => !scopesMeet(plan.tree, one.scope, other.scope),
    inSight: (edit) => edit.sheet === id() && edit.unit === look.value?.unit,
  });
  watch(id, () => typed.forget());
  function edit(edits: readonly GridEdit[]): void {
    const [now, shown] = [filled.value, look.value];
    if (!now || !shown) return;
    const scopes = new Map(now.lines.map(({ key, scope }) => [key, scope]));
    const into = { sheet: id(), unit: shown.unit };
    typed.edit(edits.map((one) => ({ ...one, ...into, scope: scopes.get(one.row) ?? [] })));
  }
  async function keep(edits: readonly SheetEdit[]): Promise<void> {
    const [first] = edits;
    if (!first) return;
    const now =
      filled.value?.sheet.id === first.sheet
        ? filled.value
        : await plan.ask(sheetOperations.readSheet, at(first.sheet));
    const lines: TypedLine[] = [];
    const refusals: Refusal[] = [];
    const doubts: Doubt<SheetEdit>[] = [];
    for (const one of edits) {
      const line = now.lines.find(({ key }) => key === one.row);
      if (!line) continue;
      const read = readLine(one, line, formats.value, lookOf(now, formats.value, one.unit));
      if ('typed' in read) lines.push(read.typed);
      else if ('doubt' in read) doubts.push(read.doubt);
      else {
        const reason = `${line.name}: ${read.reason}`;
        refusals.push({ place: `${one.row} ${one.column}`, reason });
      }
    }
    typed.refuse(refusals);
    typed.doubt(doubts);
    if (lines.length > 0) await send(lines, now);
  }
  async function send(lines: readonly TypedLine[], now: FilledSheet): Promise<void> {
    const { sheet } = now;
    const again = (seen: readonly TypedLine[]) => plan.inLine(() => send(seen, now));
    try {
      await plan.write(sheetOperations.typeIntoSheet, at(sheet.id), { typed: [...lines] });
    } catch (error) {
      plan.saving = 'saved';
      const conflicts = error instanceof ApiProblem ? error.conflicts : [];
      if (conflicts.length === 0) {
        typed.say(WORDS.oldValueStays(inWords(error)), true);
        return;
      }
      await load();
      const { display, wholes } = lookOf(now, formats.value, unit.value);
      const show = (value: number | null | undefined): string =>
        formats.value.full((value ?? 0) / wholes, display);
      plan.clash = {
        rows: clashRows(lines, conflicts, (one, conflict) => ({
          label: `${sheet.title}, ${nameOf(now.lines, one)}`,
          theirs: show(conflict.now),
          mine: show(one?.total),
        })),
        insist: () =>
          again(havingSeen(lines, conflicts).map((one) => ({ ...one, saw: one.saw ?? 0 }))).then(
            load,
          ),
      };
    }
  }
  const nameOf = (lines: readonly SheetLine[], one: TypedLine | undefined): string =>
    lines.find(({ scope }) => scope.join() === one?.scope.join())?.name ?? '';

  const writing = useWriting();
  return {
    filled,
    look,
    failure: computed(() => failure.value || writing.failure.value),
    load,
    typed: { ...typed, edit },
    /** Says something of a line. */
    say: (line: SheetLine, change: Omit<SheetLineChange, 'scope'>) =>
      writing.write(
        () =>
          plan.ask(sheetOperations.changeSheetLine, at(), { scope: [...line.scope], ...change }),
        (answer) => (data.value = answer),
      ),
    /** Takes the sheet a step on its way. */
    step: (state: SheetState, text = '') =>
      writing.write(() => plan.ask(sheetOperations.stepSheet, at(), { state, text }), load),
  };
}
