import type { TargetNode } from '@dravex/contract';
import {
  explainAttainment,
  explainRest,
  explainShare,
  explainTarget,
  type Scope,
  type Span,
  type TargetFigure,
  type TraceNode,
  FORECAST,
} from '@dravex/core';

/** Everything that the explanation of a target tree's numbers needs. */
export interface TargetTreeView {
  readonly nodes: readonly TargetNode[];
  readonly minor: number;
  /** The fiscal year, its closed months, and the year before. */
  readonly year: Span;
  readonly closed: Span;
  readonly before: Span;
  /** Whether of sales only what is in the books counts. */
  readonly books: boolean;
}

function above({ nodes }: TargetTreeView, node: TargetNode): TargetNode | undefined {
  return nodes.find(({ id }) => id === node.parent);
}

/** A node's scope: its own, or the one of the node above it. */
export function scopeOf(view: TargetTreeView, node: TargetNode): Scope {
  if (node.scope.length > 0) return node.scope;
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
  return explainTarget(figureOf(view, node), view.minor);
}

export function explainShareOf(view: TargetTreeView, node: TargetNode): TraceNode {
  return explainShare(figureOf(view, node), view.minor);
}

/** What the parts of a node leave of its target, or exceed it by. */
export function explainRestOf(view: TargetTreeView, node: TargetNode): TraceNode {
  const parts = view.nodes.filter(({ parent }) => parent === node.id);
  return explainRest(
    figureOf(view, node),
    parts.map((part) => figureOf(view, part)),
    view.minor,
  );
}

/** What a scope, or a seller in it, sold in a stretch of months. */
function sold(
  view: TargetTreeView,
  node: TargetNode,
  label: string,
  amount: number,
  span: Span,
): TraceNode {
  const scope = scopeOf(view, node);
  const seller = node.seller === null ? {} : { seller: node.seller };
  return {
    label,
    display: 'money',
    value: amount / view.minor,
    incomplete: false,
    shape: 'value',
    parts: [],
    source: { kind: 'sales', scope, span, ...seller, ...(view.books ? { books: true } : {}) },
  };
}

export function explainActual(view: TargetTreeView, node: TargetNode): TraceNode {
  return sold(view, node, `Sold by ${node.name}`, node.actual, view.closed);
}

export function explainLastYear(view: TargetTreeView, node: TargetNode): TraceNode {
  return sold(view, node, `Sold by ${node.name} the year before`, node.lastYear, view.before);
}

/** Actual of the closed months, and the holder's share of what its scope is forecast to sell. */
export function explainOutlook(view: TargetTreeView, node: TargetNode): TraceNode {
  const { minor, closed, year } = view;
  const ahead: TraceNode = {
    label: 'Forecast of the open months',
    display: 'money',
    value: node.ahead / minor,
    incomplete: false,
    shape: 'value',
    parts: [],
    question: {
      kind: 'table',
      source: FORECAST,
      measure: 'revenue',
      scope: scopeOf(view, node),
      span: { from: Math.max(year.from, closed.to + 1), to: year.to },
    },
  };
  const share: TraceNode = {
    label: 'Share of it, as of the last twelve closed months',
    display: 'percent',
    value: node.aheadShare,
    incomplete: false,
    shape: 'value',
    parts: [],
  };
  const own: TraceNode =
    node.seller === null
      ? ahead
      : {
          label: `${node.name}’s share of what is ahead`,
          display: 'money',
          value: (node.ahead * node.aheadShare) / minor,
          incomplete: false,
          shape: 'product',
          parts: [ahead, share],
        };
  return {
    label: `Forecast of ${node.name}`,
    display: 'money',
    value: node.outlook / minor,
    incomplete: false,
    shape: 'sum',
    parts: [explainActual(view, node), own],
  };
}

export function explainAttained(view: TargetTreeView, node: TargetNode): TraceNode {
  return explainAttainment(explainActual(view, node), explainNode(view, node));
}
