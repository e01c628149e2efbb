/** Keeps checked rows of a batch as they come: good ones as lines that do not count yet, others aside. */
import type { RowProblem } from '@dravex/contract';
import type { Cell } from '@dravex/core';
import type { PoolClient } from 'pg';
import type { CombinationIds } from '../dimensions/store.ts';
import { Copy, copyField, copyOptional } from '../platform/copy.ts';
import type { Database } from '../platform/database.ts';
import type { CheckedLine } from './sales-check.ts';
import { SeenLines } from './seen.ts';
import { sumSellers } from './line-sums.ts';
import { insertSums } from './store.ts';

/** Rows left out that are kept with a batch; of a file with more of them the rest is only counted. */
const MOST_KEPT = 100_000;
/** Rows that wait in memory until they are written together. */
const TOGETHER = 10_000;

const LINES = `sales_line (workspace_id, batch_id, row, date, combination_id, quantity, net_amount,
  cost, document, line_number, customer, seller, origin)`;
const ROWS = 'import_row (workspace_id, batch_id, row, part, taken, cells, problems)';

interface Sums {
  quantity: number;
  netAmount: number;
  cost: number;
  returned: number;
  lines: number;
}

/** One batch on its way in, on one client that does nothing else meanwhile. */
export class Staging {
  good = 0;
  faulty = 0;
  /** Whether a document line may stand in the batch twice. */
  maybeRepeated = false;
  #lines: Copy | undefined;
  #aside = '';
  #asideCount = 0;
  #kept = 0;
  readonly #seen = new SeenLines();
  readonly #sums = new Map<string, Map<number, Sums>>();

  constructor(
    private readonly client: PoolClient,
    private readonly workspaceId: number,
    private readonly batchId: number,
    private readonly combinations: CombinationIds,
    /** `table (column, …)` into which good rows go. */
    private readonly target = LINES,
  ) {}

  /** Keeps good rows that are written as COPY has them, `count` of them. */
  async takeText(text: string, count: number): Promise<void> {
    if (count === 0) return;
    this.good += count;
    this.#lines ??= new Copy(this.client, this.target);
    await this.#lines.write(text);
  }

  /** Keeps good rows. */
  async take(lines: readonly CheckedLine[]): Promise<void> {
    if (lines.length === 0) return;
    const ids = await this.combinations.of(lines.map(({ members }) => members));
    const start = `${this.workspaceId}\t${this.batchId}\t`;
    let text = '';
    for (const [place, line] of lines.entries()) {
      const id = ids[place] ?? 0;
      const { row, date, quantity, netAmount, cost, document, lineNumber } = line;
      if (this.#seen.add(document, lineNumber)) this.maybeRepeated = true;
      this.#add(date, id, quantity, netAmount, cost);
      text += `${start}${row}\t${date}\t${id}\t${quantity / 1000}\t${netAmount}\t${cost}\t${copyField(document)}\t${lineNumber}\t${copyOptional(line.customer)}\t${copyOptional(line.seller)}\tbooks\n`;
    }
    await this.takeText(text, lines.length);
  }

  #add(date: string, combination: number, quantity: number, netAmount: number, cost: number): void {
    const month = date.slice(0, 7);
    let ofMonth = this.#sums.get(month);
    if (!ofMonth) this.#sums.set(month, (ofMonth = new Map()));
    const sums = ofMonth.get(combination);
    const returned = Math.max(0, -quantity);
    if (!sums) ofMonth.set(combination, { quantity, netAmount, cost, returned, lines: 1 });
    else {
      sums.quantity += quantity;
      sums.netAmount += netAmount;
      sums.cost += cost;
      sums.returned += returned;
      sums.lines += 1;
    }
  }

  /** Keeps a row that is left out, or one that is taken and worth a look, as it stands in the file. */
  async aside(
    cells: readonly Cell[],
    row: number,
    part: number,
    problems: readonly RowProblem[],
    taken: boolean,
  ): Promise<void> {
    if (!taken) this.faulty += 1;
    if (this.#kept >= MOST_KEPT) return;
    this.#kept += 1;
    this.#asideCount += 1;
    this.#aside += `${this.workspaceId}\t${this.batchId}\t${row}\t${part}\t${taken ? 't' : 'f'}\t${copyField(JSON.stringify(cells))}\t${copyField(JSON.stringify(problems))}\n`;
    if (this.#asideCount >= TOGETHER) await this.#writeAside();
  }

  async #writeAside(): Promise<void> {
    if (this.#asideCount === 0) return;
    await this.#endLines();
    const copy = new Copy(this.client, ROWS);
    await copy.write(this.#aside);
    await copy.end();
    this.#aside = '';
    this.#asideCount = 0;
  }

  async #endLines(): Promise<void> {
    const lines = this.#lines;
    this.#lines = undefined;
    await lines?.end();
  }

  /** Writes what still waits. */
  async finish(): Promise<void> {
    await this.#endLines();
    await this.#writeAside();
  }

  /** Gives up; the transaction is to be rolled back. */
  async cancel(): Promise<void> {
    await this.#lines?.cancel();
    this.#lines = undefined;
  }

  /** Keeps what the good rows sum up to, by combination and month. */
  async keepSums(db: Database): Promise<void> {
    const { workspaceId, batchId } = this;
    const rows = [...this.#sums].flatMap(([month, ofMonth]) =>
      [...ofMonth].map(([combinationId, { quantity, returned, ...sums }]) => ({
        workspaceId,
        batchId,
        month: `${month}-01`,
        combinationId,
        quantity: String(quantity / 1000),
        returned: String(returned / 1000),
        ...sums,
      })),
    );
    await insertSums(db, rows);
    await sumSellers(db, workspaceId, batchId);
  }
}
