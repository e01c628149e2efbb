import { monthFrom, monthText, valueOrNull, type Driver, type Scope } from '@dravex/core';
import { computed, watch } from 'vue';
import type { SaidOfDriver } from '../computation/driver-answers.ts';
import { shortMonth } from '../format/periods.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useDraft } from '../writing/use-draft.ts';
import { showValue } from './driver-format.ts';
import { blankForm, isComplete, profileOf, type ProfileForm } from './profile-form.ts';
import { TEXTS } from './texts.ts';

/** What a profile is set for, and what history says of the driver there. */
export interface ProfileSubject {
  readonly driver: Driver;
  readonly scope: Scope;
  readonly said: SaidOfDriver | undefined;
}

/** Months of history that the chart shows. */
const BEFORE = 24;

/** A profile being set: its form, what it comes to, and how that looks beside history. */
export function useProfile(subject: () => ProfileSubject) {
  const plan = usePlan();
  const { formats, calendar, calendarSpan } = useFrame();
  const driver = computed(() => subject().driver);
  const reference = computed(() => subject().said?.reference);
  const percent = computed(() => driver.value.kind === 'percent');
  const firstOpen = computed(() => monthText(plan.closedThrough + 1));
  const text = (value: number | null): string => formats.value.typed(value, percent.value);
  /** A reference to begin with, as fine as anybody would type it. */
  const rounded = (value: number | null): number | null =>
    value === null ? null : Number(value.toFixed(percent.value ? 3 : 2));
  const blank = (): ProfileForm =>
    blankForm({
      closedThrough: plan.closedThrough,
      fiscalStart: calendar.value.fiscalStart,
      value: text(rounded(reference.value?.lastYear ?? null)),
      season: subject().said?.season ?? null,
    });
  // By their texts: other objects of the same driver and scope come with every answer.
  const draft = useDraft(() => `${driver.value.code} ${subject().scope.join()}`, blank);
  const { form } = draft;

  const numbers = computed(() => ({
    formats: formats.value,
    percent: percent.value,
    firstOpen: firstOpen.value,
  }));
  const profile = computed(() => profileOf(form.value, numbers.value));
  const complete = computed(() => isComplete(profile.value));
  const assumption = computed(() => ({
    driver: driver.value.code,
    scope: [...subject().scope],
    from: form.value.from || null,
    to: form.value.to || null,
    profile: profile.value,
    note: form.value.note,
  }));
  const preview = useAnswer([assumption, () => plan.tick], async () =>
    complete.value ? plan.compute().profilePreview(assumption.value) : undefined,
  );
  /** The closed months as the books have them, then what is being set. */
  const chart = computed(() => {
    const start = monthFrom(calendar.value.first);
    const closed = plan.closedThrough - start + 1;
    const shown = Math.max(0, closed - BEFORE);
    const history = subject().said?.history ?? [];
    const line = Array.from({ length: calendarSpan.value.to - start + 1 }, (_, t) =>
      t < closed ? (history[t] ?? null) : valueOrNull(preview.data.value?.[t]),
    ).slice(shown);
    return {
      headings: line.map((_, t) => shortMonth(start + shown + t, true)),
      closed: closed - shown,
      line,
    };
  });
  /** What was never seen: a value outside the lowest and highest month there ever was. */
  const strange = computed(() => {
    const { lowest = null, highest = null } = reference.value ?? {};
    if (lowest === null || highest === null) return '';
    const values = chart.value.line.slice(chart.value.closed).filter((value) => value !== null);
    const above = values.find((value) => value > highest);
    const below = values.find((value) => value < lowest);
    const show = (value: number): string => showValue(driver.value, value, formats.value);
    if (above !== undefined) {
      return TEXTS.higherThanAnyMonthSo(show(above), show(highest));
    }
    return below === undefined ? '' : TEXTS.lowerThanAnyMonthSo(show(below), show(lowest));
  });

  /** What the last twelve months were, in the form's terms: of a year their total. */
  const inTerms = (kind: ProfileForm['kind']): number | null => {
    const lastYear = reference.value?.lastYear ?? null;
    return lastYear !== null && kind === 'annual' ? lastYear * 12 : lastYear;
  };
  watch(
    () => form.value.kind,
    (kind, before) => {
      if (inTerms(kind) === null) return;
      if (form.value.value === text(rounded(inTerms(before)))) {
        form.value.value = text(rounded(inTerms(kind)));
      }
    },
  );
  const against = computed(() => {
    const before = inTerms(form.value.kind);
    const value = formats.value.read(form.value.value, percent.value);
    if (before === null || value === undefined) return '';
    const change = before === 0 ? null : (value - before) / Math.abs(before);
    return TEXTS.last12MonthsOf(
      showValue(driver.value, before, formats.value),
      change === null ? '' : `, ${formats.value.signed(change, 'percent')}`,
    );
  });
  return { ...draft, blank, numbers, firstOpen, assumption, complete, chart, strange, against };
}
