import type { Closing } from '@dravex/contract';
import { monthFrom, monthInYear, type Comparison } from '@dravex/core';
import { longMonth, monthName } from '../format/periods.ts';

/** One thing that a month needs before it is closed. */
export interface Need {
  readonly key: string;
  readonly done: boolean;
  readonly title: string;
  readonly detail: string;
  /** Where it is settled: a room, and what its address says. */
  readonly to?: { readonly room: string; readonly query: Record<string, string> };
  readonly action?: string;
}

/** What words are made with: names of combinations and money as it is shown. */
export interface Said {
  name(members: readonly number[]): string;
  money(minor: number): string;
  /** A change as a signed percent; empty where there is nothing to compare with. */
  percent(now: number, before: number): string;
  when(moment: string): string;
}

const NAMED = 3;
const many = (count: number, one: string, more: string): string =>
  `${count} ${count === 1 ? one : more}`;

/** `October`, the month alone. */
export function monthAlone(month: string): string {
  return monthName(monthInYear(monthFrom(month)));
}

/** What the next month needs, in the order in which one looks: data, waiting rows, oddities. */
export function needsOf(closing: Closing, said: Said): Need[] {
  const { month, over, asOf, sources, waiting, jumps, unsold, late } = closing;
  if (month === null) return [];
  const name = monthAlone(month);
  const rows = waiting.files + waiting.documents;
  const window = { from: month, to: month };
  const shown = <T>(list: readonly T[], words: (one: T) => string): string =>
    [
      ...list.slice(0, NAMED).map(words),
      ...(list.length > NAMED ? [`${list.length - NAMED} more`] : []),
    ].join('; ');
  const oddities: Need[] = [
    {
      key: 'jumps',
      done: jumps.length === 0,
      title:
        jumps.length === 0
          ? 'No unusual changes'
          : many(jumps.length, 'unusual change', 'unusual changes'),
      detail:
        shown(
          jumps,
          ({ members, actual, forecast }) =>
            `${said.name(members)} ${said.percent(actual, forecast)}`,
        ) || 'More than 30 % off the forecast and off last year',
      ...(jumps.length === 0
        ? {}
        : { action: 'Review', to: { room: 'actuals', query: { ...window, view: 'table' } } }),
    },
    {
      key: 'unsold',
      done: unsold.length === 0,
      title:
        unsold.length === 0
          ? 'Everything forecast was sold'
          : `${many(unsold.length, 'forecast line', 'forecast lines')} without a sale`,
      detail:
        shown(unsold, ({ members, forecast }) => `${said.name(members)} ${said.money(forecast)}`) ||
        'Forecast lines of the month',
      ...(unsold.length === 0 ? {} : { action: 'Review', to: { room: 'forecast', query: window } }),
    },
  ];
  return [
    over
      ? {
          key: 'sales',
          done: sources.length > 0,
          title: sources.length > 0 ? `Sales of ${name} are in` : `No sales of ${name} yet`,
          detail:
            shown(
              sources,
              ({ name: file, at, lines }) =>
                `${file}, ${said.when(at)}, ${many(lines, 'line', 'lines')}`,
            ) || 'Import a file, or let an order book deliver them',
          ...(sources.length > 0
            ? {}
            : { action: 'Import sales', to: { room: 'actuals', query: window } }),
        }
      : {
          key: 'sales',
          done: false,
          title: `${name} is not over`,
          detail: `Sales are known up to the as-of date, ${said.when(`${asOf}T00:00:00`).replace(/ 00:00$/, '')}`,
          action: 'Import sales',
          to: { room: 'actuals', query: window },
        },
    {
      key: 'waiting',
      done: rows === 0,
      title:
        rows === 0
          ? 'Nothing waits to be imported'
          : [
              ...(waiting.files > 0 ? [many(waiting.files, 'file', 'files')] : []),
              ...(waiting.documents > 0 ? [many(waiting.documents, 'document', 'documents')] : []),
            ].join(' and ') + ' to import',
      detail:
        waiting.documents > 0
          ? 'Documents of an order book are on hold for a missing code'
          : waiting.files > 0
            ? 'Checked, and not imported yet'
            : 'Files and order books',
      ...(rows === 0
        ? {}
        : {
            action: 'Review',
            to: { room: waiting.documents > 0 ? 'connections' : 'actuals', query: window },
          }),
    },
    ...(over ? oddities : []),
    {
      key: 'late',
      done: true,
      title:
        late.length === 0
          ? 'Nothing came late for closed months'
          : `${many(
              late.reduce((sum, { lines }) => sum + lines, 0),
              'line',
              'lines',
            )} came late for closed months`,
      detail:
        shown(
          late,
          ({ month: of, lines, revenue }) =>
            `${longMonth(monthFrom(of))}: ${many(lines, 'line', 'lines')}, ${said.money(revenue)}`,
        ) || 'Sales lines that are imported after a month is closed',
    },
  ];
}

/** What was found of the month, and what is left to do. */
export function closingHeadline(
  closing: Closing,
  comparison: Comparison | undefined,
  needs: readonly Need[],
  percent: (share: number) => string,
): string {
  const { month } = closing;
  if (month === null) return 'Every month of the horizon is closed';
  const name = monthAlone(month);
  const variance = comparison?.total?.variance;
  const open = needs.filter(({ done }) => !done).length;
  const left =
    open === 0
      ? 'it can be closed'
      : `${open === 1 ? 'one thing' : `${open} things`} to settle before it closes`;
  if (!closing.over) return `${name} is not over; the forecast stands until it is closed`;
  if (!variance || variance.percent === null) return `${name}: ${left}`;
  if (Math.abs(variance.percent) < 0.0005) return `${name} came out as forecast; ${left}`;
  const side = variance.percent > 0 ? 'over' : 'under';
  return `${name} is ${percent(Math.abs(variance.percent))} ${side} its forecast; ${left}`;
}
