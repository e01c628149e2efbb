import type { Changes, Typing, TypingResult } from '@dravex/contract';
import {
  explainDriver,
  FRESH_ID,
  monthFrom,
  seriesOfDriver,
  streamsBelow,
  typedThere,
  typeInto,
  type Problem,
} from '@dravex/core';
import type { Session } from './session.ts';

/** What typed values would overwrite, as it is seen now; in the order of what is typed. */
export interface Seen {
  readonly values: readonly (number | null)[];
  readonly totals: readonly (number | null)[];
}

/** What typed values do, shown before they are kept. */
export interface Previewed {
  readonly problems: Problem[];
  readonly seen: Seen;
  /** Whether nothing became another number. */
  readonly unchanged: boolean;
}

/** What is typed into drivers, shown before it is kept, and what others have kept meanwhile. */
export function typingAnswers(session: Session) {
  return {
    /**
     * Shows the effect of typed values at once.
     * @returns the problems that missing inputs leave, and what the typed values are laid over
     */
    preview(driver: string, typing: Pick<Typing, 'values' | 'totals' | 'changes'>): Previewed {
      const { model } = session;
      const seen: Seen = {
        values: typing.values.map(
          ({ scope, month }) => typedThere(model, driver, scope, month)?.value ?? null,
        ),
        totals: typing.totals.map(
          ({ scope, month }) =>
            explainDriver(model, { kind: 'driver', driver, scope, month }).value,
        ),
      };
      const cells = [...typing.values, ...typing.totals, ...typing.changes];
      const numbers = (): number[] =>
        cells.flatMap(({ scope, month }) =>
          streamsBelow(model, driver, scope).map(
            (index) =>
              seriesOfDriver(model, index, driver)?.values[monthFrom(month) - model.first] ??
              Number.NaN,
          ),
        );
      const before = numbers();
      const problems = session.take(typeInto(model, driver, typing));
      const unchanged = numbers().every((value, place) => Object.is(value, before[place]));
      return { problems, seen, unchanged };
    },

    /** Puts what the server has kept in place of what was previewed. */
    acceptKept(result: Pick<TypingResult, 'put' | 'drop' | 'adjustments'>): Problem[] {
      const { assumptions, drivers } = session.model;
      const fresh = (rows: Iterable<{ readonly id: number }>): number[] =>
        [...rows].flatMap(({ id }) => (id >= FRESH_ID ? [id] : []));
      const { put, drop, adjustments } = result;
      return session.take({
        put,
        drop: [...drop, ...fresh(assumptions)],
        adjustments: {
          put: adjustments.put,
          drop: [...adjustments.drop, ...fresh(drivers.adjustments)],
        },
      });
    },

    /** Takes in what somebody else has changed. */
    merge(edit: Pick<Changes, 'put' | 'drop' | 'adjustments' | 'overrides'>): Problem[] {
      return session.take(edit);
    },
  };
}
