/** Whether a month can be closed. */
import { dayInWords } from '../calendar/day.ts';
import { monthFrom, monthInWords, monthText, type MonthText } from '../calendar/month.ts';
import type { Calendar } from '../forecast/plan.ts';
import type { Figures } from '../tables/figures.ts';
import { isOver } from './closing-day.ts';

/** Why a month is not closed: it cannot be, or somebody has to say that it is meant. */
export interface CloseRefusal {
  readonly kind: 'cannot' | 'sure';
  readonly message: string;
}

/**
 * Says what stands in the way of closing a month: only the one after the last closed month can be
 * closed, and one that is not over or sold nothing is asked about.
 * @param actual the sales of the plan, also of open months
 * @param roll how many months the horizon grows by at the close
 */
export function closeRefusal(
  calendar: Calendar,
  actual: Figures,
  month: MonthText,
  roll: number,
): CloseRefusal | undefined {
  const cannot = (message: string): CloseRefusal => ({ kind: 'cannot', message });
  const sure = (message: string): CloseRefusal => ({ kind: 'sure', message });
  const words = (text: MonthText): string => monthInWords(monthFrom(text));
  const next = monthText(monthFrom(calendar.closedThrough) + 1);
  if (month < next) return cannot(`${words(month)} is closed already`);
  if (month > next) return cannot(`${words(next)} comes before ${words(month)}; close it first`);
  if (next >= calendar.last && roll === 0) {
    return cannot(`The horizon ends with ${words(next)}; make it longer before you close it`);
  }
  if (!isOver(monthFrom(month), calendar.asOf)) {
    return sure(`${words(month)} is not over: the as-of date is ${dayInWords(calendar.asOf)}`);
  }
  const t = monthFrom(month) - actual.first;
  const { revenue, units } = actual.measures;
  const sold = actual.combinations.some((_, index) => {
    const at = index * actual.count + t;
    return (revenue[at] ?? 0) !== 0 || (units[at] ?? 0) !== 0;
  });
  return sold
    ? undefined
    : sure(`Nothing was sold in ${words(month)} so far; import its sales first`);
}
