import type { ClosingRules } from '@dravex/contract';
import { setVersion } from '../budgets/store.ts';
import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import * as store from './store.ts';

export const closeCells = (month: string, version: number): Cells => ({ month, version });

/** What the journal calls the parts of a close. */
export const closeNames = (cell: string): CellName => ({
  label: cell === 'month' ? 'Closed month' : 'Forecast kept at the close',
  unit: 'text',
});

/** A close: taken back it is out of sight, with the forecast that was kept, and can come back. */
export const closeThing: Thing = {
  async read(db, workspaceId, ids) {
    const wanted = new Set(ids);
    const rows = await store.closes(db, workspaceId);
    return new Map(
      rows
        .filter(({ id }) => wanted.has(String(id)))
        .map(({ id, month, version }) => [String(id), closeCells(month, version)]),
    );
  },
  async write(db, { workspaceId }, changes) {
    for (const { id, next } of changes) {
      const row = await store.lockClose(db, workspaceId, Number(id));
      if (!row) continue;
      const reopened = next === null;
      await store.setReopened(db, workspaceId, row.id, reopened);
      await setVersion(db, workspaceId, row.versionId, { removed: reopened });
    }
  },
};

export const rulesCells = ({ rule, holidays, roll, closed }: ClosingRules): Cells => ({
  by: rule.by,
  day: rule.day,
  holidays: [...holidays],
  roll,
  closed,
});

const RULES: Readonly<Record<string, string>> = {
  by: 'when',
  day: 'day',
  holidays: 'holidays',
  roll: 'months that the horizon grows by',
  closed: 'what the forecast shows of closed months',
};

/** What the journal calls the parts of the rules. */
export const rulesNames = (cell: string): CellName => ({
  label: `Closing, ${RULES[cell] ?? cell}`,
  unit: 'text',
});

/** How months are closed. */
export const closingRulesThing: Thing = {
  async read(db, workspaceId) {
    const rules = await store.rulesSet(db, workspaceId);
    return new Map(rules ? [[String(workspaceId), rulesCells(rules)]] : []);
  },
  async write(db, { workspaceId, personId }, changes) {
    for (const { next } of changes) {
      if (!next) {
        await store.dropRules(db, workspaceId);
        continue;
      }
      await store.setRules(db, workspaceId, personId, {
        rule: { by: next['by'], day: next['day'] } as ClosingRules['rule'],
        holidays: next['holidays'] as string[],
        roll: next['roll'] as ClosingRules['roll'],
        closed: (next['closed'] ?? 'actual') as ClosingRules['closed'],
      });
    }
  },
};
