/** What takes the rows of one kind of table in: it checks them and keeps them, good or not. */
import type { ImportKind, ImportNotes, Replacement, RowProblem } from '@dravex/contract';
import type { Cell } from '@dravex/core';
import type { PoolClient } from 'pg';
import { tellings } from '../dimensions/rules.ts';
import { CombinationIds } from '../dimensions/store.ts';
import { RowReader, type RowRules } from '../exchange/row-reader.ts';
import { inPortions, type Database } from '../platform/database.ts';
import { pausesFor } from '../platform/pauses.ts';
import { OTHER_KINDS, type OtherKind } from './other-kinds.ts';
import { SalesCheck, type CheckedLine, type SalesRules } from './sales-check.ts';
import { rulesFor, toReplacements } from './sent-table.ts';
import { Staging } from './staging.ts';
import * as store from './store.ts';

/** Checking a row, in cells of a table. */
const ROW_IS_AS_LONG_AS = 3;

/** A row on its way in; of a wide table that is read again, the one part of it. */
export interface RowToTake {
  readonly row: number;
  readonly cells: readonly Cell[];
  readonly part?: number;
}

export interface RowSink {
  take(rows: readonly RowToTake[]): Promise<void>;
  /** Writes what still waits, and leaves out what stands there twice. */
  finish(tx: Database): Promise<{ good: number; faulty: number }>;
  /** Gives up; the transaction is to be rolled back. */
  cancel(): Promise<void>;
  notes(): ImportNotes;
}

/** Where and as what rows are taken in. */
export interface Taking {
  readonly client: PoolClient;
  readonly workspaceId: number;
  readonly batchId: number;
  readonly kind: ImportKind;
  readonly fileName: string;
  readonly reading: RowRules['reading'];
  readonly replace: readonly Replacement[];
  /** Where combinations are made; see `CombinationIds`. */
  readonly combinations: Database;
}

/** Makes what takes rows of a kind in. */
export async function rowSinkFor(db: Database, taking: Taking): Promise<RowSink> {
  const { workspaceId, batchId, kind, fileName, reading, client } = taking;
  const rules: RowRules = {
    ...(await rulesFor(db, workspaceId, kind)),
    reading,
    ...toReplacements(taking.replace),
  };
  const { calendar, codes } = rules;
  const combinations = new CombinationIds(taking.combinations, workspaceId);
  if (kind !== 'sales') {
    const other = OTHER_KINDS[kind];
    const staging = new Staging(client, workspaceId, batchId, combinations, other.target);
    return new OtherRows(rules, kind, other, staging, workspaceId, batchId);
  }
  const staging = new Staging(client, workspaceId, batchId, combinations);
  const salesRules: SalesRules = {
    ...rules,
    document: `${fileName.slice(0, 80)} (${batchId})`,
    usualPrice: await store.usualPrices(db, workspaceId, calendar.closedThrough),
    assigned: await store.assignedMembers(db, workspaceId),
    told: await tellings(db, workspaceId, codes.dimensions),
    validity: await store.validities(db, workspaceId),
  };
  return new SalesRows(salesRules, staging, workspaceId, batchId);
}

class SalesRows implements RowSink {
  readonly #check: SalesCheck;
  readonly #pause = pausesFor();

  constructor(
    private readonly rules: SalesRules,
    private readonly staging: Staging,
    private readonly workspaceId: number,
    private readonly batchId: number,
  ) {
    this.#check = new SalesCheck(rules);
  }

  async take(rows: readonly RowToTake[]): Promise<void> {
    const check = this.#check;
    const lines: CheckedLine[] = [];
    for (const { row, cells, part: only } of rows) {
      await this.#pause(ROW_IS_AS_LONG_AS);
      if (check.reader.isBlank(cells)) continue;
      const parts = only === undefined ? check.reader.partsOf(cells) : [only];
      for (const part of parts) {
        const checked = check.check(cells, row, part);
        if (Array.isArray(checked)) await this.staging.aside(cells, row, part, checked, false);
        else {
          lines.push(checked);
          if (check.unusual) await this.staging.aside(cells, row, part, [check.unusual], true);
        }
      }
    }
    await this.staging.take(lines);
  }

  async finish(tx: Database): Promise<{ good: number; faulty: number }> {
    const { staging, workspaceId, batchId } = this;
    await staging.finish();
    // Rows that are checked again may repeat lines that are there already.
    const again = (await store.lineCount(tx, workspaceId, batchId)) > 0;
    const dropped = await this.#dropDoubles(tx, staging.maybeRepeated || again);
    if (dropped > 0 || again) {
      await store.sumBatch(tx, workspaceId, batchId);
    } else await staging.keepSums(tx);
    return { good: staging.good - dropped, faulty: staging.faulty + dropped };
  }

  cancel(): Promise<void> {
    return this.staging.cancel();
  }

  notes(): ImportNotes {
    return this.#check.notes();
  }

  /** Leaves lines out that stand in the file twice or count already. @returns how many */
  async #dropDoubles(tx: Database, maybeRepeated: boolean): Promise<number> {
    const { workspaceId, batchId } = this;
    const repeated = maybeRepeated ? await store.dropRepeated(tx, workspaceId, batchId) : [];
    const others = await store.hasOtherLines(tx, workspaceId, batchId);
    const there = others ? await store.dropAlreadyThere(tx, workspaceId, batchId) : [];
    const rows = [
      ...repeated.map((line) =>
        this.#asRow(line, {
          code: 'repeated-line',
          message: `Line ${line.line_number} of ${line.document} stands in row ${line.first} already`,
        }),
      ),
      ...there.map((line) =>
        this.#asRow(line, {
          code: 'already-there',
          message: `Line ${line.line_number} of ${line.document} was imported before`,
        }),
      ),
    ];
    await inPortions(rows.slice(0, 100_000), (portion) => store.insertRows(tx, portion));
    return rows.length;
  }

  /** A line that was taken out again, as a row that was left out. */
  #asRow(line: store.DroppedLine, problem: Pick<RowProblem, 'code' | 'message'>) {
    const { workspaceId, batchId } = this;
    const { reading, codes, minorDigits } = this.rules;
    const money = (minor: string): number => Number(minor) / 10 ** minorDigits;
    const values: Record<string, Cell> = {
      date: line.date,
      quantity: Number(line.quantity),
      'net amount': money(line.net_amount),
      cost: money(line.cost),
      document: line.document,
      'line number': line.line_number,
      customer: line.customer ?? '',
      seller: line.seller ?? '',
    };
    codes.dimensions.forEach(({ code }, place) => {
      values[code] = codes.tree.member(line.members[place] ?? 0).code;
    });
    const cells = asCells(reading, values);
    const problemOfLine = { row: line.row, field: 'document', value: line.document, ...problem };
    return {
      workspaceId,
      batchId,
      row: line.row,
      part: -1,
      taken: false,
      cells,
      problems: [problemOfLine],
    };
  }
}

/** Values by field as they would stand in a row of the file. */
function asCells(reading: RowRules['reading'], values: Readonly<Record<string, Cell>>): Cell[] {
  const cells: Cell[] = reading.header.map(() => '');
  for (const [field, column] of Object.entries(reading.columns)) {
    if (column !== null) cells[column] = values[field] ?? '';
  }
  return cells;
}

/** Rows of measured facts, the ledger or subscribers. */
class OtherRows implements RowSink {
  readonly #reader: RowReader;
  readonly #pause = pausesFor();

  constructor(
    private readonly rules: RowRules,
    private readonly name: ImportKind,
    private readonly kind: OtherKind,
    private readonly staging: Staging,
    private readonly workspaceId: number,
    private readonly batchId: number,
  ) {
    this.#reader = new RowReader(rules);
  }

  async take(rows: readonly RowToTake[]): Promise<void> {
    const reader = this.#reader;
    let text = '';
    let count = 0;
    for (const { row, cells, part: only } of rows) {
      await this.#pause(ROW_IS_AS_LONG_AS);
      if (reader.isBlank(cells)) continue;
      for (const part of only === undefined ? reader.partsOf(cells) : [only]) {
        reader.begin(cells, row, part);
        const line = reader.fits() ? this.kind.line(reader) : '';
        // A subtotal has all that a row has, and would count what stands above it once more.
        if (reader.problems.length > 0 || reader.isTotal()) {
          await this.staging.aside(cells, row, part, reader.explained(), false);
          continue;
        }
        text += `${this.workspaceId}\t${this.batchId}\t${row}\t${line}\n`;
        count += 1;
      }
    }
    await this.staging.takeText(text, count);
  }

  async finish(tx: Database): Promise<{ good: number; faulty: number }> {
    await this.staging.finish();
    const dropped = this.name === 'subscribers' ? await this.#dropOverlapping(tx) : 0;
    return { good: this.staging.good - dropped, faulty: this.staging.faulty + dropped };
  }

  /** Leaves subscriptions out that begin before an earlier one of the same code ended. */
  async #dropOverlapping(tx: Database): Promise<number> {
    const { workspaceId, batchId } = this;
    const { reading, codes } = this.rules;
    const dropped = await store.dropOverlapping(tx, workspaceId, batchId);
    const rows = dropped.map(({ row, code, members, start, end, first }) => {
      const values: Record<string, Cell> = { subscriber: code, start, end: end ?? '' };
      for (const id of members) {
        const dimension = codes.dimensions[codes.tree.dimensionOf(id)];
        if (dimension) values[dimension.code] = codes.tree.member(id).code;
      }
      const message = `${code} subscribes in row ${first} already, and has not left by ${start}`;
      return {
        ...{ workspaceId, batchId, row, part: -1, taken: false },
        cells: asCells(reading, values),
        problems: [{ row, field: 'start', value: start, code: 'overlapping' as const, message }],
      };
    });
    await inPortions(rows, (portion) => store.insertRows(tx, portion));
    return rows.length;
  }

  cancel(): Promise<void> {
    return this.staging.cancel();
  }

  notes(): ImportNotes {
    const none = { closed: 0, negative: 0, amounts: 0, negativeQuantities: 0, quantities: 0 };
    const { reading } = this.rules;
    return { ...none, turned: reading.turn, remembered: this.#reader.replaced, without: [] };
  }
}
