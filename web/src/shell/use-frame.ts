import { PEOPLE } from '@dravex/contract';
import {
  fiscalYearOf,
  fiscalYearSpan,
  inBooks,
  isWithinMonth,
  monthFrom,
  monthText,
  parseMonth,
  type Grain,
  MEASURE_CODES,
  type MeasureCode,
  type Month,
  type Scope,
  type Source,
  type Span,
  VERSION_CODES,
  type VersionMeasure,
} from '@dravex/core';
import { computed } from 'vue';
import { useRoute, useRouter, type LocationQuery } from 'vue-router';
import { formatsFor, UNITS, type Unit } from '../format/numbers.ts';
import { useSession } from '../people/use-session.ts';
import { usePlan } from '../plan/use-plan.ts';
import { TEXTS } from './texts.ts';

/** The settings that rooms share, each where a room uses it. */
export type Shown =
  'measure' | 'versionMeasure' | 'version' | 'grain' | 'weeks' | 'days' | 'unit' | 'books';

export type Preset = 'This year' | 'To date' | 'Next 12' | 'Last 12' | 'All';

/** The spans of the presets for a calendar. */
export function presetsOf(calendar: {
  first: string;
  last: string;
  closedThrough: string;
  fiscalStart: number;
}): Record<Preset, Span> {
  const first = monthFrom(calendar.first);
  const last = monthFrom(calendar.last);
  const closed = monthFrom(calendar.closedThrough);
  const inside = ({ from, to }: Span): Span => ({
    from: Math.max(first, Math.min(from, last)),
    to: Math.max(first, Math.min(to, last)),
  });
  const year = fiscalYearSpan(fiscalYearOf(closed, calendar.fiscalStart), calendar.fiscalStart);
  return {
    'This year': inside(year),
    'To date': inside({ from: year.from, to: closed }),
    'Next 12': inside({ from: closed + 1, to: closed + 12 }),
    'Last 12': inside({ from: closed - 11, to: closed }),
    All: { from: first, to: last },
  };
}

function text(query: LocationQuery, name: string): string {
  const value = query[name];
  return typeof value === 'string' ? value : '';
}

const GRAINS: readonly Grain[] = ['day', 'week', 'month', 'quarter', 'year'];

/**
 * What every room uses and the address holds: the window, the scope, the unit of display, the
 * grain, what stands on rows and columns, and the version in force. Nothing here changes unless a
 * person changes it.
 */
export function useFrame() {
  const route = useRoute();
  const router = useRouter();
  const plan = usePlan();
  const session = useSession();

  const calendar = computed(() => {
    const { workspace } = plan;
    if (!workspace) throw new Error('A room is shown before its plan is loaded');
    return workspace.plan.calendar;
  });
  /** All months there are. */
  const calendarSpan = computed<Span>(() => ({
    from: monthFrom(calendar.value.first),
    to: monthFrom(calendar.value.last),
  }));
  const presets = computed(() => presetsOf(calendar.value));
  const formats = computed(() =>
    formatsFor(plan.locale, plan.workspace?.plan.currency.code ?? 'EUR'),
  );

  /** How many minor units (cents) one of the currency has. */
  const minor = computed(() => 10 ** (plan.workspace?.plan.currency.minorDigits ?? 2));

  function set(changes: Record<string, string | undefined>): Promise<unknown> {
    return router.push({ query: { ...route.query, ...changes } });
  }

  const span = computed<Span>(() => {
    const from = parseMonth(text(route.query, 'from'));
    const to = parseMonth(text(route.query, 'to'));
    const first = monthFrom(calendar.value.first);
    const last = monthFrom(calendar.value.last);
    const fits =
      from !== undefined && to !== undefined && first <= from && from <= to && to <= last;
    return fits ? { from, to } : presets.value['This year'];
  });
  const preset = computed(
    () =>
      (Object.entries(presets.value) as [Preset, Span][]).find(
        ([, { from, to }]) => from === span.value.from && to === span.value.to,
      )?.[0],
  );

  const scope = computed<Scope>(() =>
    text(route.query, 'scope')
      .split(',')
      .flatMap((part) => {
        const [dimension, code] = part.split(':');
        const members = plan.workspace?.plan.dimensions.find((d) => d.code === dimension)?.members;
        const found = members?.find((member) => member.code === code);
        return found ? [found.id] : [];
      }),
  );

  /** Members by dimension and code, as addresses and files have them. */
  function codesOf(members: Scope): string[] {
    return members.map((id) => {
      const dimension = plan.workspace?.plan.dimensions[plan.tree.dimensionOf(id)];
      return `${dimension?.code ?? ''}:${plan.tree.member(id).code}`;
    });
  }
  function scopeText(members: Scope): string | undefined {
    const parts = codesOf(members);
    return parts.length > 0 ? parts.join(',') : undefined;
  }

  const unit = computed<Unit>(
    () =>
      UNITS.find((size) => String(size) === text(route.query, 'unit')) ??
      session.preferences.unit ??
      plan.workspace?.plan.unit ??
      1000,
  );
  /** How finely time is cut where it can be read by day. */
  const grainOfDays = computed<Grain>(
    () => GRAINS.find((code) => code === text(route.query, 'grain')) ?? 'month',
  );
  /** The same where weeks are the finest. */
  const grainOfWeeks = computed<Exclude<Grain, 'day'>>(() =>
    grainOfDays.value === 'day' ? 'week' : grainOfDays.value,
  );
  /** The same in rooms of whole months. */
  const grain = computed<Grain>(() =>
    isWithinMonth(grainOfDays.value) ? 'month' : grainOfDays.value,
  );
  const measure = computed<MeasureCode>(
    () =>
      MEASURE_CODES.find((code) => code === text(route.query, 'measure')) ??
      // A room of several measures puts the first one first.
      MEASURE_CODES.find((code) => code === text(route.query, 'measures').split(',')[0]) ??
      'revenue',
  );
  /** The same in rooms that also show the subscriptions of versions. */
  const versionMeasure = computed<VersionMeasure>(
    () => VERSION_CODES.find((code) => code === text(route.query, 'measure')) ?? measure.value,
  );
  const dimensionCodes = computed(
    () => plan.workspace?.plan.dimensions.map(({ code }) => code) ?? [],
  );
  const rows = computed<readonly string[]>(() => {
    const wanted = text(route.query, 'rows')
      .split(',')
      .filter((code) => dimensionCodes.value.includes(code));
    return wanted.length > 0 ? [...new Set(wanted)].slice(0, 2) : dimensionCodes.value.slice(0, 2);
  });
  /** The same where sellers and customers can stand on rows, too. */
  const rowsWithPeople = computed<readonly string[]>(() => {
    const offered = [...dimensionCodes.value, ...PEOPLE];
    const wanted = text(route.query, 'rows')
      .split(',')
      .filter((code) => offered.includes(code));
    return wanted.some((code) => !dimensionCodes.value.includes(code))
      ? [...new Set(wanted)].slice(0, 2)
      : rows.value;
  });
  /** What stands on rows, in words: `Channel, product`. */
  function rowsInWords(codes: readonly string[]): string {
    const names = codes.map(
      (code) =>
        plan.workspace?.plan.dimensions.find((d) => d.code === code)?.name.toLowerCase() ?? code,
    );
    const words = names.join(', ');
    return words.charAt(0).toUpperCase() + words.slice(1);
  }
  const rowHeading = computed(() => rowsInWords(rows.value));
  const columns = computed(() => {
    const wanted = text(route.query, 'columns');
    const fits = dimensionCodes.value.includes(wanted) && !rows.value.includes(wanted);
    return fits ? wanted : 'time';
  });
  /** The fiscal year in which the window ends; Targets uses it and says so. */
  const fiscalYear = computed(() => fiscalYearOf(span.value.to, calendar.value.fiscalStart));
  const version = computed(() => {
    const wanted = Number(text(route.query, 'version'));
    const inUse = plan.versions.filter(({ putAway }) => !putAway);
    return (
      plan.versions.find(({ id }) => id === wanted) ??
      inUse.find(({ budgetOf }) => budgetOf === fiscalYear.value) ??
      inUse.find(({ budgetOf }) => budgetOf !== null) ??
      inUse[0]
    );
  });
  /** The versions that are offered: those in use, and the one in force. */
  const versions = computed(() =>
    plan.versions.filter(({ id, putAway }) => !putAway || id === version.value?.id),
  );
  /** Whether of what happened only that counts which is in the books, and nothing entered by hand. */
  const books = computed(() => text(route.query, 'origin') === 'books');
  /** A source as the frame counts it. */
  const counted = (source: Source): Source => (books.value ? inBooks(source) : source);

  /**
   * A scope in words: the workspace's name where it is everything. Sentences about an answer take
   * the scope that was asked, which may be overtaken by the one in force.
   */
  function subjectOf(members: Scope): string {
    const names = members.map((id) => plan.tree.member(id).name);
    if (names.length === 0) return plan.workspace?.name ?? '';
    const last = names.at(-1) ?? '';
    return names.length > 1 ? TEXTS.and(names.slice(0, -1).join(', '), last) : last;
  }
  /** Whether a sentence about a scope speaks of several: several members, or one named in the plural. */
  function isMany(members: Scope): boolean {
    return members.length > 1 || (members.length === 1 && /[^s]s$/.test(subjectOf(members)));
  }
  const subject = computed(() => subjectOf(scope.value));

  return {
    calendar,
    calendarSpan,
    presets,
    preset,
    formats,
    minor,
    span,
    scope,
    scopeCodes: computed(() => codesOf(scope.value)),
    unit,
    grain,
    grainOfDays,
    grainOfWeeks,
    measure,
    versionMeasure,
    rows,
    rowsWithPeople,
    rowsInWords,
    rowHeading,
    columns,
    version,
    versions,
    books,
    counted,
    fiscalYear,
    subject,
    subjectOf,
    isMany,
    set,
    addressOf: (members: Scope) => ({ scope: scopeText(members) }),
    setSpan: (from: Month, to: Month) => set({ from: monthText(from), to: monthText(to) }),
    setScope: (members: Scope) => set({ scope: scopeText(members) }),
  };
}
