/**
 * The commands of the tool. `load` makes a workspace over HTTP from a folder of files, `bring` takes
 * a file of what happened into one; `compute`, `check`, `explain`, `close` and `accuracy` work on a plan file without a
 * server.
 */
import { existsSync } from 'node:fs';
import { writeFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { addingSchema, importKindSchema } from '@dravex/contract';
import { breaksPlan, checkPlan, MEASURE_CODES, type Plan } from '@dravex/core';
import { accuracyLines, closeFile } from './close.ts';
import { bringFile } from './bring.ts';
import { Client } from './client.ts';
import { computeRows, writeRows } from './compute.ts';
import { explainLines } from './explain.ts';
import { loadFolder } from './load.ts';
import { readPlanFile, UnreadablePlan } from './plan-file.ts';

const USAGE = `dravex compute FILE [--out FILE.csv|FILE.json]
dravex check FILE
dravex explain FILE --from MONTH [--to MONTH] [--scope channel:web,product:carafe]
       [--measure ${MEASURE_CODES.join('|')}] [--source forecast|actual|VERSION] [--depth N]
dravex explain FILE --driver CODE --from MONTH [--scope …]
dravex close FILE --month MONTH --out FILE [--sure]
dravex accuracy FILE [--rows channel,product] [--measure units|revenue|cost|margin]
       [--scope …] [--from MONTH] [--to MONTH] [--ahead 1,2,3,6,12]
dravex load FOLDER --server URL --email ADDRESS
dravex bring FILE --workspace ID [--kind sales|facts|ledger|subscribers] [--reading JSON]
       [--apply] [--leave-out] --server URL --email ADDRESS

compute writes what a plan file comes to, by combination and month. check lists what is wrong with
it. explain says how a number came about. close closes the next month of a plan file: its forecast is
kept, actuals take its place; accuracy says how good kept forecasts were, by months ahead. load makes a workspace from a folder of files
(workspace.json, people.json, sales/*, facts/*, ledger/*, subscribers/*, drivers.json,
streams.json, assumptions.json, budget-*.csv, targets.json). bring looks at a CSV, XLSX or JSON file of what
happened and says what is wrong with it; with --apply it is taken in when nothing is, with
--leave-out also when some rows are faulty. The password is read from DRAVEX_PASSWORD.
`;

/** Where a command writes, and the password it may sign in with. */
export interface Terminal {
  readonly out: (text: string) => void;
  readonly err: (text: string) => void;
  readonly password: string | undefined;
}

/** A command that was called wrongly. */
class CalledWrongly extends Error {}

function usage(message: string): never {
  throw new CalledWrongly(message);
}

function readArguments(args: readonly string[]) {
  try {
    return parseArgs({
      args: [...args],
      allowPositionals: true,
      options: {
        server: { type: 'string', default: 'http://127.0.0.1:4600' },
        email: { type: 'string' },
        out: { type: 'string' },
        from: { type: 'string' },
        to: { type: 'string' },
        scope: { type: 'string', default: '' },
        measure: { type: 'string', default: 'revenue' },
        source: { type: 'string', default: 'forecast' },
        driver: { type: 'string' },
        workspace: { type: 'string' },
        kind: { type: 'string', default: 'sales' },
        reading: { type: 'string' },
        apply: { type: 'boolean', default: false },
        'leave-out': { type: 'boolean', default: false },
        month: { type: 'string' },
        sure: { type: 'boolean', default: false },
        rows: { type: 'string', default: '' },
        ahead: { type: 'string', default: '1,2,3,6,12' },
        depth: { type: 'string', default: '3' },
        help: { type: 'boolean', default: false },
      },
    });
  } catch (error) {
    return usage(error instanceof Error ? error.message : String(error));
  }
}

type Values = ReturnType<typeof readArguments>['values'];
type Command = (what: string, asked: Values, terminal: Terminal) => Promise<number>;

async function signedIn({ email, server }: Values, { password }: Terminal): Promise<Client> {
  if (email === undefined) usage('Say who signs in with --email');
  if (!password) usage('Put the password into DRAVEX_PASSWORD');
  const client = new Client(server);
  await client.signIn(email, password);
  return client;
}

const bring: Command = async (path, asked, terminal) => {
  const { workspace, reading, apply, 'leave-out': leaveOut } = asked;
  const kind = importKindSchema.safeParse(asked.kind).data;
  if (!kind) usage(`--kind is one of ${importKindSchema.options.join(', ')}`);
  const workspaceId = Number(workspace);
  if (!Number.isSafeInteger(workspaceId))
    usage('Say into which workspace with --workspace and its id');
  if (!existsSync(path)) throw new Error(`${path} is not there`);
  const client = await signedIn(asked, terminal);
  const brought = await bringFile(client, workspaceId, path, { kind, reading, leaveOut, apply });
  const { good, faulty, applied, problems, notes } = brought;
  for (const note of notes) terminal.out(`${note}\n`);
  for (const { rows, message } of problems) terminal.out(`${rows} rows: ${message}\n`);
  const outcome = applied ? 'taken in' : 'nothing was imported';
  terminal.out(`${good} good rows, ${faulty} faulty; ${outcome}\n`);
  return faulty > 0 || (apply && !applied) ? 1 : 0;
};

const load: Command = async (folder, asked, terminal) => {
  const client = await signedIn(asked, terminal);
  const id = await loadFolder(client, folder, (step) => terminal.out(`  ${step}\n`));
  terminal.out(`Workspace ${id} is loaded\n`);
  return 0;
};

const check: Command = async (path, _, terminal) => {
  const { plan } = await readPlanFile(path);
  const problems = checkPlan(plan as Plan);
  for (const { code, message } of problems) terminal.out(`${code}: ${message}\n`);
  const { length } = problems;
  terminal.out(length === 0 ? 'Nothing is wrong\n' : `${length} found\n`);
  return length === 0 ? 0 : 1;
};

const compute: Command = async (path, { out }, terminal) => {
  const file = await readPlanFile(path);
  const problems = checkPlan(file.plan as Plan);
  const broken = problems.filter(breaksPlan);
  if (broken.length > 0) {
    throw new UnreadablePlan(
      `${path} does not hold together`,
      broken.map(({ message }) => message),
    );
  }
  if (problems.length > 0) {
    const counted = problems.length === 1 ? '1 problem' : `${problems.length} problems`;
    terminal.err(`${counted}: what rests on them has no value; dravex check lists them\n`);
  }
  const text = writeRows(file, computeRows(file), out?.endsWith('.json') ? 'json' : 'csv');
  if (out === undefined) terminal.out(text);
  else await writeFile(out, text);
  return 0;
};

const explain: Command = async (path, asked, terminal) => {
  const { from, to, depth } = asked;
  if (from === undefined) usage('Say from which month with --from');
  if (!/^\d{1,2}$/.test(depth)) usage('--depth is a number of steps, 0 to 99');
  const file = await readPlanFile(path);
  const lines = explainLines(file, { ...asked, from, to: to ?? from, depth: Number(depth) });
  terminal.out(`${lines.join('\n')}\n`);
  return 0;
};

const MONTH = /^\d{4}-(0[1-9]|1[0-2])$/;

const close: Command = async (path, { month, out, sure }, terminal) => {
  if (month === undefined || !MONTH.test(month)) usage('Say which month with --month, as 2026-10');
  if (out === undefined) usage('Say where the file goes with --out');
  const closed = closeFile(await readPlanFile(path), month, sure);
  await writeFile(out, `${JSON.stringify(closed)}\n`);
  terminal.out(`${month} is closed; its forecast is kept in ${out}\n`);
  return 0;
};

const accuracy: Command = async (path, asked, terminal) => {
  const { from, to, rows, scope } = asked;
  for (const [name, month] of Object.entries({ from, to })) {
    if (month !== undefined && !MONTH.test(month)) usage(`--${name} is a month, as 2026-10`);
  }
  const measure = addingSchema.safeParse(asked.measure).data;
  if (!measure) usage(`--measure is one of ${addingSchema.options.join(', ')}`);
  if (!/^[1-9]\d?(,[1-9]\d?){0,11}$/.test(asked.ahead))
    usage('--ahead is numbers of months, as 1,2,3');
  const lines = accuracyLines(await readPlanFile(path), {
    measure,
    rows: rows.split(',').filter((code) => code !== ''),
    scope,
    from,
    to,
    leads: asked.ahead.split(',').map(Number),
  });
  terminal.out(`${lines.join('\n')}\n`);
  return 0;
};

const COMMANDS: Readonly<Record<string, { what: string; run: Command }>> = {
  bring: { what: 'the file', run: bring },
  load: { what: 'the folder to load', run: load },
  compute: { what: 'the plan file', run: compute },
  check: { what: 'the plan file', run: check },
  explain: { what: 'the plan file', run: explain },
  close: { what: 'the plan file', run: close },
  accuracy: { what: 'the plan file', run: accuracy },
};

/**
 * Runs the tool.
 * @returns 0 when all is well, 1 when something was found or failed, 2 when it was called wrongly
 */
export async function dravex(args: readonly string[], terminal: Terminal): Promise<number> {
  try {
    const { values, positionals } = readArguments(args);
    if (values.help) {
      terminal.out(USAGE);
      return 0;
    }
    const [name, what] = positionals;
    const command = COMMANDS[name ?? ''];
    if (!command) {
      const wrong = name ? `There is no command "${name}"` : 'Name a command';
      terminal.err(`${wrong}\n\n${USAGE}`);
      return 2;
    }
    if (what === undefined) return usage(`Name ${command.what}`);
    return await command.run(what, values, terminal);
  } catch (error) {
    const message = error instanceof Error ? error.message : String(error);
    if (error instanceof CalledWrongly) {
      terminal.err(`${message}; dravex --help says how it is called\n`);
      return 2;
    }
    const reasons = error instanceof UnreadablePlan ? error.reasons : [];
    terminal.err(`${[message, ...reasons.map((reason) => `  ${reason}`)].join('\n')}\n`);
    return 1;
  }
}
