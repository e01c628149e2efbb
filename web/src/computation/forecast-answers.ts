import {
  ACTUAL,
  missingMonths,
  rollUp,
  forecastTotal,
  modelProblems,
  monthFrom,
  monthText,
  planOf,
  proposeStreams,
  spreadOverride,
  type ProposedStream,
  streamsIn,
  type ForecastResult,
  type Override,
  type OverrideCell,
  type Problem,
  type Scope,
  type Source,
  type Span,
  type Stream,
  type Table,
  type TableQuery,
  type TypedOverTotal,
} from '@dravex/core';
import type { Session } from './session.ts';

/** A combination that is sold and not forecast, with what it brought in the last twelve months. */
export interface SoldNotForecast {
  readonly combination: number;
  readonly label: string;
  readonly revenue: number;
  /** The last month with sales lines. */
  readonly last: string;
  readonly method: ProposedStream['method'];
  readonly discontinued: boolean;
}

/** A stream in a list, with its method and what it lacks. */
export interface StreamLine {
  readonly stream: Stream;
  readonly label: string;
  readonly members: readonly number[];
  /** What its method found out from history. */
  readonly words: string;
  readonly problems: readonly string[];
}

export interface OverrideLine {
  readonly override: Override;
  readonly label: string;
  readonly members: readonly number[];
  readonly computed: number | null;
}

/** An input that a stream lacks, and in which months. */
export interface MissingInput {
  readonly driver: string;
  readonly name: string;
  readonly label: string;
  readonly members: readonly number[];
  readonly months: readonly Span[];
}

/** Forecast lines, their methods, and what is typed over them. */
export function forecastAnswers(session: Session) {
  return {
    /** What was sold in the last twelve closed months and is not forecast. */
    notForecast(): SoldNotForecast[] {
      const { tree, first, open } = session.model;
      const { measures, count, combinations } = session.figures(ACTUAL);
      const places = new Map(combinations.map(({ id }, place) => [id, place]));
      return proposeStreams(planOf(session.model)).map((proposed) => {
        const { combination, method, discontinued } = proposed;
        const place = places.get(combination) ?? 0;
        const months = measures.revenue.subarray(place * count, place * count + open);
        const last = months.findLastIndex((value) => value !== 0);
        return {
          combination,
          label: tree.label(combinations[place]?.members ?? []),
          revenue: months.slice(-12).reduce((sum, value) => sum + value, 0),
          last: monthText(first + last),
          method,
          discontinued,
        };
      });
    },

    /** The members of every stream. */
    streamMembers(): (readonly number[])[] {
      return session.model.streams.map(({ combination }) => combination.members);
    },

    /** The streams of a scope with their methods, and what each lacks. */
    streamsIn(scope: Scope): StreamLine[] {
      const { model } = session;
      const problems = new Map<number, string[]>();
      for (const { message, where } of modelProblems(model)) {
        const id = Number(where['stream']);
        if (Number.isFinite(id)) problems.set(id, [...(problems.get(id) ?? []), message]);
      }
      return streamsIn(model, scope).flatMap((index) => {
        const found = model.streams[index];
        if (!found) return [];
        const { stream, combination, prepared } = found;
        return [
          {
            stream,
            label: model.tree.label(combination.members),
            members: combination.members,
            words: prepared?.words ?? '',
            problems: problems.get(stream.id) ?? [],
          },
        ];
      });
    },

    /** What is typed over the forecast, with what was computed there. */
    overrides(): OverrideLine[] {
      const { model } = session;
      const places = new Map(
        model.streams.map(({ combination }, index) => [combination.id, index]),
      );
      return (model.plan.overrides ?? []).map((override) => {
        const index = places.get(override.combination) ?? -1;
        const t = monthFrom(override.month) - model.first;
        return {
          override,
          label: model.tree.label(model.streams[index]?.combination.members ?? []),
          members: model.streams[index]?.combination.members ?? [],
          computed: model.beforeOverride.get(index)?.get(t)?.[override.measure] ?? null,
        };
      });
    },

    /**
     * Shows totals typed over the forecast before they are kept, each spread over its cells as they
     * stand. @returns the problems that missing inputs leave
     */
    previewOverrides(typed: readonly TypedOverTotal[]): Problem[] {
      const put = typed
        .flatMap((one) => spreadOverride(session.model, one))
        .map((override) => ({ ...override, by: '', why: '' }));
      return session.take({ put: [], drop: [], overrides: { put, drop: [] } });
    },

    /** The same for overrides that are dropped. */
    previewWithout(drop: readonly OverrideCell[]): Problem[] {
      return session.take({ put: [], drop: [], overrides: { put: [], drop } });
    },

    /** How many cells are typed over below each number of a table. */
    overridesTable(query: TableQuery): Table {
      const { overrides = [] } = session.model.plan;
      return session.counted(
        overrides.map(({ combination, month }) => ({ combination, month: monthFrom(month) })),
        query,
      );
    },

    /** The inputs that streams of a scope lack in some months up to the end of a span, with these. */
    missingBelow(scope: Scope, span: Span): MissingInput[] {
      const { model } = session;
      return streamsIn(model, scope).flatMap((index) => {
        const { codes = [], combination } = model.streams[index] ?? {};
        const members = combination?.members ?? [];
        return codes.flatMap((code, input): MissingInput[] => {
          const driver = model.plan.drivers.find((one) => one.code === code);
          const months = missingMonths(model, index, input).filter(({ from }) => from <= span.to);
          if (!driver || months.length === 0) return [];
          return [
            { driver: code, name: driver.name, label: model.tree.label(members), members, months },
          ];
        });
      });
    },

    /** What was sold of a scope in a stretch of closed months. */
    soldIn(source: Source, scope: Scope, span: Span, measure: ForecastResult): number {
      const { fiscalStart } = session.model.plan.calendar;
      const query = { measure, rows: [], columns: 'time', scope, span, grain: 'year' } as const;
      const { total } = rollUp(session.figures(source), session.model.tree, query, fiscalStart);
      return total.total.value ?? 0;
    },

    /** The forecast of a scope and a stretch of open months, as a person who types over it sees it. */
    forecastNow(scope: Scope, span: Span, measure: ForecastResult): number | null {
      const [from, to] = [monthText(span.from), monthText(span.to)];
      return forecastTotal(session.model, { scope, from, to, measure });
    },
  };
}
