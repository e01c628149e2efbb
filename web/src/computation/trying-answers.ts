import {
  bandOf,
  historyOf,
  league,
  linesLike,
  modelProblems,
  monthFrom,
  proposeMethod,
  runUnder,
  settingsAnew,
  settingsOfMethod,
  stretchOf,
  type BaselineChoice,
  type ForecastResult,
  type Interval,
  type League,
  type LikeAnother,
  type MethodCode,
  type Model,
  type Month,
  type MonthText,
  type Override,
  type ProposedMethod,
  type Stream,
  type StreamSettings,
} from '@dravex/core';
import type { Session } from './session.ts';

/** What another method would make of streams, by month of the plan. */
export interface TriedMethod {
  readonly now: readonly (number | null)[];
  readonly then: readonly (number | null)[];
  /** Where it will probably lie in open months; of one stream by a baseline. */
  readonly band: readonly Interval[] | null;
  readonly problems: readonly string[];
}

/** What forecast lines would come to if they were set otherwise, before anything is kept. */
export function tryingAnswers(session: Session) {
  /** What streams come to when they are set otherwise, and some of their overrides are dropped. */
  const tryStreams = (
    ids: readonly number[],
    next: (stream: Stream) => Stream,
    drops: (override: Override) => boolean,
    measure: ForecastResult,
  ): TriedMethod => {
    const { model } = session;
    const wanted = new Set(ids);
    const chosen = model.streams.map(({ stream }) => stream).filter(({ id }) => wanted.has(id));
    const combinations = new Set(chosen.map(({ combination }) => combination));
    const all = model.plan.overrides ?? [];
    const overrides = all.filter((one) => !combinations.has(one.combination) || !drops(one));
    const tried = runUnder(model, {
      streams: chosen.map(next),
      ...(overrides.length < all.length ? { overrides } : {}),
    });
    const sum = (of: Model): (number | null)[] =>
      Array.from({ length: of.count }, (_, t) => {
        let total = 0;
        of.streams.forEach(({ stream }, index) => {
          if (wanted.has(stream.id)) total += of.results[measure][index]?.[t] ?? 0;
        });
        return Number.isNaN(total) ? null : total;
      });
    const [only] = ids;
    const place = tried.streams.findIndex(({ stream }) => stream.id === only);
    const band = ids.length === 1 && place >= 0 ? bandOf(stretchOf(tried, place), measure) : null;
    return {
      now: sum(model),
      then: sum(tried),
      band,
      problems: modelProblems(tried)
        .filter(({ where }) => wanted.has(Number(where['stream'])))
        .map(({ message }) => message),
    };
  };
  return {
    /**
     * What streams would come to by another method: history and the months ahead, and what is wrong.
     * @param keeps whether overrides and months forecast anew stand
     */
    tryMethod(
      ids: readonly number[],
      method: MethodCode,
      settings: StreamSettings,
      keeps: boolean,
      measure: ForecastResult,
    ): TriedMethod {
      return tryStreams(
        ids,
        (one) => ({ ...one, method, settings: settingsOfMethod(one.settings, settings, keeps) }),
        () => !keeps,
        measure,
      );
    },

    /**
     * What streams would come to with some months forecast anew.
     * @param drops whether overrides in these months go
     */
    tryAnew(
      ids: readonly number[],
      months: { readonly from: MonthText; readonly to: MonthText },
      baseline: BaselineChoice | null,
      drops: boolean,
      measure: ForecastResult,
    ): TriedMethod {
      const { closedThrough } = session.model.plan.calendar;
      return tryStreams(
        ids,
        (one) => ({
          ...one,
          settings: settingsAnew(one.settings, months, baseline, closedThrough),
        }),
        ({ month }) => drops && month >= months.from && month <= months.to,
        measure,
      );
    },

    /** What a new member that is forecast like another one would bring in its first twelve months. */
    likeAnother(how: LikeAnother): {
      lines: number;
      units: number;
      amount: number;
      from: Month;
    } {
      const { model } = session;
      const { streams } = linesLike(model, how);
      const sum = (method: MethodCode): number =>
        streams
          .filter((one) => one.method === method)
          .reduce((all, { firstYear }) => all + firstYear, 0);
      return {
        lines: streams.length,
        units: sum('volumePrice'),
        amount: sum('amount'),
        from: how.from === null ? model.first + model.open : monthFrom(how.from),
      };
    },

    /** A method for each of some streams, from its own closed months. */
    proposeMethods(ids: readonly number[]): ProposedMethod[] {
      const { model } = session;
      return ids.map((id) => proposeMethod(model, id));
    },

    /** How each baseline would have done for a stream over the last twelve closed months. */
    league(id: number, measure: ForecastResult): League {
      const { model } = session;
      const index = model.streams.findIndex(({ stream }) => stream.id === id);
      return league(historyOf([...(model.results[measure][index]?.subarray(0, model.open) ?? [])]));
    },
  };
}
