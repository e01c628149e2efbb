/** Why a subscription comes to what it does: who was there, who came, who left, cohort by cohort. */
import { monthInWords } from '../../calendar/month.ts';
import { lossesIn, type Loss, type Movement } from '../../subscriptions/movement.ts';
import { lessOf, type TraceNode } from '../../trace/trace.ts';
import type { Stream } from '../plan.ts';
import { explainFunnel } from './funnel.ts';
import { at, oneMinus, type Explaining, type Explanation } from './method.ts';
import {
  countsBilled,
  subscriptionNumbers,
  subscriptionOf,
  throughFunnel,
} from './subscription-numbers.ts';

/** A number that follows from the cohorts. */
const counted = (
  stream: Stream,
  label: string,
  display: TraceNode['display'],
  value: number | undefined,
): TraceNode => ({
  label,
  display,
  value: value === undefined || Number.isNaN(value) ? null : value,
  incomplete: value === undefined || Number.isNaN(value),
  shape: 'value',
  parts: [],
  source: { kind: 'cohorts', stream: stream.id },
});
/** Why so many are new: the driver, or what came out of the funnel. */
export function explainNew(explaining: Explaining): TraceNode {
  const { stretch, driver } = explaining;
  return stretch.stream.settings?.funnel
    ? explainFunnel({ ...explaining, stretch: throughFunnel(stretch) })
    : driver('newSubscribers');
}

/** Who came from another plan and who went to one, where anybody does. */
function changedParts(
  { changedIn, changedOut }: Pick<Movement, 'changedIn' | 'changedOut'>,
  month: number,
  leaf: (label: string, value: number | undefined) => TraceNode,
): TraceNode[] {
  return [
    ...(changedIn[month] === 0 ? [] : [leaf('From another plan', changedIn[month])]),
    ...(changedOut[month] === 0 ? [] : [lessOf(leaf('To another plan', changedOut[month]))]),
  ];
}

/** Those who leave in a month, by cohort: how many were there, and which part of them leaves. */
function lostByCohort(
  { stretch, driver, setting }: Explaining,
  losses: readonly Loss[],
  month: number,
  paid: boolean,
): TraceNode[] {
  const { stream, first, open } = stretch;
  const { churn } = subscriptionOf(stream);
  return losses.map(({ start, count, leaves, pays }) => {
    const age = month - start;
    const parts = [
      counted(stream, 'There before', 'units', count),
      churn === 'byAge' ? setting(`Leave at age ${age}`, 'percent', leaves) : driver('churnRate'),
      ...(paid ? [counted(stream, 'Paid a month', 'price', pays)] : []),
    ];
    const lost = count * leaves * (paid ? pays : 1);
    const label = `Started in ${monthInWords(first + open + start)}`;
    const { source: _, ...cohort } = counted(stream, label, paid ? 'money' : 'units', lost);
    return { ...cohort, shape: 'product', parts };
  });
}

/** Why so many leave, or so much is lost with them. With one rate they are a part of those before. */
function explainLost(explaining: Explaining, before: TraceNode, lost: TraceNode): TraceNode {
  const { stretch, t, driver } = explaining;
  const { churn } = subscriptionOf(stretch.stream);
  // What is explained further has no source of its own.
  const { source: _, ...explained } = lost;
  if (churn === 'constant') {
    const rate = driver('churnRate');
    // Where nobody is there who could leave, none leave, whether a rate is set or not.
    if (before.value === 0 && rate.value === null) return lost;
    return { ...explained, shape: 'product', parts: [before, rate] };
  }
  const month = t - stretch.open;
  const losses = lossesIn(subscriptionNumbers(stretch).run, month);
  if (churn === 'whole' || losses.length === 0) return lost;
  const parts = lostByCohort(explaining, losses, month, lost.display === 'money');
  return { ...explained, shape: 'sum', parts };
}

/** Active subscribers of a month: those before, who came and who left. */
export function explainActive(explaining: Explaining): Explanation {
  const { stretch, t } = explaining;
  const { stream, open } = stretch;
  const { movement } = subscriptionNumbers(stretch);
  const month = t - open;
  const units = (label: string, value: number | undefined): TraceNode =>
    counted(stream, label, 'units', value);
  const opening = units('Subscribers before', movement.opening[month]);
  const lost = explainLost(explaining, opening, units('Lost', movement.lost[month]));
  return {
    shape: 'plus',
    parts: [opening, explainNew(explaining), lessOf(lost), ...changedParts(movement, month, units)],
  };
}

/** Recurring revenue of a month: what was there, what came in and what went. */
export function explainRecurring(explaining: Explaining): Explanation {
  const { stretch, t } = explaining;
  const { stream, open } = stretch;
  const { revenue, active } = subscriptionNumbers(stretch).movement;
  const month = t - open;
  const money = (label: string, series: Float64Array): TraceNode =>
    counted(stream, label, 'money', series[month]);
  const opening = money('Recurring revenue before', revenue.opening);
  // Where what was paid before is not known, as with the first price, what is paid now may be.
  if (opening.value === null && !Number.isNaN(at(revenue.closing, month))) {
    const there = counted(stream, 'Subscribers', 'units', active[month]);
    const each = at(revenue.closing, month) / at(active, month);
    return at(active, month) === 0
      ? { shape: 'plus', parts: [money('Recurring revenue', revenue.closing)] }
      : { shape: 'product', parts: [there, counted(stream, 'Paid a month', 'price', each)] };
  }
  return {
    shape: 'plus',
    parts: [
      opening,
      money('New', revenue.new),
      money('Price change', revenue.priceChange),
      money('Expansion', revenue.expansion),
      lessOf(money('Contraction', revenue.contraction)),
      lessOf(explainLost(explaining, opening, money('Lost', revenue.lost))),
      ...changedParts(revenue, month, (label, value) => counted(stream, label, 'money', value)),
    ],
  };
}

/** The units of a subscription: active subscribers, or the terms that begin. */
export function explainSubscribers(explaining: Explaining): Explanation {
  const { stretch, t } = explaining;
  const { stream, open } = stretch;
  const { movement, begun } = subscriptionNumbers(stretch);
  const month = t - open;
  if (begun && countsBilled(subscriptionOf(stream))) {
    const came = at(movement.starters, month) + at(movement.changedIn, month);
    const renewed = at(begun, month) - came;
    return {
      shape: 'plus',
      parts: [
        explainNew(explaining),
        counted(stream, 'Renewals', 'units', renewed),
        ...changedParts(
          { ...movement, changedOut: new Float64Array(month + 1) },
          month,
          (label, value) => counted(stream, label, 'units', value),
        ),
      ],
    };
  }
  return explainActive(explaining);
}

/** The revenue of a subscription: what is earned, or billed. */
export function explainRevenue(explaining: Explaining): Explanation {
  const { stretch, t, cell, driver } = explaining;
  const { stream, open } = stretch;
  const { prepaid } = subscriptionNumbers(stretch);
  const month = t - open;
  const money = (label: string, series: Float64Array): TraceNode =>
    counted(stream, label, 'money', series[month]);
  if (prepaid && countsBilled(subscriptionOf(stream))) {
    const price = [driver('listPrice'), oneMinus(driver('discount'))];
    return { shape: 'product', parts: [cell('units', t), ...price] };
  }
  if (prepaid) {
    return { shape: 'plus', parts: [money('Earned of what was billed', prepaid.earned)] };
  }
  return explainRecurring(explaining);
}
