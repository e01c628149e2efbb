import { MOST_BESIDE } from '@dravex/contract';
import {
  coverageOf,
  fiscalYearSpan,
  inAll,
  monthFrom,
  nameOfSource,
  sourceNamed,
  type Source,
  type Span,
} from '@dravex/core';
import { computed } from 'vue';
import { useRoute } from 'vue-router';
import { whenInWords } from '../format/moments.ts';
import { WORDS } from '../format/words.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** One side of a comparison: a source as an address names it, and what it is called. */
export interface Side {
  readonly value: string;
  /** As a heading: `Last year`. */
  readonly name: string;
  /** Within a sentence: `last year`. */
  readonly said: string;
}

/** The target of the year, as an address names it: no source, since the tree has it by scope. */
export const TARGET = 'target';

const EARLIER: readonly Side[] = [
  { value: 'lastYear', name: WORDS.lastYear, said: TEXTS.lastYear },
  { value: 'yearBeforeLast', name: TEXTS.yearBeforeLast, said: TEXTS.yearBeforeLastLower },
];

/** What is compared with what; all sides are in the address, as `of`, `against` and `beside`. */
export function useSides() {
  const plan = usePlan();
  const route = useRoute();
  const { version, versions: inUse, fiscalYear, counted, calendar, set } = useFrame();

  const besideNamed = computed(() => {
    const text = route.query['beside'];
    return typeof text === 'string' ? text.split(',') : [];
  });
  /** Those in use, and what the address names though it is put away. */
  const versions = computed<Side[]>(() => {
    const named = [route.query['of'], route.query['against'], ...besideNamed.value];
    const moments = named.flatMap((text): Side[] => {
      const source = typeof text === 'string' ? sourceNamed(text) : undefined;
      const found = source?.kind === 'version' && plan.versions.find(({ id }) => id === source.id);
      if (!found || source.at === undefined) return [];
      const name = `${found.name}, ${whenInWords(source.at, plan.locale)}`;
      return [{ value: nameOfSource(source) ?? '', name, said: name }];
    });
    const offered = plan.versions.filter(
      (one) => inUse.value.includes(one) || named.includes(`version:${one.id}`),
    );
    const now = offered.map(({ id, name }) => ({ value: `version:${id}`, name, said: name }));
    return [...now, ...moments];
  });
  const FORECAST_SIDE = { value: 'forecast', name: WORDS.forecast, said: TEXTS.theForecast };
  /** The target of the year in which the period ends. */
  const targetOffered = computed<Side>(() => {
    const year = `FY ${fiscalYear.value}`;
    return { value: TARGET, name: TEXTS.target(year), said: TEXTS.theTargetOf(year) };
  });
  /** A target is held against something else. */
  const besides = (sides: readonly Side[], other: unknown): Side[] =>
    other === TARGET ? sides.filter(({ value }) => value !== TARGET) : [...sides];
  const ofOffered = computed<Side[]>(() =>
    besides(
      [
        { value: 'actual', name: WORDS.actual, said: 'actual' },
        FORECAST_SIDE,
        ...versions.value,
        targetOffered.value,
        ...EARLIER,
      ],
      route.query['against'],
    ),
  );
  const againstOffered = computed<Side[]>(() =>
    besides([...versions.value, FORECAST_SIDE, targetOffered.value, ...EARLIER], route.query['of']),
  );
  const chosen = (offered: readonly Side[], name: string, usual: string): Side => {
    const wanted = route.query[name];
    return (
      offered.find(({ value }) => value === wanted) ??
      offered.find(({ value }) => value === usual) ??
      offered[0] ?? { value: usual, name: usual, said: usual }
    );
  };
  const of = computed(() => chosen(ofOffered.value, 'of', 'actual'));
  /** The version in force; without any, the year before. */
  const against = computed(() => {
    const usual = version.value ? `version:${version.value.id}` : 'lastYear';
    return chosen(againstOffered.value, 'against', usual);
  });
  /** What else can stand beside them, each with its difference. */
  const besideOffered = computed<Side[]>(() => {
    const taken = [of.value.value, against.value.value];
    const all = [targetOffered.value, ...versions.value, FORECAST_SIDE, ...EARLIER];
    return all.filter(({ value }) => !taken.includes(value));
  });
  const beside = computed(() =>
    besideOffered.value
      .filter(({ value }) => besideNamed.value.includes(value))
      .slice(0, MOST_BESIDE),
  );
  const sourceOf = (side: Side): Source => counted(sourceNamed(side.value) ?? { kind: 'actual' });

  const spanOf = (id: number): Span | undefined => {
    const found = plan.versions.find((one) => one.id === id);
    return found && { from: monthFrom(found.from), to: monthFrom(found.to) };
  };
  const coverOf = (side: Side): Span | undefined =>
    side.value === TARGET
      ? fiscalYearSpan(fiscalYear.value, calendar.value.fiscalStart)
      : coverageOf(sourceOf(side), calendar.value, spanOf);

  return {
    of,
    against,
    ofOffered,
    againstOffered,
    beside,
    besideOffered,
    /** The months that some sides have in common; undefined for none. */
    coveredBy: (sides: readonly Side[]) => inAll(sides.map(coverOf)),
    /** Whether what is held against has all months of a stretch. */
    covers: (span: Span) => {
      const has = coverOf(against.value);
      return has !== undefined && has.from <= span.from && has.to >= span.to;
    },
    sourceOf,
    compare: (value: string) => set({ of: value === 'actual' ? undefined : value }),
    /** Another one beside, or one fewer. */
    putBeside: (value: string) => {
      const now = beside.value.map((side) => side.value);
      const next = now.includes(value) ? now.filter((one) => one !== value) : [...now, value];
      return set({ beside: next.length > 0 ? next.join(',') : undefined });
    },
    /** A version is the one in force in the other rooms, too. */
    hold: (value: string) => {
      const source = sourceNamed(value);
      if (value === TARGET) return set({ against: TARGET });
      return source?.kind === 'version' && source.at === undefined
        ? set({ against: undefined, version: String(source.id) })
        : set({ against: source && nameOfSource(source) });
    },
  };
}
