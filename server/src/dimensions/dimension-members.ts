/** The members of a dimension as a write sees them: read once, and kept up to date by what it does. */
import { Replacements } from '@dravex/core';
import { notFound } from '../platform/errors.ts';
import type { Database } from '../platform/database.ts';
import * as store from './store.ts';

type MemberRow = store.MemberRow;

export class DimensionMembers {
  readonly #byId: Map<number, MemberRow>;
  readonly #byCode: Map<string, MemberRow>;
  readonly #replacements: Replacements;
  #lastPosition: number;
  #use: Awaited<ReturnType<typeof store.memberUse>> | undefined;

  static async of(
    db: Database,
    workspaceId: number,
    dimensionId: number,
  ): Promise<DimensionMembers> {
    const rows = await store.memberRows(db, workspaceId);
    return new DimensionMembers(
      db,
      workspaceId,
      rows.filter((row) => row.dimensionId === dimensionId),
    );
  }

  private constructor(
    private readonly db: Database,
    private readonly workspaceId: number,
    rows: readonly MemberRow[],
  ) {
    this.#byId = new Map(rows.map((row) => [row.id, row]));
    this.#byCode = new Map(rows.map((row) => [row.code, row]));
    this.#replacements = new Replacements(rows);
    this.#lastPosition = rows.reduce((last, { position }) => Math.max(last, position), -1);
  }

  /** In their order. */
  get rows(): MemberRow[] {
    return [...this.#byId.values()];
  }

  /** @throws HttpProblem 404 */
  must(id: number): MemberRow {
    const row = this.#byId.get(id);
    if (!row) throw notFound('such member');
    return row;
  }

  withCode(code: string): MemberRow | undefined {
    return this.#byCode.get(code);
  }

  /** Where the next one stands. */
  nextPosition(): number {
    return this.#lastPosition + 1;
  }

  /** Takes in a member that was added or changed. */
  put(row: MemberRow): void {
    const before = this.#byId.get(row.id);
    if (before) this.#byCode.delete(before.code);
    this.#byId.set(row.id, row);
    this.#byCode.set(row.code, row);
    this.#replacements.put(row);
    this.#lastPosition = Math.max(this.#lastPosition, row.position);
  }

  /** Why a member cannot replace another one, in words; undefined where it can. */
  whyNotReplaces(id: number, replaced: number): string | undefined {
    return this.#replacements.whyNot(id, replaced);
  }

  /** Whether sales or forecast lines name the member itself. */
  async isSold(id: number): Promise<boolean> {
    this.#use ??= await store.memberUse(this.db, this.workspaceId);
    return this.#use.has(id);
  }

  /** Whether it is, or lies below, another one. */
  liesWithin(id: number, other: number): boolean {
    for (let at: number | null = id; at !== null; at = this.must(at).parentId) {
      if (at === other) return true;
    }
    return false;
  }
}
