/** Closing and opening months, the rules for it, and the calendar. */
import type {
  CalendarChange,
  Close,
  ClosingRules,
  closeMonthSchema,
  earlierCloseSchema,
  reopenSchema,
} from '@dravex/contract';
import {
  closeRefusal,
  dayInWords,
  keepForecast,
  monthFrom,
  monthInWords,
  monthText,
  type MonthText,
} from '@dravex/core';
import type { z } from 'zod';
import { readCells } from '../budgets/read-cells.ts';
import { setVersion } from '../budgets/store.ts';
import { ensureCombinations } from '../dimensions/store.ts';
import { journaled, type Recorder } from '../journal/service.ts';
import { mustPlan, type Actor } from '../people/actor.ts';
import { changingPlan } from '../plan/changing-plan.ts';
import type { Plans } from '../plan/plans.ts';
import type { Connections, Database } from '../platform/database.ts';
import { badRequest, conflict, notFound } from '../platform/errors.ts';
import { changeCalendar, moveAsOf } from '../workspaces/calendar.ts';
import { latestLine } from '../actuals/store.ts';
import { workspaceById } from '../workspaces/store.ts';
import * as store from './store.ts';
import { closeCells, closeNames, rulesCells, rulesNames } from './thing.ts';

type CloseInput = z.output<typeof closeMonthSchema> & {
  /** Closed on its day, by nobody's hand. */
  readonly byItself?: boolean;
};

const words = (month: MonthText): string => monthInWords(monthFrom(month));

/** The longest horizon after the last closed month, in months. */
const LONGEST_HORIZON = 120;

/**
 * Closes the next month as one unit: its forecast and those of the months after it are kept as they
 * stand, actuals take its place, and the horizon grows by the rule.
 * @throws HttpProblem 409 for another month, or at `sure` for one that is not over or sold nothing
 */
export async function closeMonth(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { month, sure, byItself = false }: CloseInput,
): Promise<Close> {
  const { workspaceId } = actor;
  return changingPlan(connections, plans, actor, 'closing', async (tx, record, loaded) => {
    const { roll } = await store.rulesOf(tx, workspaceId);
    const refusal = closeRefusal(loaded.plan.calendar, loaded.actual, month, roll);
    if (refusal?.kind === 'cannot') throw conflict(refusal.message, 'month');
    if (refusal && !sure) throw conflict(refusal.message, 'sure');
    const { calendar, currency } = loaded.plan;
    const span = { from: monthFrom(month), to: monthFrom(calendar.last) };
    const { rows } = keepForecast(loaded.forecast, span, currency.minorDigits);
    const made = await keep(tx, actor, record, {
      month,
      to: calendar.last,
      rows,
      lastBefore: calendar.last,
      byItself,
    });
    const last = roll === 0 ? undefined : monthText(span.to + roll);
    await changeCalendar(tx, actor, record, { closedThrough: month, last });
    record.say(`Closed ${words(month)}${byItself ? ' on its day' : ''}`);
    return made;
  });
}

/**
 * Brings in a forecast that was kept elsewhere when a month was closed, all or nothing.
 * @throws HttpProblem 409 for an open month or one whose forecast is kept, 400 for a bad file
 */
export async function bringKept(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { month, at }: z.output<typeof earlierCloseSchema>,
  bytes: Buffer,
): Promise<Close> {
  const { workspaceId } = actor;
  mustPlan(actor);
  // Read before anything is locked: a large file keeps nobody waiting.
  const { plan } = await plans.current(workspaceId);
  const cells = await readCells(bytes, plan.dimensions, plan.currency.minorDigits);
  return changingPlan(connections, plans, actor, 'closing', async (tx, record, loaded) => {
    const { calendar } = loaded.plan;
    if (month > calendar.closedThrough || month < calendar.first) {
      throw conflict(`${words(month)} is no closed month of this plan`, 'month');
    }
    const before = await store.closes(tx, workspaceId);
    if (before.some((one) => one.month === month)) {
      throw conflict(`The forecast of ${words(month)} is kept already`, 'month');
    }
    const early = cells.find((cell) => cell.month < monthFrom(month));
    if (early) throw badRequest(`${monthInWords(early.month)} was closed before ${words(month)}`);
    const ids = await ensureCombinations(
      tx,
      workspaceId,
      cells.map(({ members }) => members),
    );
    const rows = cells.map(({ members: _, ...cell }, place) => ({
      ...cell,
      combination: ids[place] ?? 0,
    }));
    record.say(`Imported the forecast of ${words(month)} as it was kept`);
    return keep(tx, actor, record, {
      month,
      to: monthText(cells.reduce((last, cell) => Math.max(last, cell.month), monthFrom(month))),
      rows,
      lastBefore: calendar.last,
      byItself: false,
      ...(at === undefined ? {} : { closedAt: new Date(`${at}T12:00:00Z`) }),
    });
  });
}

/** Writes a close with the forecast that was kept, and says so in the journal. */
async function keep(
  tx: Database,
  actor: Actor,
  record: Recorder,
  kept: store.KeptClose,
): Promise<Close> {
  const id = await store.insertKept(tx, actor, kept);
  const made = (await store.closes(tx, actor.workspaceId)).find((one) => one.id === id);
  if (!made) throw notFound('such close');
  record.changed('close', id, null, closeCells(made.month, made.version), closeNames);
  return made;
}

/**
 * Opens the last closed month again: every number is what it was before the close. The horizon is
 * shortened again where nothing was planned in the new months meanwhile.
 * @throws HttpProblem 409 for another month, or at `sure` where locked budgets reach over it
 */
export async function reopenMonth(
  connections: Connections,
  actor: Actor,
  { month, why, sure }: z.output<typeof reopenSchema>,
): Promise<void> {
  const { workspaceId } = actor;
  await journaled(connections, actor, 'closing', async (tx, record) => {
    const workspace = await workspaceById(tx, workspaceId);
    if (!workspace) throw notFound('such workspace');
    const closedThrough = workspace.closedThrough.slice(0, 7);
    if (month > closedThrough) throw conflict(`${words(month)} is open`, 'month');
    if (month < closedThrough) {
      throw conflict(
        `${words(closedThrough)} was closed after ${words(month)}; open it first`,
        'month',
      );
    }
    if (month === workspace.firstMonth.slice(0, 7)) {
      throw conflict(`${words(month)} is the first month of the plan; it stays closed`, 'month');
    }
    const locked = await store.lockedOver(tx, workspaceId, month);
    if (locked.length > 0 && !sure) {
      throw conflict(
        `${locked.join(', ')} ${locked.length === 1 ? 'is' : 'are'} locked and ${locked.length === 1 ? 'reaches' : 'reach'} over ${words(month)}; what ${locked.length === 1 ? 'it holds' : 'they hold'} stays as it is`,
        'sure',
      );
    }
    const made = (await store.closes(tx, workspaceId)).find((one) => one.month === month);
    if (made) await takeBack(tx, actor, record, made, workspace.lastMonth.slice(0, 7));
    await changeCalendar(tx, actor, record, { closedThrough: monthText(monthFrom(month) - 1) });
    record.say(`Opened ${words(month)} again`, why);
  });
}

async function takeBack(
  tx: Database,
  actor: Actor,
  record: Recorder,
  { id, month, version }: Close,
  lastNow: string,
): Promise<void> {
  const { workspaceId } = actor;
  const row = await store.lockClose(tx, workspaceId, id);
  await store.setReopened(tx, workspaceId, id, true);
  await setVersion(tx, workspaceId, version, { removed: true });
  record.changed('close', id, closeCells(month, version), null, closeNames);
  const last = row?.lastBefore.slice(0, 7) ?? lastNow;
  const planned = beyondInWords(await store.beyond(tx, workspaceId, last));
  if (last < lastNow && planned === '') {
    await changeCalendar(tx, actor, record, { last });
  }
}

/** Says when months are closed by themselves, and whether the horizon grows. */
export async function setRules(
  connections: Connections,
  actor: Actor,
  rules: ClosingRules,
): Promise<void> {
  const { workspaceId, personId } = actor;
  await journaled(connections, actor, 'closing', async (tx, record) => {
    const before = await store.rulesSet(tx, workspaceId);
    await store.setRules(tx, workspaceId, personId, rules);
    const cells = before ? rulesCells(before) : null;
    record.changed('closingRules', workspaceId, cells, rulesCells(rules), rulesNames);
    record.say('Changed how months are closed');
  });
}

/**
 * Changes the as-of date and the end of the horizon.
 * @throws HttpProblem 400 for a day before the last sales line, 409 at `sure` for what lies beyond
 */
export async function setCalendar(
  connections: Connections,
  actor: Actor,
  { asOf, asOfBy, last, sure }: CalendarChange,
): Promise<void> {
  mustPlan(actor);
  const { workspaceId } = actor;
  await journaled(connections, actor, 'closing', async (tx, record) => {
    const workspace = await workspaceById(tx, workspaceId);
    if (!workspace) throw notFound('such workspace');
    if (last !== undefined) await mustEndThere(tx, workspaceId, workspace, last, sure);
    if (asOf !== undefined) {
      const latest = await latestLine(tx, workspaceId);
      if (latest !== null && asOf < latest) {
        throw badAt(
          'asOf',
          `Sales lines reach to ${dayInWords(latest)}; the as-of date is that day or later`,
        );
      }
      const end = last ?? workspace.lastMonth.slice(0, 7);
      if (asOf.slice(0, 7) > end) throw badAt('asOf', `The horizon ends with ${words(end)}`);
    }
    await changeCalendar(tx, actor, record, { asOf, asOfBy, last });
    if (asOfBy === 'day') await moveAsOf(tx, actor, record, today());
    record.say('Changed the calendar');
  });
}

/** The day on which the server stands. */
function today(): string {
  return new Date().toISOString().slice(0, 10);
}

function badAt(path: string, message: string) {
  return badRequest(message, [{ path, message }]);
}

/** What lies beyond a month, in words; empty where nothing does. */
function beyondInWords({ inputs, overrides, versions }: store.Beyond): string {
  const counted = (count: number, one: string): string =>
    `${count} ${one}${count === 1 ? '' : 's'}`;
  const parts = [
    ...(inputs > 0 ? [`Months of ${counted(inputs, 'input')}`] : []),
    ...(overrides > 0 ? [counted(overrides, 'manual override')] : []),
    ...(versions.length > 0 ? [`months of ${versions.join(', ')}`] : []),
  ];
  const last = parts.pop() ?? '';
  return parts.length > 0 ? `${parts.join(', ')} and ${last}` : last;
}

async function mustEndThere(
  tx: Database,
  workspaceId: number,
  { closedThrough, lastMonth }: { closedThrough: string; lastMonth: string },
  last: string,
  sure: boolean,
): Promise<void> {
  const closed = closedThrough.slice(0, 7);
  if (last <= closed)
    throw badAt('last', `The horizon ends after the last closed month, ${words(closed)}`);
  if (monthFrom(last) - monthFrom(closed) > LONGEST_HORIZON) {
    throw badAt('last', 'The horizon reaches ten years beyond the last closed month at the most');
  }
  if (sure || last >= lastMonth.slice(0, 7)) return;
  const planned = beyondInWords(await store.beyond(tx, workspaceId, last));
  if (planned !== '') {
    throw conflict(
      `${planned} lie after ${words(last)}; they would be out of sight until the horizon is longer again`,
      'sure',
    );
  }
}
