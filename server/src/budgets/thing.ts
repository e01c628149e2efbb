import type { JournalUnit } from '@dravex/contract';
import {
  monthFrom,
  monthText,
  type BudgetCell,
  type MemberTree,
  type SubscriberEntry,
} from '@dravex/core';
import type { CellName, Cells } from '../journal/cells.ts';
import type { Thing } from '../journal/thing.ts';
import { conflict, isTaken } from '../platform/errors.ts';
import type { Database } from '../platform/database.ts';
import * as store from './store.ts';
import { insertSubscriberEntries, typedSums } from './subscriber-store.ts';

/** The journal's name for a cell of a version. */
export function cellId(versionId: number, cell: Pick<BudgetCell, 'combination' | 'month'>): string {
  return `${versionId}:${cell.combination}:${monthText(cell.month)}`;
}

/** The journal's name for a month of a subscription of a version. */
export function subscriptionId(
  versionId: number,
  { combination, month }: Pick<SubscriberEntry, 'combination' | 'month'>,
): string {
  return `${versionId}:${combination}:${month}`;
}

/** What was typed into a month of a subscription, as the journal has it. */
export function typedNumbers({ starters, price }: SubscriberEntry): Cells {
  return { starters, price };
}

/** The numbers of a cell as the journal has them; one that is not planned has nothing, cost neither. */
export function numbersOfCell(cell: Pick<BudgetCell, 'units' | 'revenue' | 'cost'>): Cells {
  const { units, revenue, cost } = cell;
  const nothing = units === 0 && revenue === 0 && (cost ?? 0) === 0;
  return { units, revenue, cost: nothing ? null : cost };
}

const MEASURES: Readonly<Record<string, { name: string; unit: JournalUnit }>> = {
  units: { name: 'units', unit: 'units' },
  revenue: { name: 'revenue', unit: 'minor' },
  cost: { name: 'cost', unit: 'minor' },
};

const TYPED: Readonly<Record<string, { name: string; unit: JournalUnit }>> = {
  starters: { name: 'new subscribers typed', unit: 'units' },
  price: { name: 'recurring revenue typed', unit: 'price' },
};

/** What the journal calls the numbers of a cell, or of what was typed. */
const namesIn =
  (names: typeof MEASURES) =>
  (
    version: string,
    members: readonly number[],
    month: string,
    tree: MemberTree,
  ): ((cell: string) => CellName) =>
  (cell) => {
    const { name = cell, unit = 'text' as const } = names[cell] ?? {};
    return { label: `${version}, ${tree.label(members)}, ${month}, ${name}`, unit };
  };
export const cellNames = namesIn(MEASURES);
export const subscriptionNames = namesIn(TYPED);

/** Locks the versions of places. @throws HttpProblem 409 for one that takes no more entries */
async function mustBeOpen(
  db: Database,
  workspaceId: number,
  places: readonly { readonly versionId: number }[],
): Promise<void> {
  for (const versionId of new Set(places.map((place) => place.versionId))) {
    const version = await store.lockVersion(db, workspaceId, versionId);
    if (version?.state !== 'open' || version.removed) {
      throw conflict(`${version?.name ?? 'The version'} is locked; it can no longer be changed`);
    }
  }
}
const numberIn = (cells: Cells | null, name: string): number => Number(cells?.[name] ?? 0);

const NOTHING = { units: 0, revenue: 0, cost: null };

/** A cell of a version: it is brought back by entries, as it was changed. */
export const cellThing: Thing = {
  async read(db, workspaceId, ids) {
    const cellsByThing = new Map<string, Cells>();
    for (const [versionId, combinationsOfVersion] of byVersion(ids)) {
      const cells = await store.cellsNow(db, workspaceId, versionId, {
        combinations: combinationsOfVersion.combinations,
      });
      for (const cell of cells) cellsByThing.set(cellId(versionId, cell), numbersOfCell(cell));
    }
    // What was typed where nothing was planned, and taken back, is as good as never there.
    return new Map(ids.map((id) => [id, cellsByThing.get(id) ?? numbersOfCell(NOTHING)]));
  },
  async write(db, { workspaceId }, changes, journalId) {
    const list = changes.map((change) => ({ ...change, place: placeOf(change.id) }));
    await mustBeOpen(
      db,
      workspaceId,
      list.map(({ place }) => place),
    );
    await store.insertEntries(
      db,
      workspaceId,
      journalId,
      list.map(({ place, now, next }) => ({
        ...place,
        units: Number((numberIn(next, 'units') - numberIn(now, 'units')).toFixed(3)),
        revenue: numberIn(next, 'revenue') - numberIn(now, 'revenue'),
        cost: numberIn(next, 'cost') - numberIn(now, 'cost') || null,
      })),
    );
  },
};

/** What was typed into a month of a subscription: brought back by entries, as it was changed. */
export const subscriptionThing: Thing = {
  async read(db, workspaceId, ids) {
    const things = new Map<string, Cells>();
    for (const versionId of byVersion(ids).keys()) {
      for (const sum of await typedSums(db, workspaceId, versionId)) {
        things.set(subscriptionId(versionId, sum), typedNumbers(sum));
      }
    }
    return new Map(ids.map((id) => [id, things.get(id) ?? { starters: 0, price: 0 }]));
  },
  async write(db, { workspaceId }, changes, journalId) {
    const list = changes.map((change) => ({ ...change, place: placeOf(change.id) }));
    await mustBeOpen(
      db,
      workspaceId,
      list.map(({ place }) => place),
    );
    await insertSubscriberEntries(
      db,
      workspaceId,
      journalId,
      list.map(({ place, now, next }) => ({
        ...place,
        month: monthText(place.month),
        starters: numberIn(next, 'starters') - numberIn(now, 'starters'),
        price: numberIn(next, 'price') - numberIn(now, 'price'),
      })),
    );
  },
};

/** Which cell the journal's name means. */
export function placeOf(id: string): { versionId: number; combination: number; month: number } {
  const [versionId, combination, month = ''] = id.split(':');
  return {
    versionId: Number(versionId),
    combination: Number(combination),
    month: monthFrom(month),
  };
}

function byVersion(ids: readonly string[]): Map<number, { combinations: number[] }> {
  const versions = new Map<number, { combinations: number[] }>();
  for (const id of ids) {
    const { versionId, combination } = placeOf(id);
    const idsOfVersion = versions.get(versionId);
    if (idsOfVersion) idsOfVersion.combinations.push(combination);
    else versions.set(versionId, { combinations: [combination] });
  }
  return versions;
}

/** How the journal keeps that a version is archived: records of it can be undone at any time. */
const PUT_AWAY = 'put away';

export function versionCells({
  name,
  note,
  state,
  budgetOf,
  putAway,
}: Pick<store.VersionRow, 'name' | 'note' | 'state'> &
  Partial<Pick<store.VersionRow, 'budgetOf' | 'putAway'>>): Cells {
  return {
    name,
    note,
    state,
    budgetOf: budgetOf ?? null,
    putAway: putAway ? PUT_AWAY : 'in use',
  };
}

/** What the journal calls the properties of a version. */
export function versionNames(name: string): (cell: string) => CellName {
  const words: Readonly<Record<string, string>> = {
    note: 'purpose',
    budgetOf: 'budget of FY',
    putAway: 'archived or in use',
  };
  return (cell) => ({ label: `${name}, ${words[cell] ?? cell}`, unit: 'text' });
}

/** A version: taken back it is put out of sight, with everything it holds, and can come back. */
export const versionThing: Thing = {
  async read(db, workspaceId, ids) {
    const rows = await Promise.all(ids.map((id) => store.lockVersion(db, workspaceId, Number(id))));
    return new Map(
      rows.flatMap((row) => (row && !row.removed ? [[String(row.id), versionCells(row)]] : [])),
    );
  },
  async write(db, { workspaceId, personId }, changes) {
    // A year has one budget: what was it stops being it before another one is.
    for (const { id } of changes) {
      await store.setVersion(db, workspaceId, Number(id), { budgetOf: null });
    }
    for (const { id, next } of changes) {
      if (!next) {
        const others = await store.entriesByOthers(db, workspaceId, Number(id), personId);
        if (others) throw conflict(`${others} typed entries into it since, so it stays`);
        await store.setVersion(db, workspaceId, Number(id), { removed: true });
        continue;
      }
      try {
        await store.setVersion(db, workspaceId, Number(id), {
          name: String(next['name']),
          note: String(next['note']),
          state: next['state'] === 'sealed' ? 'sealed' : 'open',
          budgetOf: next['budgetOf'] ? Number(next['budgetOf']) : null,
          putAway: next['putAway'] === PUT_AWAY,
          removed: false,
        });
      } catch (error) {
        if (!isTaken(error)) throw error;
        throw conflict(
          `There is another version "${String(next['name'])}" now, or another budget of its year`,
        );
      }
    }
  },
};
