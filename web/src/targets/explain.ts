import type { TargetNode } from '@dravex/contract';
import {
  monthFrom,
  explainAttainment,
  explainRest,
  explainShare,
  explainTarget,
  type Scope,
  type Span,
  type TargetFigure,
  type TargetMeasure,
  type TraceNode,
  FORECAST,
  meaningOf,
} from '@dravex/core';
import { TEXTS } from './texts.ts';

/** Everything that the explanation of a target tree's numbers needs. */
export interface TargetTreeView {
  readonly nodes: readonly TargetNode[];
  readonly measure: TargetMeasure;
  /** How many of the whole numbers in which targets are kept make one. */
  readonly wholes: number;
  readonly fiscalYear: number;
  /** The months of the year, its closed ones, and the year before. */
  readonly year: Span;
  readonly closed: Span;
  readonly before: Span;
  /** Whether of sales only what is in the books counts. */
  readonly books: boolean;
}

const displayOf = ({ measure }: TargetTreeView) => meaningOf(measure).display;

/** What sales lines and tables know; of subscribers they do not say whose they are. */
function soldMeasure({ measure }: TargetTreeView): 'revenue' | 'units' | 'margin' | undefined {
  return measure === 'revenue' || measure === 'units' || measure === 'margin' ? measure : undefined;
}

function above({ nodes }: TargetTreeView, node: TargetNode): TargetNode | undefined {
  return nodes.find(({ id }) => id === node.parent);
}

/** The scope in which a node counts; a team that only groups its parts has the one above it. */
export function scopeOf(view: TargetTreeView, node: TargetNode): Scope {
  if (node.counts) return node.counts.scope;
  const parent = above(view, node);
  return parent ? scopeOf(view, parent) : [];
}

function figureOf(view: TargetTreeView, node: TargetNode): TargetFigure {
  const parent = above(view, node);
  return {
    name: node.name,
    part: node.part,
    amount: node.amount,
    typed: node.typed ?? undefined,
    above: parent && figureOf(view, parent),
  };
}

export function explainNode(view: TargetTreeView, node: TargetNode): TraceNode {
  return explainTarget(figureOf(view, node), view.wholes, displayOf(view));
}

export function explainShareOf(view: TargetTreeView, node: TargetNode): TraceNode {
  return explainShare(figureOf(view, node), view.wholes, displayOf(view));
}

/** What the parts of a node leave of its target, or exceed it by. */
export function explainRestOf(view: TargetTreeView, node: TargetNode): TraceNode {
  const parts = view.nodes.filter(({ parent }) => parent === node.id);
  return explainRest(
    figureOf(view, node),
    parts.map((part) => figureOf(view, part)),
    view.wholes,
    displayOf(view),
  );
}

/** What a scope, or a seller in it, sold in a stretch of months. */
function sold(
  view: TargetTreeView,
  node: TargetNode,
  label: string,
  amount: number,
  span: Span,
  /** The same of a part, where the node is what its parts are. */
  of: (part: TargetNode) => TraceNode,
): TraceNode {
  const base = {
    label,
    display: displayOf(view),
    value: amount / view.wholes,
    incomplete: false,
  } as const;
  if (!node.counts) {
    const parts = view.nodes.filter(({ parent }) => parent === node.id);
    return { ...base, shape: 'sum', parts: parts.map((part) => of(part)) };
  }
  const { scope } = node.counts;
  return {
    label,
    display: displayOf(view),
    value: amount / view.wholes,
    incomplete: false,
    shape: 'value',
    parts: [],
    ...(soldMeasure(view)
      ? {
          source: {
            ...{ kind: 'sales', scope, span, ...(view.books ? { books: true } : {}) },
            target: { fiscalYear: view.fiscalYear, node: node.id },
          },
        }
      : {}),
  };
}

export function explainActual(view: TargetTreeView, node: TargetNode): TraceNode {
  return sold(view, node, TEXTS.soldBy(node.name), node.actual, view.closed, (part) =>
    explainActual(view, part),
  );
}

export function explainLastYear(view: TargetTreeView, node: TargetNode): TraceNode {
  return sold(view, node, TEXTS.soldByYearBefore(node.name), node.lastYear, view.before, (part) =>
    explainLastYear(view, part),
  );
}

/** Actual of the closed months, and the holder's share of what its scope is forecast to sell. */
export function explainOutlook(view: TargetTreeView, node: TargetNode): TraceNode {
  const { wholes, closed, year } = view;
  if (!node.counts) {
    const parts = view.nodes.filter(({ parent }) => parent === node.id);
    return {
      label: TEXTS.forecastOf(node.name),
      display: displayOf(view),
      value: node.outlook / wholes,
      incomplete: false,
      shape: 'sum',
      parts: parts.map((part) => explainOutlook(view, part)),
    };
  }
  const measure = soldMeasure(view);
  const until = node.until === null ? year.to : Math.min(year.to, monthFrom(node.until));
  const ahead: TraceNode = {
    label: TEXTS.forecastOfOpenMonths,
    display: displayOf(view),
    value: node.ahead / wholes,
    incomplete: false,
    shape: 'value',
    parts: [],
    ...(measure
      ? {
          question: {
            kind: 'table',
            source: FORECAST,
            measure,
            scope: scopeOf(view, node),
            span: { from: Math.max(year.from, closed.to + 1), to: until },
          },
        }
      : {}),
  };
  // Of somebody's year, the rest is what the other parts leave.
  const isRest = node.counts.seller !== null && node.seller === null && node.aheadShare === 1;
  if (isRest) {
    const left = { label: TEXTS.whatOtherPartsLeaveOf, question: undefined };
    const { question: _, ...plain } = { ...ahead, ...left };
    return {
      label: TEXTS.forecastOf(node.name),
      display: displayOf(view),
      value: node.outlook / wholes,
      incomplete: false,
      shape: 'sum',
      parts: [explainActual(view, node), plain],
    };
  }
  const share: TraceNode = {
    label: TEXTS.shareOfItAsOf,
    display: 'percent',
    value: node.aheadShare,
    incomplete: false,
    shape: 'value',
    parts: [],
  };
  const own: TraceNode =
    node.counts.seller === null
      ? ahead
      : {
          label: TEXTS.shareOfWhatIsAhead(node.name),
          display: displayOf(view),
          value: (node.ahead * node.aheadShare) / wholes,
          incomplete: false,
          shape: 'product',
          parts: [ahead, share],
        };
  return {
    label: TEXTS.forecastOf(node.name),
    display: displayOf(view),
    value: node.outlook / wholes,
    incomplete: false,
    shape: 'sum',
    // Nothing is ahead of somebody who has left.
    parts: [explainActual(view, node), ...(until > closed.to ? [own] : [])],
  };
}

export function explainAttained(view: TargetTreeView, node: TargetNode): TraceNode {
  return explainAttainment(explainActual(view, node), explainNode(view, node));
}

/** Actual over the target that is due by the season of the year before. */
export function explainToDate(view: TargetTreeView, node: TargetNode): TraceNode {
  const target = explainNode(view, node);
  const season: TraceNode = {
    label: TEXTS.partOfYearThatWas,
    display: 'percent',
    value: node.due,
    incomplete: false,
    shape: 'value',
    parts: [],
  };
  const due: TraceNode = {
    label: TEXTS.targetOfToDate(node.name),
    display: displayOf(view),
    value: node.due === null || target.value === null ? null : target.value * node.due,
    incomplete: false,
    shape: 'product',
    parts: [target, season],
  };
  return { ...explainAttainment(explainActual(view, node), due), label: TEXTS.attainedToDate };
}

/** What is sold in a node by none of its parts. */
export function explainOthers(
  view: TargetTreeView,
  node: TargetNode,
  which: 'lastYear' | 'actual' | 'outlook',
): TraceNode {
  const explained = { lastYear: explainLastYear, actual: explainActual, outlook: explainOutlook }[
    which
  ];
  const parts = view.nodes
    .filter(({ parent }) => parent === node.id)
    .map((part) => explained(view, part));
  const value = parts.reduce((sum, part) => sum + (part.value ?? 0), 0);
  const together: TraceNode = {
    label: TEXTS.partsOf(node.name),
    display: displayOf(view),
    value,
    incomplete: false,
    shape: 'sum',
    parts,
  };
  return {
    label: TEXTS.inByNoneOfIts(node.name),
    display: displayOf(view),
    value: (node.others?.[which] ?? 0) / view.wholes,
    incomplete: false,
    shape: 'difference',
    parts: [explained(view, node), together],
  };
}
