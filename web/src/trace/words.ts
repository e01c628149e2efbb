import {
  ACTUAL,
  MEASURES,
  monthFrom,
  type Driver,
  type MemberTree,
  type Source,
  type TraceNode,
  type TraceQuestion,
} from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { longMonth, spanInWords } from '../format/periods.ts';

interface Names {
  readonly tree: MemberTree;
  readonly drivers: readonly Driver[];
  /** The workspace's name: what everything is called. */
  readonly whole: string;
  readonly versionName: (id: number) => string;
}

/** What a question is about: whose number, and in one quiet line which, when and from where. */
export function questionInWords(
  question: TraceQuestion,
  names: Names,
): { title: string; about: string } {
  const title = question.scope.length > 0 ? names.tree.label(question.scope) : names.whole;
  if (question.kind === 'driver') {
    const driver = names.drivers.find(({ code }) => code === question.driver);
    return { title, about: `${driver?.name ?? ''}, ${longMonth(monthFrom(question.month))}` };
  }
  const { name } = MEASURES[question.measure];
  const months = spanInWords(question.span);
  if (question.kind === 'variance') {
    const { of = ACTUAL, against } = question;
    const sold = of.kind === 'actual' ? 'actual' : sourceInWords(of, names);
    return {
      title,
      about: `${name}, ${months}, ${sold} less ${sourceInWords(against, names)}`,
    };
  }
  return { title, about: `${name}, ${months}, ${sourceInWords(question.source, names)}` };
}

function sourceInWords(source: Source, names: Names): string {
  switch (source.kind) {
    case 'actual':
      return source.books ? 'sales lines in the books' : 'sales lines';
    case 'forecast':
      if (source.kept) return 'forecast at the close of each month, and forecast';
      return source.books ? 'the books and forecast' : 'actual and forecast';
    case 'version':
      return source.at === undefined
        ? names.versionName(source.id)
        : `${names.versionName(source.id)} as it was`;
    case 'target':
      return `target of FY ${source.fiscalYear} by season`;
    case 'yearBefore':
      return `${sourceInWords(source.of, names)} a year before`;
  }
}

const OPERATORS: Readonly<Record<string, string>> = {
  '^': '^',
  '<': '<',
  '<=': '≤',
  '>': '>',
  '>=': '≥',
  '==': '=',
  '!=': '≠',
};

/** How a part enters the number above it. */
export function operatorOf(parent: TraceNode, place: number): string {
  switch (parent.shape) {
    case 'product':
      return place === 0 ? '' : '×';
    case 'ratio':
      return place === 0 ? '' : '÷';
    case 'difference':
      return place === 0 ? '' : '−';
    case 'oneMinus':
      return '1 −';
    case 'onePlus':
      return '1 +';
    case 'plus':
      return place === 0 ? '' : '+';
    case 'apply':
      return place === 0 ? '' : (OPERATORS[parent.operation ?? ''] ?? ',');
    default:
      return '';
  }
}

/** What a number's parts do, in words, above their list. */
export function shapeInWords(node: TraceNode): string {
  switch (node.shape) {
    case 'sum':
      return `The sum of ${node.parts.length} parts`;
    case 'mean':
      return `The average of its parts, weighted by ${node.weightedBy ?? 'volume'}`;
    default:
      return '';
  }
}

/** A number of an explanation as it is shown; money in full. */
export function numberInWords(
  node: Pick<TraceNode, 'value' | 'display'>,
  formats: Formats,
): string {
  const { value, display } = node;
  if (display === 'money') return formats.full(value, 'money');
  if (display === 'units' && value !== null && !Number.isInteger(value)) {
    return formats.full(value, 'units');
  }
  return formats.show(value, display);
}
