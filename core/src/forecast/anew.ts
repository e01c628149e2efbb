/** Months of a stream that are forecast anew: a baseline stands there in place of its method. */
import { monthFrom, monthText, type MonthText } from '../calendar/month.ts';
import type { AnewMonths, BaselineChoice, Stream, StreamSettings } from './plan.ts';

/** A basis that leaves months blank: nothing is forecast in them. */
export const LEFT_BLANK: BaselineChoice = {
  of: 'revenue',
  kind: 'lastMonth',
  settings: { blank: [1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12] },
};

/** Whether a basis leaves every month blank. */
export const leavesBlank = ({ settings }: BaselineChoice): boolean => settings.blank?.length === 12;

/** The stream as it is forecast in months that are forecast anew. */
export const streamAnew = (stream: Stream, { baseline }: AnewMonths): Stream => ({
  ...stream,
  method: 'baseline',
  settings: { baseline },
});

const nextMonth = (month: MonthText, by: number): MonthText => monthText(monthFrom(month) + by);

/**
 * The settings of a stream with a stretch of months forecast anew. What was forecast anew in these
 * months before gives way; its months before and after stay.
 * @param baseline what they are forecast from; null goes back to the stream's method
 * @param after months up to this one are closed, and what was forecast anew in them is dropped
 */
export function settingsAnew(
  settings: StreamSettings | undefined,
  { from, to }: { readonly from: MonthText; readonly to: MonthText },
  baseline: BaselineChoice | null,
  after: MonthText,
): StreamSettings {
  const { anew: before = [], ...rest } = settings ?? {};
  const kept = before.flatMap((one): AnewMonths[] => {
    if (one.to <= after) return [];
    if (one.to < from || one.from > to) return [one];
    return [
      ...(one.from < from ? [{ ...one, to: nextMonth(from, -1) }] : []),
      ...(one.to > to ? [{ ...one, from: nextMonth(to, 1) }] : []),
    ];
  });
  const anew = [...kept, ...(baseline ? [{ from, to, baseline }] : [])].sort((one, other) =>
    one.from.localeCompare(other.from),
  );
  return anew.length > 0 ? { ...rest, anew } : rest;
}

/**
 * The settings of a stream that gets another method: its months forecast anew stay as they are, or
 * go, so that the method forecasts all open months.
 */
export function settingsOfMethod(
  before: StreamSettings | undefined,
  next: StreamSettings,
  keepAnew: boolean,
): StreamSettings {
  const anew = next.anew ?? (keepAnew ? before?.anew : undefined);
  return anew && anew.length > 0 ? { ...next, anew } : next;
}
