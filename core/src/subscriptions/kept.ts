/** Subscriptions that are kept with a version of the plan. */
import { monthFrom, monthText, type MonthText } from '../calendar/month.ts';
import type { Span } from '../calendar/period.ts';
import type { Model } from '../forecast/run.ts';
import {
  subscriberFigures,
  SUBSCRIBER_SERIES,
  type SubscriberFigures,
  type SubscriberSeries,
} from './figures.ts';

/**
 * Movements of subscriptions as a version holds them, one column a field, by combination and month.
 * Counts are as they were computed; money is in currency units, and not rounded: it is what a month
 * brings at a rate, and is never divided or booked.
 */
export interface KeptSubscribers extends Readonly<Record<SubscriberSeries, readonly number[]>> {
  readonly combination: readonly number[];
  readonly month: readonly MonthText[];
}

/** Keeps the movements of some months; months that are closed, or miss an input, have none. */
export function keepSubscribers(model: Model, { from, to }: Span): KeptSubscribers {
  const { of, places } = subscriberFigures(model);
  const combination: number[] = [];
  const month: MonthText[] = [];
  const kept = Object.fromEntries(
    SUBSCRIBER_SERIES.map((code) => [code, [] as number[]]),
  ) as Record<SubscriberSeries, number[]>;
  for (const place of places) {
    const id = model.plan.combinations[place]?.id ?? 0;
    for (let t = Math.max(from - model.first, model.open); t <= to - model.first; t += 1) {
      const values = SUBSCRIBER_SERIES.map((code) => of[code][place * model.count + t]);
      if (t >= model.count || values.some((value) => value === undefined || Number.isNaN(value))) {
        continue;
      }
      combination.push(id);
      month.push(monthText(model.first + t));
      SUBSCRIBER_SERIES.forEach((code, at) => kept[code].push(values[at] ?? Number.NaN));
    }
  }
  return { ...kept, combination, month };
}

/** Lays out what was kept over the months of a plan; NaN where nothing was. */
export function keptSubscriberFigures(model: Model, kept: KeptSubscribers): SubscriberFigures {
  const { first, count } = model;
  const { combinations } = model.plan;
  const placeOf = new Map(combinations.map(({ id }, place) => [id, place]));
  const of = Object.fromEntries(
    SUBSCRIBER_SERIES.map((code) => [
      code,
      new Float64Array(combinations.length * count).fill(Number.NaN),
    ]),
  ) as Record<SubscriberSeries, Float64Array>;
  const places = new Set<number>();
  kept.combination.forEach((id, row) => {
    const place = placeOf.get(id);
    const t = monthFrom(kept.month[row] ?? '') - first;
    if (place === undefined || !(t >= 0 && t < count)) return;
    places.add(place);
    for (const code of SUBSCRIBER_SERIES) of[code][place * count + t] = kept[code][row] ?? NaN;
  });
  return { count, of, places };
}
