/** Why a share, a growth or a market is what it is: the numbers of the table that it is made of. */
import { monthText, type Month } from '../calendar/month.ts';
import type { Scope } from '../dimensions/dimension.ts';
import { MARKET_SIZE } from '../drivers/catalogue.ts';
import type { Model } from '../forecast/run.ts';
import { MEASURES, type MeasureCode, type SubscriberPart } from '../measures/catalogue.ts';
import type { Figures } from '../tables/figures.ts';
import { marketFacts, marketOf } from '../tables/market.ts';
import { daysByMonth, partOfMonth } from './explain-days.ts';
import { yearBeforeSource } from '../sources/source.ts';
import { ratio, valueOrNull } from '../measures/nature.ts';
import {
  knownOf,
  movedParts,
  ratioParts,
  subscriberSum,
  type SubscriberFigures,
} from '../subscriptions/figures.ts';
import { inScope } from '../dimensions/row-tree.ts';
import {
  explainActive,
  explainNew,
  explainRecurring,
} from '../forecast/methods/explain-subscription.ts';
import type { Explaining } from '../forecast/methods/method.ts';
import { explainingOf } from './explain-stream.ts';
import { lessOf, type TraceNode, type TraceQuestion, type TraceSource } from './trace.ts';

type Question = Extract<TraceQuestion, { kind: 'measured' }>;
type TableQuestion = Extract<TraceQuestion, { kind: 'table' }>;
/** Explains a number of a plain table. */
type OfTable = (question: TableQuestion) => TraceNode;

/** Explains a number of a measured table, one level down. */
export function explainMeasured(
  model: Model,
  question: Question,
  {
    figures,
    subscribers,
  }: {
    readonly figures: Figures;
    /** Of the source; undefined where it has no subscriptions. */
    readonly subscribers: () => SubscriberFigures | undefined;
  },
  ofTable: OfTable,
): TraceNode {
  const { making } = MEASURES[question.measure];
  const { source, scope, span } = question;
  const table = { kind: 'table', source, scope, span } as const;
  switch (making.kind) {
    case 'share':
      return divided(question, [
        asLeaf(ofTable({ ...table, measure: making.of })),
        asLeaf(ofTable({ ...table, measure: making.of, scope: question.whole })),
      ]);
    case 'growth': {
      const now = asLeaf(ofTable({ ...table, measure: making.of }));
      // Days are compared with the same days a year before, where the numbers of both are known.
      const before = asLeaf(
        ofTable({
          ...table,
          measure: making.of,
          ...(span.days && making.on === 'year'
            ? { source: yearBeforeSource(source) }
            : { span: question.before ?? span }),
        }),
      );
      return divided(question, [increase(now, before), positive(before)]);
    }
    case 'market': {
      const { units, market } = marketParts(model, question, figures, ofTable);
      return making.of === 'size' ? { ...market, question } : divided(question, [units, market]);
    }
    case 'subscription':
      return explainSubscriptions(model, question, making.of, subscribers());
    default:
      return ofTable({ ...table, measure: question.measure as MeasureCode });
  }
}

const counted = (
  label: string,
  display: TraceNode['display'],
  { value, incomplete }: Pick<TraceNode, 'value' | 'incomplete'>,
  source: TraceSource,
): TraceNode => ({ label, display, value, incomplete, shape: 'value', parts: [], source });

/** Of subscriptions: a sum by its lines; of one line what was there, who came and who left. */
function explainSubscriptions(
  model: Model,
  question: Question,
  of: SubscriberPart,
  figures: SubscriberFigures | undefined,
): TraceNode {
  const { measure, scope, span, source } = question;
  const { name, display } = MEASURES[measure];
  if (!figures) {
    const nothing = { label: name, display, value: null, incomplete: false, question };
    return { ...nothing, shape: 'value', parts: [], source: { kind: 'nothing' } };
  }
  const held = [...inScope(model.tree, model.plan.combinations, scope)].filter((index) =>
    figures.places.has(index),
  );
  const [from, to] = [span.from - model.first, span.to - model.first];
  const sum = (part: SubscriberPart, parts: readonly number[], start = from) =>
    subscriberSum(figures, part, parts, start, to);
  const node = { label: name, display, ...sum(of, held), question };
  const [only] = held;
  if (only === undefined || from > to) {
    return { ...node, shape: 'value', parts: [], source: { kind: 'nothing' } };
  }
  const stream = model.streams.find(
    ({ combination }) => combination.id === model.plan.combinations[only]?.id,
  )?.stream;
  const kept = source.kind === 'version' ? source.id : undefined;
  const cohorts: TraceSource =
    kept === undefined
      ? { kind: 'cohorts', stream: stream?.id ?? 0 }
      : {
          ...{ kind: 'kept', version: kept, month: monthText(span.to) },
          combination: model.plan.combinations[only]?.id ?? 0,
        };
  const open = kept === undefined ? model.open : 0;
  // Who came and who left is in no sales line: subscriber records say it.
  if (to < open && (of === 'active' || of === 'recurring')) {
    const { members = [] } = model.plan.combinations[only] ?? {};
    const sales: TraceSource =
      held.length === 1 ? { kind: 'sales', scope: members, span } : { kind: 'sales', scope, span };
    return { ...node, shape: 'value', parts: [], source: sales };
  }
  if (of === 'churn' || of === 'netRetention') {
    const known = knownOf(figures, of, held, from, to);
    // Closed months have no movement: there is nothing to show of a span that starts in them.
    if (known.length === 0) {
      return { ...node, shape: 'value', parts: [], source: { kind: 'nothing' } };
    }
    const parts = ratioParts(figures, of, known, from, to).map(([label, shown, value]) =>
      counted(
        label,
        shown,
        { value: valueOrNull(value), incomplete: Number.isNaN(value) },
        cohorts,
      ),
    );
    return { ...node, shape: 'ratio', parts };
  }
  if (held.length > 1) {
    const parts = held.map((index): TraceNode => {
      const { members = [] } = model.plan.combinations[index] ?? {};
      return {
        ...{ label: model.tree.label(members), display, ...sum(of, [index]) },
        ...{ shape: 'value', parts: [], question: { ...question, scope: members } },
      };
    });
    return { ...node, shape: 'sum', parts };
  }
  if (from === to && to >= open && stream && kept === undefined) {
    const place = model.placeOf.get(stream.combination) ?? -1;
    return { ...node, ...explainMonth(explainingOf(model, place, to), of, question) };
  }
  const parts = movedParts(
    figures,
    of,
    only,
    of === 'starters' ? from : Math.max(from, open),
    to,
  ).map(([label, value, leaves]) => {
    const leaf = counted(
      label,
      display,
      { value: valueOrNull(value), incomplete: Number.isNaN(value) },
      cohorts,
    );
    return leaves ? lessOf(leaf) : leaf;
  });
  return { ...node, shape: 'plus', parts };
}

/** A month of one subscription: what was there before opens further, month by month. */
function explainMonth(
  explaining: Explaining,
  of: Exclude<SubscriberPart, 'churn' | 'netRetention'>,
  question: Question,
): Pick<TraceNode, 'shape' | 'parts'> {
  if (of === 'starters') return { shape: 'sum', parts: [explainNew(explaining)] };
  const { shape, parts } =
    of === 'active' ? explainActive(explaining) : explainRecurring(explaining);
  const [before, ...rest] = parts;
  const month = question.span.from - 1;
  if (!before || month < explaining.stretch.first + explaining.stretch.open)
    return { shape, parts };
  const asked = { ...question, span: { from: month, to: month } };
  const { source: _, ...opens } = before;
  return { shape, parts: [{ ...opens, question: asked }, ...rest] };
}

/** A number with its question, to be opened when it is asked for. */
function asLeaf(node: TraceNode): TraceNode {
  return node.question ? { ...node, shape: 'value', parts: [] } : node;
}

function divided(question: Question, parts: readonly [TraceNode, TraceNode]): TraceNode {
  const [above, below] = parts;
  return {
    label: MEASURES[question.measure].name,
    display: 'percent',
    value: ratio(above.value ?? Number.NaN, below.value ?? Number.NaN),
    incomplete: above.incomplete || below.incomplete,
    shape: 'ratio',
    parts,
    question,
  };
}

function increase(now: TraceNode, before: TraceNode): TraceNode {
  const bothThere = now.value !== null && before.value !== null;
  return {
    label: 'More than before',
    display: now.display,
    value: bothThere ? (now.value ?? 0) - (before.value ?? 0) : null,
    incomplete: now.incomplete || before.incomplete,
    shape: 'difference',
    parts: [now, before],
  };
}

/** A growth is of the size of what was before, whatever its sign. */
function positive(before: TraceNode): TraceNode {
  if (before.value === null || before.value >= 0) return before;
  return {
    ...before,
    label: `Size of ${before.label}`,
    value: -before.value,
    shape: 'apply',
    operation: 'negate',
    parts: [before],
  };
}

const total = (nodes: readonly TraceNode[]): Pick<TraceNode, 'value' | 'incomplete'> => {
  const valuesThere = nodes.flatMap(({ value }) => value ?? []);
  const incomplete = nodes.some((node) => node.incomplete);
  const value = valuesThere.reduce((sum, one) => sum + one, 0);
  return { value: incomplete && value === 0 ? null : value, incomplete };
};

/** What a market's size rests on: an assumption, or what was measured of it. */
function sizeSource(model: Model, scope: Scope, holder: number, month: Month): TraceSource {
  if (holder > 0) return { kind: 'assumption', id: holder, month: monthText(month) };
  const { history } = model.plan.drivers.find(({ code }) => code === MARKET_SIZE) ?? {};
  return month < model.first + model.open && history
    ? { kind: 'measured', measure: history.measure, scope, month: monthText(month) }
    : { kind: 'default', driver: MARKET_SIZE };
}

/** The units for which a market is known, and that market; what several share counts once. */
function marketParts(
  model: Model,
  { source, scope, span }: Question,
  figures: Figures,
  ofTable: OfTable,
): { units: TraceNode; market: TraceNode } {
  const behind = marketOf(model);
  const { facts: numbers, holders, scopes } = behind;
  const units: TraceNode[] = [];
  const from = Math.max(span.from, figures.first);
  const held = [...inScope(model.tree, figures.combinations, scope)];
  const placeIn = (index: number, month: Month): number =>
    index * figures.count + month - figures.first;
  const months = Array.from({ length: Math.max(0, span.to - from + 1) }, (_, i) => from + i).filter(
    (month) => month - figures.first < figures.count,
  );
  for (const index of held) {
    const { members = [] } = figures.combinations[index] ?? {};
    const asked = { kind: 'table', source, measure: 'units', scope: members } as const;
    const soldMonths = months.filter((month) => (numbers[placeIn(index, month)] ?? 0) !== 0);
    // Where its market is known throughout, a stream is one step.
    const whole = soldMonths.length === span.to - from + 1;
    const { days } = span;
    const cut = days
      ? daysByMonth(span).map((part) => part.span)
      : soldMonths.map((t) => ({ from: t, to: t }));
    const inSold = cut.filter((part) => soldMonths.includes(part.from));
    const stretches = whole ? [{ from, to: span.to, days }] : inSold;
    for (const stretch of stretches) units.push(asLeaf(ofTable({ ...asked, span: stretch })));
  }
  const sizes = new Map<number, { label: string; months: TraceNode[] }>();
  for (const month of months) {
    const places = held.map((index) => placeIn(index, month));
    for (const [number, value] of marketFacts(behind, places)) {
      const where = scopes[number - 1] ?? [];
      const sizeOfMarket = sizes.get(number) ?? { label: model.tree.label(where), months: [] };
      sizes.set(number, sizeOfMarket);
      const at = places.find((place) => numbers[place] === number) ?? -1;
      const size: TraceNode = {
        label: `Market size, ${monthText(month)}`,
        display: 'units',
        value,
        incomplete: false,
        shape: 'value',
        parts: [],
        source: sizeSource(model, where, holders[at] ?? 0, month),
      };
      const { days } = span;
      sizeOfMarket.months.push(days ? partOfMonth(size, month, days) : size);
    }
  }
  const all = [...sizes.values()];
  const sizesOf = all.map(({ label, months }): TraceNode => ({
    label: `Market of ${label}`,
    display: 'units',
    ...total(months),
    shape: 'sum',
    parts: months,
  }));
  const [only] = sizesOf;
  const market: TraceNode =
    sizesOf.length === 1 && only
      ? { ...only, label: 'Market size' }
      : { label: 'Market size', display: 'units', ...total(sizesOf), shape: 'sum', parts: sizesOf };
  return {
    units: {
      label: 'Units where the market is known',
      display: 'units',
      ...total(units),
      shape: 'sum',
      parts: units,
    },
    market,
  };
}
