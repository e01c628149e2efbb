import { ref, shallowRef, watch } from 'vue';
import { isRelative, type GridEdit } from '../grid/plan-grid.ts';
import { TEXTS } from './texts.ts';
import { TypedEdits, type Keeping } from './typed-edits.ts';
import { usePlan } from './use-plan.ts';
import { useUnanswered } from './use-unanswered.ts';

/** A cell that was refused: where, and why. */
export interface Refusal {
  readonly place: string;
  readonly reason: string;
}

/** A value that is a thousand times what stood there, or a thousandth of it: it may be a slip. */
export interface Doubt<Edit extends GridEdit> {
  readonly edit: Edit;
  /** As they are read, with their unit: what was typed, what may be meant, and what stands there. */
  readonly typed: string;
  readonly meant: string;
  readonly stands: string;
  /** What is typed for what may be meant. */
  readonly text: string;
}

const placeOf = ({ row, column }: GridEdit): string => `${row} ${column}`;

/**
 * Typing into a grid as every room has it: what is typed is kept in order, what was refused stays
 * marked until something else is typed there, and what may be a slip is asked about.
 * @param keeping how what is typed is kept; it refuses, doubts and says by what this gives it
 */
export function useTyped<Edit extends GridEdit>(keeping: Keeping<Edit>) {
  const plan = usePlan();
  const message = ref('');
  const failed = ref(false);
  const refused = shallowRef<ReadonlyMap<string, string>>(new Map());
  /** The record of the last change, which can be given a reason. */
  const journal = ref<number | null>(null);
  const doubts = shallowRef<readonly Doubt<Edit>[]>([]);
  const edits = new TypedEdits<Edit>(plan.line(), keeping);
  useUnanswered(() => doubts.value.length);
  // What was said of a change holds no longer when it was taken back.
  watch(
    () => plan.undone,
    () => {
      say('');
      journal.value = null;
    },
  );

  function say(text: string, wrong = false): void {
    message.value = text;
    failed.value = wrong;
  }
  /** Forgets what was said: something else is shown. What waits for an answer goes on waiting. */
  function forget(): void {
    say('');
    refused.value = new Map();
    journal.value = null;
  }
  function refuse(refusals: readonly Refusal[]): void {
    const [first] = refusals;
    if (!first) return;
    const all = new Map(refused.value);
    for (const { place, reason } of refusals) all.set(place, reason);
    refused.value = all;
    const more = refusals.length > 1 ? TEXTS.andMoreCells(refusals.length - 1) : '';
    say(TEXTS.oldValueStays(first.reason, more), true);
  }
  function doubt(more: readonly Doubt<Edit>[]): void {
    if (more.length > 0) doubts.value = [...doubts.value, ...more];
  }
  /** Takes doubtful values as they were typed, or as they may be meant; or leaves what stands there. */
  function settle(as: 'typed' | 'meant' | 'nothing'): void {
    const open = doubts.value;
    doubts.value = [];
    if (as === 'nothing') say(TEXTS.nothingWasChanged);
    else {
      edits.add(
        open.map(({ edit, text }) => ({
          ...edit,
          sure: true,
          text: as === 'typed' ? edit.text : text,
        })),
      );
    }
  }
  function edit(typed: readonly Edit[]): void {
    const left = new Map(refused.value);
    for (const one of typed) left.delete(placeOf(one));
    refused.value = left;
    const places = new Set(typed.map(placeOf));
    // What was doubted here before is typed anew; elsewhere it goes on waiting.
    const anew = (one: Edit): boolean =>
      places.has(placeOf(one)) && (keeping.inSight?.(one) ?? true);
    doubts.value = doubts.value.filter((one) => !anew(one.edit));
    say('');
    edits.add(typed);
  }
  return {
    waiting: edits.waiting,
    message,
    failed,
    refused,
    journal,
    doubts,
    edit,
    say,
    forget,
    refuse,
    doubt,
    settle,
  };
}

/** So far from a thousand a slip by a unit may be, since nobody types what stands there. */
const [LEAST, MOST] = [500, 2000];

/**
 * What may be meant where a value is about a thousand times, or a thousandth of, what stands there;
 * undefined where nothing is odd about it.
 */
export function meantBy(edit: GridEdit, value: number, stands: number | null): number | undefined {
  if (edit.sure === true || isRelative(edit.text) || !stands || value === 0) return undefined;
  const times = Math.abs(value / stands);
  if (times >= LEAST && times <= MOST) return value / 1000;
  if (times <= 1 / LEAST && times >= 1 / MOST) return value * 1000;
  return undefined;
}

/** The same where sales are planned: less than nothing is asked about where nothing below zero stood. */
export function meantInPlan(
  edit: GridEdit,
  value: number,
  stands: number | null,
): number | undefined {
  const below = value < 0 && (stands ?? 0) >= 0 && edit.sure !== true;
  return below ? -value : meantBy(edit, value, stands);
}
