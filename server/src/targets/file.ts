/** Whole target trees by file: saved, and brought back, looked at before anything is applied. */
import {
  newTargetNodeSchema,
  targetPartSchema,
  type ImportField,
  type NewTargetNode,
  type TargetsFile,
} from '@dravex/contract';
import {
  entriesById,
  readNumber,
  targetAmounts,
  partProblem,
  targetProblems,
  wholesIn,
  type DecimalSign,
  type MemberTree,
  type TargetPart,
} from '@dravex/core';
import { customsOf, understand } from '../exchange/reading.ts';
import { inPieces } from '../exchange/bytes.ts';
import { openTableFile } from '../exchange/table-file.ts';
import type { Actor } from '../people/actor.ts';
import type { Plans } from '../plan/plans.ts';
import type { CsvLine } from '../platform/csv.ts';
import { inTransaction, toFirst, type Connections, type Database } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { pausesFor } from '../platform/pauses.ts';
import { changing } from './changing.ts';
import { layOut, type AskedTree } from './reading.ts';
import { toColumns } from './service.ts';
import * as store from './store.ts';
import { entryOf, mainOf, objectivesOf, partOf, rowsBelow, told } from './tree.ts';

const field = (key: string, names: string[], need: ImportField['need']): ImportField => ({
  ...{ key, label: key, names: [key, ...names], content: 'text', need },
});
/** The columns of a file, in the order in which they are saved. */
const FIELDS: readonly ImportField[] = [
  field('name', ['team', 'person', 'who'], 'always'),
  field('above', ['parent', 'path'], 'maybe'),
  field('kind', ['type'], 'maybe'),
  field('seller', ['seller code'], 'maybe'),
  field('account', ['customer'], 'maybe'),
  field('manager', [], 'maybe'),
  field('sales of', ['scope'], 'maybe'),
  field('first month', ['from', 'start'], 'maybe'),
  field('last month', ['until', 'end'], 'maybe'),
  field('capacity a month', ['capacity', 'full capacity'], 'maybe'),
  field('ramp %', ['ramp', 'ramp-up'], 'maybe'),
  field('cushion %', ['cushion'], 'maybe'),
  field('share %', ['share', 'percent'], 'maybe'),
  field('target', ['amount'], 'maybe'),
];
/** What is told beside them, and is not read back. */
const TOLD = ['last year', 'actual', 'outlook', 'state'] as const;
const SEPARATOR = ' / ';
const MOST_PROBLEMS = 200;
/** Understanding a row, in cells of a table. */
const ROW_IS_AS_LONG_AS = 10;
const DIGITS = 6;

/** A tree as lines of a file: the heading, then those above before those below. */
export async function treeLines(
  connections: Pick<Connections, 'db'>,
  plans: Plans,
  actor: Actor,
  asked: AskedTree,
): Promise<CsvLine[]> {
  const tree = told(await layOut(connections, plans, actor, asked), new Map());
  const { model } = await plans.current(actor.workspaceId);
  const paths = new Map<number, string>();
  const lines: CsvLine[] = [[...FIELDS.map(({ key }) => key), ...TOLD]];
  for (const node of tree.nodes) {
    const above = node.parent === null ? '' : (paths.get(node.parent) ?? '');
    paths.set(node.id, above === '' ? node.name : `${above}${SEPARATOR}${node.name}`);
    const known = (value: number): number | null => (node.known ? value / tree.wholes : null);
    const scope = node.scope.map((id) => {
      const { code } = model.tree.dimensions[model.tree.dimensionOf(id)] ?? { code: '' };
      return `${code}:${model.tree.member(id).code}`;
    });
    lines.push([
      ...[node.name, above, node.kind, node.seller, node.account, node.manager],
      ...[scope.join('; '), node.from, node.until],
      node.full === null ? null : node.full / tree.wholes,
      node.ramp.map((share) => Number((share * 100).toFixed(6))).join('; '),
      node.cushion === 0 ? null : node.cushion,
      node.part.kind === 'percent' ? node.part.percent : null,
      node.amount / tree.wholes,
      ...[known(node.lastYear), known(node.actual), known(node.outlook), node.state],
    ]);
  }
  return lines;
}

/** A row of a file with its cells by field; undefined where no column holds it. */
interface FileRow {
  readonly row: number;
  readonly cell: (key: string) => string | undefined;
}

/** More teams and people than any company has. */
const MOST_ROWS = 20_000;

async function readRows(
  bytes: Buffer,
  locale: string,
): Promise<{ rows: FileRow[]; decimal: DecimalSign }> {
  const file = await openTableFile(inPieces(bytes), {}, MOST_ROWS);
  try {
    const choice = { shape: 'long' } as const;
    const table = await understand(file, '', FIELDS, choice, customsOf(locale));
    const { columns, decimal } = table.reading;
    if (columns['name'] === null) {
      throw badRequest(
        'The header lacks “name”: teams and people have a name, and what is above them',
      );
    }
    const rows: FileRow[] = [];
    for await (const batch of table.rows) {
      for (const { row, cells } of batch) {
        const cell = (key: string): string | undefined => {
          const column = columns[key];
          return typeof column === 'number' ? String(cells[column] ?? '').trim() : undefined;
        };
        rows.push({ row, cell });
      }
    }
    return { rows, decimal };
  } finally {
    await file.close();
  }
}

/** What a row says of a node, in the contract's shape; what no column holds is left out. */
function understoodRow(
  { cell }: FileRow,
  { tree, decimal, wholes }: { tree: MemberTree; decimal: DecimalSign; wholes: number },
): {
  values: Partial<Omit<NewTargetNode, 'parent'>>;
  problems: string[];
  both: Both | undefined;
} {
  const problems: string[] = [];
  const number = (key: string): number | null | undefined => {
    const text = cell(key)?.replace(/%$/, '');
    if (text === undefined) return undefined;
    if (text === '') return null;
    const value = readNumber(text, decimal, DIGITS) / 10 ** DIGITS;
    if (Number.isNaN(value)) problems.push(`“${text.slice(0, 40)}” is no number (${key})`);
    return Number.isNaN(value) ? null : value;
  };
  const text = (key: string): string | null | undefined => {
    const value = cell(key);
    return value === '' ? null : value;
  };
  const members = (): number[] | undefined => {
    const parts = cell('sales of')
      ?.split(/[;,]/)
      .map((part) => part.trim())
      .filter((part) => part !== '');
    return parts?.flatMap((part) => {
      const [code = '', member = ''] = part.split(':').map((piece) => piece.trim());
      const dimension = tree.dimensions.find((one) => one.code === code);
      const found = dimension?.members.find((one) => one.code === member);
      if (!found) problems.push(`“${part.slice(0, 40)}” is no member; write region:north`);
      return found ? [found.id] : [];
    });
  };
  const [share, target, full, cushion] = [
    number('share %'),
    number('target'),
    number('capacity a month'),
    number('cushion %'),
  ];
  const ramp = cell('ramp %')
    ?.split(/[;\s]+/)
    .filter((part) => part !== '')
    .map((part) => readNumber(part, decimal, DIGITS) / 10 ** DIGITS / 100);
  const percent =
    typeof share === 'number' ? { kind: 'percent' as const, percent: share } : undefined;
  const amount =
    typeof target === 'number'
      ? { kind: 'amount' as const, amount: Math.round(target * wholes) }
      : undefined;
  const said = {
    name: cell('name'),
    kind: cell('kind')?.toLowerCase() || undefined,
    seller: text('seller'),
    account: text('account'),
    manager: text('manager'),
    scope: members(),
    from: text('first month'),
    until: text('last month'),
    full: typeof full === 'number' ? Math.round(full * wholes) : full,
    ramp,
    cushion: cushion === null ? 0 : cushion,
    part: percent ?? amount,
  };
  const values = Object.fromEntries(
    Object.entries(said).filter(([, value]) => value !== undefined),
  ) as Partial<Omit<NewTargetNode, 'parent'>>;
  return { values, problems, both: percent && amount ? { percent, amount } : undefined };
}

/**
 * Which of a share and a target that stand in one row is meant: the one that is not what stands.
 * @param amounts what nodes come to as they stand
 * @returns undefined where both are other ones
 */
function partOfBoth(
  { percent, amount }: Both,
  known: store.TargetRow,
  amounts: ReadonlyMap<number, number>,
): TargetPart | undefined {
  const whole = amounts.get(known.parentId ?? 0) ?? 0;
  const agree = Math.abs(amount.amount - (whole * percent.percent) / 100) <= 1;
  if (agree || amount.amount === amounts.get(known.id)) return percent;
  const now = partOf(known);
  return now.kind === 'percent' && now.percent === percent.percent ? amount : undefined;
}

/** A share and a target that stand in one row. */
interface Both {
  readonly percent: TargetPart & { kind: 'percent' };
  readonly amount: TargetPart & { kind: 'amount' };
}

/** The columns in which what was said is kept. */
function columnsOf({
  part,
  from,
  until,
  full,
  ...rest
}: Partial<Omit<NewTargetNode, 'parent'>>): Partial<store.TargetRow> {
  const first = (month: string | null): string | null => (month === null ? null : toFirst(month));
  return {
    ...rest,
    ...(from === undefined ? {} : { fromMonth: first(from) }),
    ...(until === undefined ? {} : { untilMonth: first(until) }),
    ...(full === undefined ? {} : { fullCapacity: full }),
    ...(part === undefined ? {} : toColumns(part)),
  };
}

class Undone extends Error {}

/** Which tree a file is brought into. */
interface Bringing {
  readonly asked: AskedTree;
  readonly wholes: number;
  readonly tree: MemberTree;
  readonly read: Awaited<ReturnType<typeof readRows>>;
}

async function bring(
  tx: Database,
  workspaceId: number,
  { asked, wholes, tree, read }: Bringing,
): Promise<{ effect: TargetsFile; ids: number[] }> {
  const { fiscalYear } = asked;
  const all = await store.nodesOf(tx, workspaceId, fiscalYear);
  const objectives = objectivesOf(all);
  const objective = objectives.find(({ id }) => id === asked.objective) ?? mainOf(objectives);
  if (!objective) throw badRequest(`FY ${fiscalYear} has no objective yet; set one first`);
  const rows = rowsBelow(all, objective.id);
  const pathOf = new Map<number, string>();
  const byPath = new Map<string, store.TargetRow>();
  for (const row of rows) {
    const above = pathOf.get(row.parentId ?? 0);
    const path = above === undefined ? row.name : `${above}${SEPARATOR}${row.name}`;
    pathOf.set(row.id, path);
    byPath.set(path.toLowerCase(), row);
  }
  const amounts = targetAmounts(rows.map(entryOf), objective.measure);
  const effect: TargetsFile = { added: 0, changed: 0, same: 0, problems: [] };
  const ids = new Map<number, number>();
  const pause = pausesFor();
  for (const line of read.rows) {
    await pause(ROW_IS_AS_LONG_AS);
    const { values, problems, both } = understoodRow(line, {
      ...{ tree, wholes },
      decimal: read.decimal,
    });
    const refuse = (message: string): void => void effect.problems.push({ row: line.row, message });
    problems.forEach(refuse);
    if (problems.length > 0) continue;
    const above = line.cell('above') ?? '';
    const name = values.name ?? '';
    const path = (above === '' ? name : `${above}${SEPARATOR}${name}`).toLowerCase();
    const known = byPath.get(path);
    const parent = above === '' ? undefined : byPath.get(above.toLowerCase());
    if (!known && !parent) {
      refuse(
        above === ''
          ? `“${name}” is not the top of the objective; say what is above it`
          : `“${above.slice(0, 60)}” is not there; it stands before what is below it`,
      );
      continue;
    }
    if (!known && parent) {
      const fresh = { part: { kind: 'amount', amount: 0 }, ...values, parent: parent.id };
      const checked = newTargetNodeSchema.safeParse({ ...fresh, kind: values.kind ?? 'area' });
      if (!checked.success) {
        checked.error.issues.forEach(({ message }) => refuse(message));
        continue;
      }
      const { parent: parentId, ...node } = checked.data;
      const id = await store.insertNode(tx, {
        ...{ workspaceId, fiscalYear, parentId, name: node.name, kind: node.kind },
        ...{ scope: node.scope },
        ...columnsOf(node),
      } as Parameters<typeof store.insertNode>[1]);
      const [made] = await store.nodesById(tx, workspaceId, [id]);
      if (made) byPath.set(path, made);
      ids.set(id, line.row);
      effect.added += 1;
      continue;
    }
    if (!known) continue;
    const { kind: _, ...told } = values;
    if (both && known.parentId !== null) {
      const part = partOfBoth(both, known, amounts);
      if (!part) {
        refuse(`Both the share and the target of ${name} are other ones; leave one as it was`);
        continue;
      }
      told.part = part;
    }
    if (known.parentId === null && told.part?.kind === 'percent') delete told.part;
    const wrong = Object.entries(told).flatMap(([key, value]) => {
      const shape = key === 'part' ? targetPartSchema : newTargetNodeSchema.shape[key as 'name'];
      return shape.safeParse(value).error?.issues ?? [];
    });
    if (wrong.length > 0) {
      wrong.forEach(({ message }) => refuse(message));
      continue;
    }
    // A share that is there says the same as its amount beside it.
    const columns = columnsOf(told);
    const next = { ...known, ...columns };
    const same = (Object.keys(columns) as (keyof store.TargetRow)[]).every((key) => {
      const [now, then] = [known[key], next[key]];
      if (key === 'percent') return now === null ? then === null : Number(now) === Number(then);
      return JSON.stringify(now) === JSON.stringify(then);
    });
    if (same) effect.same += 1;
    else {
      await store.updateNode(tx, workspaceId, known.id, columns);
      ids.set(known.id, line.row);
      effect.changed += 1;
    }
  }
  await checkTree(tx, workspaceId, { fiscalYear, objective, tree, ids, effect });
  effect.problems.splice(MOST_PROBLEMS);
  effect.problems.sort((a, b) => a.row - b.row);
  return { effect, ids: [...ids.keys()] };
}

/** What is wrong with the nodes that a file brought, as they stand among all others. */
async function checkTree(
  tx: Database,
  workspaceId: number,
  brought: {
    readonly fiscalYear: number;
    readonly objective: {
      readonly id: number;
      readonly measure: NonNullable<store.TargetRow['measure']>;
    };
    readonly tree: MemberTree;
    /** Nodes with the rows of the file that they come from. */
    readonly ids: ReadonlyMap<number, number>;
    readonly effect: TargetsFile;
  },
): Promise<void> {
  const { fiscalYear, objective, tree, ids, effect } = brought;
  const after = rowsBelow(await store.nodesOf(tx, workspaceId, fiscalYear), objective.id);
  const entries = after.map(entryOf);
  const known = {
    ...{ measure: objective.measure, tree },
    sellers: await store.sellerCodes(tx, workspaceId),
    accounts: await store.accountCodes(tx, workspaceId),
  };
  const byId = entriesById(entries);
  for (const entry of entries) {
    const row = ids.get(entry.id);
    if (row === undefined) continue;
    if (entry.parent === null) {
      const message = partProblem(entry, objective.measure);
      if (message !== undefined) effect.problems.push({ row, message });
      continue;
    }
    for (const { message } of targetProblems(entry, entries, known, byId)) {
      effect.problems.push({ row, message });
    }
  }
}

/**
 * Brings teams, people and targets by file: only looked at, or applied as one act when no row is
 * wrong. What the file does not name stays as it is.
 * @param reason why what was agreed changes; asked for where it does
 * @throws HttpProblem 400 when it is to be applied and a row is wrong
 */
export async function bringTargets(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  asked: AskedTree,
  bytes: Buffer,
  { apply, reason }: { readonly apply: boolean; readonly reason?: string | undefined },
): Promise<TargetsFile> {
  const { workspaceId } = actor;
  const { model, locale } = await plans.current(workspaceId);
  const { objective, minorDigits } = await layOut(connections, plans, actor, asked);
  if (!objective) throw badRequest(`FY ${asked.fiscalYear} has no objective yet; set one first`);
  const wholes = wholesIn(objective.measure, minorDigits);
  const read = await readRows(bytes, locale);
  if (read.rows.length === 0) throw badRequest('The file has no rows; nothing was imported');
  const bringing = { asked: { ...asked, objective: objective.id }, wholes, tree: model.tree, read };
  if (!apply) {
    let looked: TargetsFile | undefined;
    await inTransaction(connections, async (tx) => {
      looked = (await bring(tx, workspaceId, bringing)).effect;
      throw new Undone();
    }).catch((error: unknown) => {
      if (!(error instanceof Undone)) throw error;
    });
    return looked ?? { added: 0, changed: 0, same: 0, problems: [] };
  }
  let effect: TargetsFile = { added: 0, changed: 0, same: 0, problems: [] };
  await changing(connections, actor, { ...asked, of: [], reason }, async (tx) => {
    const done = await bring(tx, workspaceId, bringing);
    effect = done.effect;
    const [first] = effect.problems;
    if (first) {
      throw badRequest(
        `${effect.problems.length} rows cannot be imported; the first, row ${first.row}: ${first.message}. Nothing was changed`,
        effect.problems.map(({ row, message }) => ({ path: `row ${row}`, message })),
      );
    }
    return {
      ids: done.ids,
      what: `Imported targets: ${effect.added} added, ${effect.changed} changed`,
    };
  });
  return effect;
}
