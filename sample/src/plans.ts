/** What Ondwell assumes, and budgets: assumptions, streams, budget cells. */
import { monthFrom, monthText, type Month } from '@dravex/core';
import { combinations, DEW_ENDS, PRODUCTS, type Line } from './company.ts';
import { discount, expectedUnits, listPrice, returnRate } from './demand.ts';
import { FIRST_OPEN } from './assume.ts';
import { CARE_CHURN, methodAssumptions, monthly, NOT_RENEWED } from './method-assumptions.ts';
import { chosenFor } from './methods.ts';
import type { Random } from './random.ts';

function cents(value: number): number {
  return Math.round(value * 100) / 100;
}

/** When lists were printed anew. */
const LIST_CHANGES = ['2023-04', '2025-05', '2026-04'] as const;

function prices(): object[] {
  const priced = PRODUCTS.filter(({ to }) => to === undefined).map((product) => {
    const now = listPrice(product, FIRST_OPEN);
    // The list as it was is in it too, so that discounts of the past can be told.
    const steps = [
      ...LIST_CHANGES.map((from) => ({ from, value: listPrice(product, monthFrom(from)) })),
      { from: '2027-04', value: cents(now * 1.03) },
      { from: '2028-04', value: cents(now * 1.06) },
    ];
    return {
      driver: 'listPrice',
      scope: { product: product.code },
      profile: { kind: 'steps', steps },
      note: 'Price list',
    };
  });
  const duo = {
    driver: 'listPrice',
    scope: { channel: 'web', product: 'tap-duo' },
    from: '2027-01',
    profile: {
      kind: 'steps',
      steps: [
        { from: '2027-01', value: 109 },
        { from: '2028-04', value: 112 },
      ],
    },
    note: 'New web list from January',
  };
  return [...priced, duo];
}

function discounts(): object[] {
  const promotion = { '2026-11': 0.2, '2027-11': 0.2, '2028-11': 0.2 };
  const sample = (find: Partial<Record<'channel' | 'group', string>>): number => {
    const line = combinations().find(
      (l) =>
        (!find.channel || l.channel === find.channel) &&
        (!find.group || l.group === find.group) &&
        l.product.family !== 'plans',
    );
    return line ? discount(line, FIRST_OPEN) : 0;
  };
  return [
    ...['web', 'stores', 'trade', 'office'].map((channel) => ({
      driver: 'discount',
      scope: { channel },
      profile: {
        kind: 'value',
        value: channel === 'trade' ? sample({ channel, group: 'landlords' }) : sample({ channel }),
      },
      note: 'Usual conditions',
    })),
    {
      driver: 'discount',
      scope: { channel: 'trade', group: 'cafes' },
      profile: { kind: 'value', value: 0.18 },
      note: 'Cafés buy less at once',
    },
    {
      driver: 'discount',
      scope: { channel: 'web', product: 'plans' },
      profile: { kind: 'value', value: 0 },
      note: 'Plans are not discounted',
    },
    {
      driver: 'discount',
      scope: { channel: 'office', product: 'plans' },
      profile: { kind: 'value', value: 0 },
      note: 'Plans are not discounted',
    },
    {
      driver: 'discount',
      scope: { channel: 'web', product: 'carafes' },
      profile: { kind: 'months', values: promotion },
      note: 'November offer',
    },
  ];
}

function returns(): object[] {
  const of = (channel: string): number => {
    const line = combinations().find(
      (l) =>
        l.channel === channel && l.product.family !== 'tap-units' && l.product.family !== 'plans',
    );
    return line ? returnRate(line) : 0;
  };
  const channels = ['web', 'stores', 'trade', 'office'];
  return [
    ...channels.map((channel) => ({
      driver: 'returnRate',
      scope: { channel },
      profile: { kind: 'value', value: of(channel) },
      note: '',
    })),
    {
      driver: 'returnRate',
      scope: { channel: 'web', product: 'tap-units' },
      profile: { kind: 'value', value: 0.06 },
      note: 'Fitting problems',
    },
    {
      driver: 'returnRate',
      scope: { channel: 'web', product: 'plans' },
      profile: { kind: 'value', value: 0 },
      note: '',
    },
    {
      driver: 'returnRate',
      scope: { channel: 'office', product: 'plans' },
      profile: { kind: 'value', value: 0 },
      note: '',
    },
  ];
}

export function assumptions(): object[] {
  return [...methodAssumptions(), ...prices(), ...discounts(), ...returns()];
}

/** What the budget expected of each channel, as growth on the year before. */
const EXPECTED: Readonly<Record<Line['channel'], number>> = {
  web: 1.15,
  stores: 1.02,
  trade: 1.07,
  office: 1.06,
};

/** The budget of FY 2027, made in March 2026: no glass carafe yet, and the Dew still in it. */
export function budgetRows(random: Random): string[] {
  const rows = [
    'month,channel,product,customer group,region,units,revenue,cost,active subscribers,new subscribers,lost subscribers,recurring revenue',
  ];
  for (const line of combinations()) {
    if (line.product.from !== undefined) continue;
    const planned: PlannedSales[] = [];
    for (let month = monthFrom('2026-04'); month <= monthFrom('2027-03'); month += 1) {
      const before = Math.min(month - 12, DEW_ENDS - 9);
      const base =
        line.product.to === undefined
          ? monthly(line, month - 12)
          : expectedUnits(line, before) * 0.5;
      const net = base * EXPECTED[line.channel] * random.around(0.01) * (1 - returnRate(line));
      const quantity = Math.round(net);
      const price = listPrice(line.product, month) * (1 - discount(line, month));
      const cost = quantity * listPrice(line.product, month) * line.product.costShare;
      planned.push({ month, quantity, revenue: quantity * price, cost });
    }
    planned.forEach((sales, at) => {
      const { month, quantity, revenue, cost } = sales;
      const key = [monthText(month), line.channel, line.product.code, line.group, line.region];
      const numbers = [quantity, revenue.toFixed(2), cost.toFixed(2)];
      rows.push([...key, ...numbers, ...plannedSubscribers(line, planned, at)].join(','));
    });
  }
  return rows;
}

interface PlannedSales {
  readonly month: Month;
  readonly quantity: number;
  readonly revenue: number;
  readonly cost: number;
}

/** What the budget expected to lose: of those who are there in a month, and of those whose year ends. */
const EXPECTED_LOSS: Readonly<Record<string, number>> = {
  'plan-month': 0.031,
  'plan-care': CARE_CHURN,
  'plan-year': NOT_RENEWED,
};

/**
 * Who is there, new, lost, and what they pay a month, of a line that is forecast as a subscription.
 * Of monthly plans units are those who are there; of the yearly plan the terms that begin.
 */
function plannedSubscribers(line: Line, planned: readonly PlannedSales[], at: number): string[] {
  const loss = EXPECTED_LOSS[line.product.code];
  const sales = planned[at];
  if (chosenFor(line).method !== 'subscription' || loss === undefined || !sales)
    return ['', '', '', ''];
  const { month, quantity, revenue } = sales;
  if (line.product.code === 'plan-year') {
    /** Terms and revenue of a month, as planned or, before the budget, as they were. */
    const sold = (back: number): { quantity: number; revenue: number } => {
      const before = Math.round(monthly(line, month - back));
      const price = listPrice(line.product, month - back);
      return planned[at - back] ?? { quantity: before, revenue: before * price };
    };
    const year = Array.from({ length: 12 }, (_, back) => sold(back));
    const [ends, active] = [sold(12).quantity, year.reduce((sum, one) => sum + one.quantity, 0)];
    const lost = Math.round(ends * loss);
    const recurring = year.reduce((sum, one) => sum + one.revenue, 0) / 12;
    return [active, quantity - (ends - lost), lost, recurring.toFixed(2)].map(String);
  }
  const next = planned[at + 1]?.quantity ?? quantity;
  // Before the first month of the budget it went on as it goes on after it.
  const before = planned[at - 1]?.quantity ?? quantity - Math.max(0, next - quantity);
  const lost = Math.max(Math.round(before * loss), before - quantity);
  return [quantity, quantity - before + lost, lost, revenue.toFixed(2)].map(String);
}
