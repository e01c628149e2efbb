import { notForecastInWords, stillSold } from '../format/not-forecast.ts';
import { actualsOperations, closingOperations, targetOperations } from '@dravex/contract';
import {
  fiscalYearSpan,
  inAll,
  monthFrom,
  ratio,
  type Scope,
  type Source,
  type Span,
  type TraceQuestion,
  ACTUAL,
  FORECAST,
  targetSource,
  versionSource,
  yearBeforeSource,
} from '@dravex/core';
import { longMonth, shortMonth } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { TEXTS } from './texts.ts';

/** One line of the standing: where it is, and where it should be. */
export interface StandingLine {
  readonly key: string;
  readonly what: string;
  readonly span: Span;
  readonly now: number;
  readonly nowQuestion: TraceQuestion;
  readonly should: number | null;
  readonly shouldName: string;
  readonly shouldQuestion: TraceQuestion | undefined;
  /** Whether part of it is forecast. */
  readonly forecast: boolean;
}

/** What moved most in the last closed month, against what was expected of it. */
export interface BiggestChange {
  readonly key: string;
  readonly label: string;
  readonly where: string;
  readonly now: number;
  readonly before: number;
  readonly question: TraceQuestion;
}

export interface Standing {
  readonly fiscalYear: number;
  /** Whether all of its months are closed: then there is no outlook beside what was sold. */
  readonly closed: boolean;
  readonly scope: Scope;
  readonly lines: readonly StandingLine[];
  readonly changes: readonly BiggestChange[];
  /** The month that moved, and what it is held against. */
  readonly moved: { readonly now: number; readonly against: Expected };
}

/** What a month is held against: the forecast kept at its close, or the same month a year before. */
export interface Expected {
  readonly source: Source;
  readonly month: number;
  /** In a sentence, and over a column. */
  readonly name: string;
  readonly heading: string;
}

const MOST_CHANGES = 8;

/** Where the company stands in the fiscal year in which the window ends. */
export function useStanding() {
  const plan = usePlan();
  const { fiscalYear, scope, version, calendar, rows, books, counted, minor } = useFrame();

  return useAnswer(
    [fiscalYear, scope, version, rows, books, () => plan.tick],
    async (): Promise<Standing> => {
      const asked = scope.value;
      const [actual, line] = [counted(ACTUAL), counted(FORECAST)];
      const year = fiscalYearSpan(fiscalYear.value, calendar.value.fiscalStart);
      const first = monthFrom(calendar.value.first);
      const toDate = { from: year.from, to: Math.min(year.to, plan.closedThrough) };
      const closed = year.to <= plan.closedThrough;
      const kept = version.value;
      if (kept) await plan.loadVersion(kept.id);
      const keptSpan = kept && { from: monthFrom(kept.from), to: monthFrom(kept.to) };

      const question = (source: Source, span: Span): TraceQuestion => ({
        kind: 'table',
        source,
        measure: 'revenue',
        scope: asked,
        span,
      });
      const total = async (source: Source, span: Span): Promise<number | null> => {
        const table = await plan.compute().table(source, {
          measure: 'revenue',
          rows: rows.value.slice(0, 1),
          columns: 'time',
          scope: asked,
          span,
          grain: 'year',
        });
        return table.total.total.value;
      };
      const tree = await plan.ask(targetOperations.readTargets, {
        fiscalYear: fiscalYear.value,
      });
      // Objectives of other measures are followed in Targets.
      const top = tree.objective?.measure === 'revenue' ? tree.nodes[0] : undefined;
      // An objective is the whole company's: what of it falls to a scope, the tree says.
      const objective = top && asked.length === 0 ? top.amount / minor.value : null;
      const target =
        objective === null ? null : targetSource({ fiscalYear: tree.fiscalYear, objective });

      const lines: StandingLine[] = [];
      const add = async (
        line: Omit<StandingLine, 'now' | 'should' | 'shouldQuestion' | 'nowQuestion'>,
        now: [Source, Span],
        should: [Source, Span] | number | null,
      ): Promise<void> => {
        const value =
          typeof should === 'number' || should === null ? should : await total(...should);
        // Nothing planned for the time is no plan to be held against.
        if (value === null || value === 0) return;
        lines.push({
          ...line,
          now: (await total(...now)) ?? 0,
          nowQuestion: question(...now),
          should: value,
          shouldQuestion: Array.isArray(should) ? question(...should) : undefined,
        });
      };
      const before = (span: Span): Span => ({ from: span.from - 12, to: span.to - 12 });
      if (toDate.to >= toDate.from) {
        const what = closed ? TEXTS.revenueOfFy(fiscalYear.value) : TEXTS.revenueToDate;
        const date = { what, span: toDate, forecast: false };
        // A version that has some of the months only is held against those.
        const both = inAll([toDate, keptSpan]);
        if (kept && both) {
          await add(
            { ...date, key: 'date-budget', shouldName: kept.name, span: both },
            [actual, both],
            [versionSource(kept.id), both],
          );
        }
        if (before(toDate).from >= first) {
          await add(
            {
              ...date,
              key: 'date-before',
              shouldName: closed ? TEXTS.theYearBefore : TEXTS.sameMonthsYearBefore,
            },
            [actual, toDate],
            [yearBeforeSource(actual), toDate],
          );
        }
        if (target) {
          await add(
            {
              ...date,
              key: 'date-target',
              shouldName: closed ? TEXTS.targetOfYear : TEXTS.targetToDateBySeason,
            },
            [actual, toDate],
            [target, toDate],
          );
        }
      }
      const outlook = { what: TEXTS.outlookOfFy(fiscalYear.value), span: year, forecast: true };
      const coversYear = keptSpan && keptSpan.from <= year.from && keptSpan.to >= year.to;
      if (!closed && kept && coversYear) {
        await add(
          { ...outlook, key: 'year-budget', shouldName: kept.name },
          [line, year],
          [versionSource(kept.id), year],
        );
      }
      if (!closed) {
        await add(
          { ...outlook, key: 'year-target', shouldName: TEXTS.targetOfYear },
          [line, year],
          objective,
        );
      }
      if (!closed && before(year).from >= first) {
        await add(
          { ...outlook, key: 'year-before', shouldName: TEXTS.theYearBefore },
          [line, year],
          [yearBeforeSource(line), year],
        );
      }
      const last = Math.min(plan.closedThrough, year.to);
      const against = await expectedOf(last);
      return {
        fiscalYear: fiscalYear.value,
        closed,
        scope: asked,
        lines,
        changes: against.month >= first ? await changes(last, against, asked, question) : [],
        moved: { now: last, against },
      };
    },
  );

  /** The forecast that was kept when a month was closed; without one the year before. */
  async function expectedOf(month: number): Promise<Expected> {
    const { closes } = await plan.ask(closingOperations.readClosing, {});
    const kept = closes.find((close) => monthFrom(close.month) === month);
    if (!kept) {
      const before = month - 12;
      const heading = shortMonth(before, true);
      return { source: counted(ACTUAL), month: before, name: longMonth(before), heading };
    }
    await plan.loadVersion(kept.version);
    const name = TEXTS.forecastAtItsClose;
    return { source: versionSource(kept.version), month, name, heading: WORDS.forecast };
  }

  async function changes(
    month: number,
    against: Expected,
    asked: Scope,
    question: (source: Source, span: Span) => TraceQuestion,
  ): Promise<BiggestChange[]> {
    const at = async (source: Source, from: number) =>
      plan.compute().table(source, {
        measure: 'revenue',
        rows: rows.value,
        columns: 'time',
        scope: asked,
        span: { from, to: from },
        grain: 'month',
      });
    const [now, before] = await Promise.all([
      at(counted(ACTUAL), month),
      at(against.source, against.month),
    ]);
    const known = new Map(before.rows.map((row) => [row.key, row]));
    const all = new Map([...before.rows, ...now.rows].map((row) => [row.key, row]));
    const later = new Map(now.rows.map((row) => [row.key, row]));
    return [...all.values()]
      .filter(({ parent }) => !parent)
      .map((row) => ({
        key: row.key,
        label: row.label,
        where: row.scope
          .slice(0, -1)
          .map((id) => plan.tree.member(id).name)
          .join(', '),
        now: later.get(row.key)?.total.value ?? 0,
        before: known.get(row.key)?.total.value ?? 0,
        question: { ...question(counted(ACTUAL), { from: month, to: month }), scope: row.scope },
      }))
      .sort((a, b) => Math.abs(b.now - b.before) - Math.abs(a.now - a.before))
      .slice(0, MOST_CHANGES);
  }
}

/** What waits for somebody, with the room in which it is mended. */
export interface Waiting {
  readonly text: string;
  readonly room: string;
  readonly query?: Record<string, string>;
}

/** Everything that waits for attention, always true. */
export function useWaiting() {
  const plan = usePlan();
  const { fiscalYear, formats, minor } = useFrame();
  return useAnswer([fiscalYear, () => plan.tick, () => plan.savedAt], async () => {
    const [batches, tree, notForecast] = await Promise.all([
      plan.ask(actualsOperations.listImports, {}),
      plan.ask(targetOperations.readTargets, { fiscalYear: fiscalYear.value }),
      plan.compute().notForecast(),
    ]);
    const list: Waiting[] = batches
      .filter(({ state }) => state === 'previewed')
      .map(({ fileName, good }) => ({
        text: TEXTS.isNotImportedYetRows(fileName, good),
        room: 'actuals',
      }));
    if (plan.missing.length > 0) {
      const driver = String(plan.missing[0]?.where['driver'] ?? '');
      const text = TEXTS.inputsOfForecastAreMissing(plan.missing.length);
      list.push({ text, room: 'drivers', query: { driver } });
    }
    if (stillSold(notForecast).length > 0) {
      const text = notForecastInWords(notForecast);
      list.push({ text, room: 'forecast', query: { panel: 'loose' } });
    }
    const isMoney = tree.objective?.measure === 'revenue';
    for (const node of isMoney ? tree.nodes : []) {
      const words = (cents: number): string => formats.value.inWords(cents / minor.value);
      if (node.unassigned) {
        const text = TEXTS.ofTargetOfUnassigned(words(node.unassigned), node.name);
        list.push({ text, room: 'targets', query: { row: String(node.id) } });
      }
      if (node.overAssigned) {
        const text = TEXTS.overTargetOfAssigned(words(node.overAssigned), node.name);
        list.push({ text, room: 'targets', query: { row: String(node.id) } });
      }
    }
    if (tree.nodes.length === 0) {
      list.push({ text: TEXTS.fyHasNoTargetYet(fiscalYear.value), room: 'targets' });
    }
    if (plan.versions.length === 0) {
      list.push({ text: TEXTS.noBudgetIsSavedYet, room: 'budget' });
    }
    return list;
  });
}

/** How far off a line is, as a fraction of where it should be; null where that is nothing. */
export function offOf({ now, should }: Pick<StandingLine, 'now' | 'should'>): number | null {
  return should === null ? null : ratio(now - should, Math.abs(should));
}
