import type { PlanFile } from '@dravex/contract';
import {
  compile,
  evaluate,
  explain,
  grownOn,
  MEASURE_CODES,
  MEASURED_CODES,
  parseMonth,
  Sources,
  versionSource,
  type Model,
  type Plan,
  type Source,
  type TraceNode,
  type TraceQuestion,
} from '@dravex/core';
import { UnreadablePlan } from './plan-file.ts';

/** What is asked about a plan file, as it is typed. */
export interface ExplainArguments {
  readonly measure: string;
  readonly scope: string;
  readonly from: string;
  readonly to: string;
  readonly source: string;
  readonly driver?: string | undefined;
  readonly depth: number;
}

/** `channel:web,product:carafe` as ids. @throws UnreadablePlan for a member that is not there */
export function scopeOf({ plan }: PlanFile, text: string): number[] {
  return text
    .split(',')
    .filter((part) => part !== '')
    .map((part) => {
      const [dimension, code] = part.split(':');
      const members = plan.dimensions.find((d) => d.code === dimension)?.members;
      const member = members?.find((member) => member.code === code);
      if (!member)
        throw new UnreadablePlan(`There is no member "${part}"; write it as channel:web`);
      return member.id;
    });
}

function monthOf(text: string, name: string): number {
  const month = parseMonth(text);
  if (month === undefined) {
    throw new UnreadablePlan(`--${name} is a month such as 2026-04, not "${text}"`);
  }
  return month;
}

function sourceOf({ versions }: PlanFile, text: string): Source {
  if (text === 'actual' || text === 'forecast') return { kind: text };
  const version = versions.find(({ name }) => name === text);
  if (version) return versionSource(version.id);
  const names = ['actual', 'forecast', ...versions.map(({ name }) => `"${name}"`)];
  throw new UnreadablePlan(`--source is one of ${names.join(', ')}`);
}

/** The numbers of a plan file's sources. */
function sourcesOf({ versions }: PlanFile, model: Model): Sources {
  return new Sources(model, ({ id }) => {
    const version = versions.find((one) => one.id === id);
    if (!version) throw new UnreadablePlan(`There is no version ${id}`);
    return version.cells;
  });
}

/** Explains a number of a plan file as lines of text, one step a line, parts below what they make. */
export function explainLines(file: PlanFile, asked: ExplainArguments): string[] {
  const model = evaluate(compile(file.plan as Plan));
  const sources = sourcesOf(file, model);
  const scope = scopeOf(file, asked.scope);
  const measure = MEASURED_CODES.find((code) => code === asked.measure);
  if (!measure) throw new UnreadablePlan(`--measure is one of ${MEASURED_CODES.join(', ')}`);
  const from = monthOf(asked.from, 'from');
  const to = monthOf(asked.to, 'to');
  if (from > to) throw new UnreadablePlan('--from is later than --to');
  if (asked.driver !== undefined && !file.plan.drivers.some(({ code }) => code === asked.driver)) {
    throw new UnreadablePlan(`There is no driver "${asked.driver}"`);
  }
  const span = { from, to };
  const source = sourceOf(file, asked.source);
  const plain = MEASURE_CODES.find((code) => code === measure);
  const before = grownOn(measure, span, null, 'month');
  const question: TraceQuestion =
    asked.driver !== undefined
      ? { kind: 'driver', driver: asked.driver, scope, month: asked.from }
      : plain
        ? { kind: 'table', source, measure: plain, scope, span }
        : { kind: 'measured', source, measure, scope, span, before, whole: [] };
  const lines: string[] = [];
  const visit = (node: TraceNode, level: number, left: number): void => {
    lines.push(
      `${'  '.repeat(level)}${node.label}: ${node.value ?? 'no value'}${restsOn(file, node)}`,
    );
    const deeper = node.shape === 'value' && node.question && !node.source && left > 0;
    const parts = deeper
      ? explain(model, node.question, (source) => sources.figures(source)).parts
      : node.parts;
    if (left > 0) for (const part of parts) visit(part, level + 1, left - 1);
  };
  visit(
    explain(model, question, (source) => sources.figures(source)),
    0,
    asked.depth,
  );
  return lines;
}

function restsOn({ plan }: PlanFile, { source }: TraceNode): string {
  switch (source?.kind) {
    case 'assumption': {
      const { note } = plan.assumptions.find(({ id }) => id === source.id) ?? { note: '' };
      return ` (assumption ${source.id}${note ? `, “${note}”` : ''})`;
    }
    case 'adjustment': {
      const { note } = plan.adjustments.find(({ id }) => id === source.id) ?? { note: '' };
      return ` (a manual override${note ? `, “${note}”` : ''})`;
    }
    case 'default':
      return ' (no input: the default)';
    case 'missing':
      return ' (missing)';
    case 'sales':
      return ' (sales lines)';
    case 'measured':
      return ` (measured as ${source.measure})`;
    case 'objective':
      return ' (set in Targets)';
    case 'kept':
      return ' (kept)';
    default:
      return '';
  }
}
