import type { FilledSheet, SheetLine } from '@dravex/contract';
import {
  ACTUAL,
  fiscalYearOf,
  FORECAST,
  monthFrom,
  questionOf,
  versionSource,
  yearBeforeSource,
  type Source,
  type Span,
} from '@dravex/core';
import { spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { growthOf, sumOf, type KnownNumber } from '../trace/nodes.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import type { SheetLook } from './sheet-rows.ts';
import { TEXTS } from './texts.ts';

/** A closed year. */
const YEAR = 12;

/** What the trace is asked for a line's number; undefined for words, and for a number that is not there. */
export function askLine(
  { sheet, closedThrough }: FilledSheet,
  line: SheetLine,
  column: string,
  { display, wholes }: SheetLook,
  fiscalStart: number,
): Asked | undefined {
  const span = { from: monthFrom(sheet.from), to: monthFrom(sheet.to) };
  const closed = monthFrom(closedThrough);
  const of = (source: Source, months: Span) =>
    questionOf({ source, measure: sheet.measure, scope: line.scope, span: months });
  const questions = {
    plan: of(versionSource(sheet.version), span),
    lastYear: of(yearBeforeSource(FORECAST), span),
    lastTwelve: of(ACTUAL, { from: closed - YEAR + 1, to: closed }),
    forecast: of(FORECAST, span),
  };
  const about = `${line.name}, ${spanInWords(span)}`;
  const known = (name: 'plan' | 'lastYear', label: string): KnownNumber => {
    const value = line[name];
    return { label, value: value === null ? null : value / wholes, question: questions[name] };
  };
  switch (column) {
    case 'plan':
    case 'lastYear':
    case 'lastTwelve':
    case 'forecast':
      return line[column] === null ? undefined : questioned(questions[column]);
    case 'change': {
      const [planned, before] = [
        known('plan', sheet.versionName),
        known('lastYear', WORDS.lastYear),
      ];
      if (before.value === null) return undefined;
      return { kind: 'node', node: growthOf(WORDS.change, planned, before, display), about };
    }
    case 'target': {
      if (line.target === null) return undefined;
      const fiscalYear = fiscalYearOf(span.to, fiscalStart);
      const source = { kind: 'objective', fiscalYear } as const;
      const value = line.target / wholes;
      return {
        kind: 'node',
        node: { ...sumOf(TEXTS.target, value, [], { display, source }), source },
        about,
      };
    }
    default:
      return undefined;
  }
}
