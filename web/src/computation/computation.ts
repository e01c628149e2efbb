import type { SalesWeeks, VersionCells, WorkspacePlan } from '@dravex/contract';
import type { KeptMonths, Problem, RecordedMonths, Span, VersionAt } from '@dravex/core';
import { budgetAnswers } from './budget-answers.ts';
import { driverAnswers } from './driver-answers.ts';
import { forecastAnswers } from './forecast-answers.ts';
import { Session } from './session.ts';
import { tableAnswers } from './table-answers.ts';
import { tryingAnswers } from './trying-answers.ts';
import { typingAnswers } from './typing-answers.ts';

/**
 * The core around one plan, as the browser uses it: answers tables, and shows the effect of typed
 * values before the server has kept them. Runs in a worker; knows nothing of the page.
 */
export function startComputation() {
  const session = new Session();
  return {
    /** Takes in a plan and computes it. @returns the inputs that are missing */
    load: (loaded: Pick<WorkspacePlan, 'plan'>): Problem[] => session.load(loaded),
    /** Takes in a kept version's cells as they are with an entry. */
    setVersion: (version: VersionAt, lastEntry: number, cells: VersionCells): void =>
      session.setVersion(version, lastEntry, cells),
    hasVersion: (version: VersionAt, lastEntry: number): boolean =>
      session.hasVersion(version, lastEntry),
    hasWeeks: (books: boolean, span: Span): boolean => session.hasWeeks(books, span),
    /** Takes in what was sold by week of some months. */
    setWeeks: (books: boolean, span: Span, weeks: Omit<SalesWeeks, 'revision'>): void =>
      session.setWeeks(books, span, weeks),
    hasRecorded: (): boolean => session.hasRecorded(),
    setRecorded: (recorded: RecordedMonths): void => session.setRecorded(recorded),
    hasKept: (): boolean => session.hasKept(),
    /** Takes in the forecasts of closed months as they were kept. */
    setKept: (kept: KeptMonths): void => session.setKept(kept),
    ...tableAnswers(session),
    ...forecastAnswers(session),
    ...tryingAnswers(session),
    ...driverAnswers(session),
    ...typingAnswers(session),
    ...budgetAnswers(session),
  };
}

export type Computation = ReturnType<typeof startComputation>;
