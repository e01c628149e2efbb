import {
  FORECAST,
  KEPT_FORECAST,
  ratio,
  yearBeforeSource,
  type Source,
  type Span,
  type Table,
  type TableCell,
  type TraceQuestion,
} from '@dravex/core';
import { computed } from 'vue';
import { closedInWords, columnHeading, spanInWords } from '../format/periods.ts';
import { WORDS } from '../format/words.ts';
import type { GridCell, GridRow } from '../grid/plan-grid.ts';
import { displayOf, measureInWords } from '../grid/table-rows.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { growthOf } from '../trace/nodes.ts';
import { questioned, type Asked } from '../trace/use-trace.ts';
import { forecastHeadline } from './headline.ts';
import { TEXTS } from './texts.ts';
import type { useArrangement } from './use-arrangement.ts';
import { useForecastLine, useForecastTotals } from './use-tables.ts';

/** What the page of the forecast says of its totals: heading, state, chart, last year and growth. */
export function useForecastPage(arrangement: ReturnType<typeof useArrangement>) {
  const plan = usePlan();
  const { formats, unit, subjectOf, isMany, calendar, books, counted } = useFrame();
  const { data, failure } = useForecastTotals();
  const shown = useForecastLine();

  const display = computed(() => displayOf(data.value?.query.measure ?? 'revenue'));

  /** The version and last year only count where they cover the whole window. */
  const planTotals = computed(() => {
    const answer = data.value;
    const kept = plan.versions.find(({ name }) => name === answer?.plan?.name);
    if (!answer?.plan || !kept) return undefined;
    return { name: answer.plan.name, total: answer.plan.table.total };
  });
  const against = computed(() => {
    const answer = data.value;
    if (!answer) return null;
    const planned = planTotals.value?.total;
    const covered = planned?.cells.every(({ value }) => value !== null && value !== 0);
    if (planned && covered && planned.total.value) {
      return { name: planTotals.value?.name ?? '', value: planned.total.value };
    }
    const before = answer.lastYear?.total.total.value;
    return before ? { name: TEXTS.lastYear, value: before } : null;
  });

  const headline = computed(() => {
    const answer = data.value;
    if (!answer) return '';
    return forecastHeadline(
      {
        subject: subjectOf(answer.query.scope),
        many: isMany(answer.query.scope),
        measure: answer.query.measure,
        value: answer.table.total.total.value,
        span: answer.query.span,
        closedThrough: plan.closedThrough,
        against: against.value,
      },
      formats.value,
    );
  });
  const state = computed(() => {
    const answer = data.value;
    if (!answer) return '';
    const { measure, span, grain } = answer.query;
    const instead = plan.workspace?.closedMonths === 'instead';
    const closed = instead ? TEXTS.closedMonthsAsForecastAt : '';
    const weeks = grain === 'week' ? TEXTS.openWeeksByDays : '';
    return TEXTS.baseScenario(
      measureInWords(measure, unit.value, formats.value),
      spanInWords(span),
      closedInWords(span, plan.closedThrough),
      books.value,
      closed,
      weeks,
    );
  });

  /** A quiet row below the total; its cells are of another year or a ratio. */
  function quietRow(key: string, label: string, texts: readonly string[]): GridRow {
    const cells: GridCell[] = texts.map((text) => ({ text, typed: text, dress: 'mixed' }));
    return { key, label, level: 0, parent: false, folded: false, strong: false, cells };
  }
  const below = computed(() => {
    const answer = data.value;
    if (!answer) return [];
    const { table, lastYear, kept } = answer;
    // Beside several measures it would not be clear of which these are.
    const { measures, across } = arrangement;
    if (across.value || measures.value.length > 1 || measures.value[0] !== answer.query.measure)
      return [];
    const shownOf = ({ value }: TableCell): string =>
      formats.value.show(value, display.value, unit.value);
    const keptRow = kept && [
      quietRow('kept', TEXTS.forecastAtClose, [
        shownOf(kept.total.total),
        ...kept.total.cells.map((cell, place) => {
          const { period } = kept.columns[place] ?? {};
          return period && period.to <= plan.closedThrough ? shownOf(cell) : '';
        }),
      ]),
    ];
    if (!lastYear || lastYear.columns.length !== table.columns.length) return keptRow ?? [];
    const now = [table.total.total, ...table.total.cells];
    const before = [lastYear.total.total, ...lastYear.total.cells];
    return [
      ...(keptRow ?? []),
      quietRow('last-year', WORDS.lastYear, before.map(shownOf)),
      quietRow(
        'growth',
        TEXTS.growth,
        now.map(({ value }, index) => {
          const then = before[index]?.value ?? null;
          const growth =
            value === null || then === null ? null : ratio(value - then, Math.abs(then));
          return formats.value.show(growth, 'percent');
        }),
      ),
    ];
  });

  /** Last year's number and the growth, explained by the two years. */
  function askBelow(row: string, place: number, { from, to, days }: Span): Asked | undefined {
    const answer = data.value;
    if (!answer) return undefined;
    const { measure, scope: asked } = answer.query;
    const line = shown.value;
    const lastYearLine = counted(FORECAST);
    const question = (source: Source, span: Span): TraceQuestion => ({
      kind: 'table',
      source,
      measure,
      scope: asked,
      span,
    });
    const now = { from, to, days };
    const before = { from: from - 12, to: to - 12 };
    // Days are explained where they are compared.
    const questionBefore = days
      ? question(yearBeforeSource(lastYearLine), now)
      : question(lastYearLine, before);
    if (row === 'kept') return questioned(question(counted(KEPT_FORECAST), now));
    if (!answer.lastYear) return undefined;
    if (row === 'last-year') return questioned(questionBefore);
    const valueIn = ({ total }: Table): number | null =>
      (place === 0 ? total.total : total.cells[place - 1])?.value ?? null;
    const node = growthOf(
      TEXTS.growthOnLastYear,
      { label: spanInWords(now), value: valueIn(answer.table), question: question(line, now) },
      {
        label: days ? TEXTS.aYearBefore : spanInWords(before),
        value: valueIn(answer.lastYear),
        question: questionBefore,
      },
      display.value,
    );
    return { kind: 'node', node, about: measureInWords(measure, 1, formats.value) };
  }

  const chart = computed(() => {
    const answer = data.value;
    if (!answer || answer.query.columns !== 'time' || answer.table.columns.length < 2)
      return undefined;
    const { table, lastYear } = answer;
    const values = (cells: readonly { value: number | null }[]): (number | null)[] =>
      cells.map(({ value }) => value);
    const planned = planTotals.value;
    const plannedValues = planned?.total.cells.map(({ value }) => (value === 0 ? null : value));
    return {
      headings: table.columns.map((c) =>
        columnHeading(c, answer.query.span, calendar.value.fiscalStart),
      ),
      closed: table.columns.filter(({ period }) => period && period.to <= plan.closedThrough)
        .length,
      line: values(table.total.cells),
      plan:
        planned && plannedValues?.some((value) => value !== null)
          ? { name: planned.name, values: plannedValues }
          : undefined,
      lastYear:
        lastYear && lastYear.columns.length === table.columns.length
          ? values(lastYear.total.cells)
          : undefined,
    };
  });

  return { data, failure, headline, state, chart, below, askBelow };
}
