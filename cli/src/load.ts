import { createReadStream, existsSync } from 'node:fs';
import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { importKindSchema, targetOperations, type ImportKind } from '@dravex/contract';
import { closingDay, DRIVERS, monthFrom } from '@dravex/core';
import { z } from 'zod';
import { bringFile } from './bring.ts';
import type { Client } from './client.ts';

const createdSchema = z.object({ id: z.number() });
const partSchema = z.looseObject({ kind: z.string() });
interface Node {
  readonly name: string;
  readonly kind: string;
  readonly scope: Readonly<Record<string, string>>;
  readonly part: unknown;
  readonly below: readonly Node[];
  /** Everything else as the request takes it. */
  readonly [more: string]: unknown;
}
const nodeSchema: z.ZodType<Node> = z.looseObject({
  name: z.string(),
  kind: z.string(),
  scope: z.record(z.string(), z.string()).default({}),
  part: partSchema,
  below: z.lazy(() => z.array(nodeSchema)).default([]),
});
const targetsFileSchema = z.object({
  fiscalYear: z.number(),
  objectives: z.array(
    z.object({
      name: z.string(),
      measure: z.string(),
      amount: z.number(),
      below: z.array(nodeSchema),
    }),
  ),
});
const planSchema = z.object({
  plan: z.object({
    dimensions: z.array(
      z.object({
        code: z.string(),
        members: z.array(z.object({ id: z.number(), code: z.string() })),
      }),
    ),
  }),
});

/** What the rows of each kind of file are. */
const ROWS: Readonly<Record<ImportKind, string>> = {
  sales: 'sales lines',
  facts: 'measured facts',
  ledger: 'ledger amounts',
  subscribers: 'subscribers',
};

/** The files of a folder in order; none where there is no such folder. */
async function filesIn(folder: string): Promise<string[]> {
  return existsSync(folder) ? (await readdir(folder)).sort() : [];
}

async function json(folder: string, name: string): Promise<unknown> {
  return JSON.parse(await readFile(join(folder, name), 'utf8')) as unknown;
}

/**
 * Makes a workspace from a folder of files, by the same requests that the browser sends: the
 * calendar and dimensions, people, every file of what happened, streams, assumptions, budgets, targets.
 * @param say is told each step
 * @returns the new workspace's id
 * @throws RequestFailed with the server's reason; what was loaded before it stays
 */
export async function loadFolder(
  client: Client,
  folder: string,
  say: (step: string) => void,
): Promise<number> {
  const workspace = z.looseObject({}).parse(await json(folder, 'workspace.json'));
  const { id } = createdSchema.parse(await client.send('POST', '/workspaces', workspace));
  const base = `/workspaces/${id}`;
  say('workspace, calendar and dimensions');

  const people = z.array(personSchema).parse(await json(folder, 'people.json'));
  const entered = await enter(client, base, people);
  for (const kind of importKindSchema.options) {
    for (const file of await filesIn(join(folder, kind))) {
      const how = { kind, leaveOut: true, apply: true };
      const { good, faulty } = await bringFile(client, id, join(folder, kind, file), how);
      say(`${file}: ${good} ${ROWS[kind]}, ${faulty} faulty`);
    }
  }
  if (existsSync(join(folder, 'drivers.json'))) {
    const drivers = z.array(z.looseObject({})).parse(await json(folder, 'drivers.json'));
    for (const driver of drivers) await bringDriver(client, base, driver);
    say(`${drivers.length} drivers`);
  }
  const streams = z.looseObject({}).parse(await json(folder, 'streams.json'));
  await client.send('POST', `${base}/streams`, streams);
  const assumptions = z.looseObject({}).parse(await json(folder, 'assumptions.json'));
  await client.send('POST', `${base}/assumptions`, assumptions);
  say('streams and assumptions');

  for (const file of (await readdir(folder)).filter((name) => name.endsWith('.csv')).sort()) {
    const name = budgetName(file);
    const path = `${base}/versions/import?name=${encodeURIComponent(name)}`;
    await client.send('POST', path, createReadStream(join(folder, file)));
    say(name);
  }
  await loadCloses(client, base, join(folder, 'closes'), say);
  await loadTargets(client, base, folder);
  await giveParts(client, base, entered);
  say('targets');
  return id;
}

/** Somebody in `people.json`, with the teams or people of the targets that they hold, by name. */
const personSchema = z.looseObject({
  role: z.string(),
  holds: z.array(z.string()).default([]),
});
type Entered = z.infer<typeof personSchema> & { readonly id: number };

async function enter(
  client: Client,
  base: string,
  people: readonly z.infer<typeof personSchema>[],
): Promise<Entered[]> {
  const entered: Entered[] = [];
  for (const { holds, ...person } of people) {
    const { id } = createdSchema.parse(await client.send('POST', `${base}/people`, person));
    entered.push({ ...person, holds, id });
  }
  return entered;
}

/** Gives people what they hold, in every tree in which something of that name is. */
async function giveParts(client: Client, base: string, people: readonly Entered[]): Promise<void> {
  const holders = people.filter(({ holds }) => holds.length > 0);
  if (holders.length === 0) return;
  const known = targetOperations.listParts.answer.parse(await client.send('GET', `${base}/parts`));
  for (const { id, role, holds } of holders) {
    const parts = known
      .filter(({ name }) => holds.some((one) => name.split(', ').at(-1) === one))
      .map(({ node }) => node);
    await client.send('PATCH', `${base}/people/${id}`, { role, parts });
  }
}

/** The working day on which months were closed whose day nobody wrote down. */
const USUAL_CLOSING_DAY = 3;

/** Brings in the forecasts that were kept when months were closed: `2026-09.csv` is September's. */
async function loadCloses(
  client: Client,
  base: string,
  folder: string,
  say: (step: string) => void,
): Promise<void> {
  const files = await filesIn(folder);
  const rule = { by: 'workingDay', day: USUAL_CLOSING_DAY } as const;
  for (const file of files) {
    const month = file.replace(/\.csv$/, '');
    const at = closingDay(monthFrom(month), rule, new Set()) ?? '';
    const path = `${base}/closing/earlier?month=${month}&at=${at}`;
    await client.send('POST', path, createReadStream(join(folder, file)));
  }
  if (files.length > 0) say(`${files.length} forecasts kept at closes`);
}

/** Adds a driver of one's own, or changes what can be changed of one that methods read themselves. */
async function bringDriver(
  client: Client,
  base: string,
  { code, ...driver }: Record<string, unknown>,
): Promise<void> {
  const builtIn = DRIVERS.some((driver) => driver.code === code);
  if (builtIn) await client.send('PATCH', `${base}/drivers/${String(code)}`, driver);
  else await client.send('POST', `${base}/drivers`, { code, ...driver });
}

/** `budget-fy2027.csv` is called `Budget FY 2027`. */
function budgetName(file: string): string {
  const words = file
    .replace(/\.csv$/, '')
    .replace(/fy(\d+)/i, 'FY $1')
    .replaceAll('-', ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}

async function loadTargets(client: Client, base: string, folder: string): Promise<void> {
  const file = targetsFileSchema.parse(await json(folder, 'targets.json'));
  const { plan } = planSchema.parse(await client.send('GET', `${base}/plan`));
  const idOf = (dimension: string, code: string): number => {
    const members = plan.dimensions.find((d) => d.code === dimension)?.members ?? [];
    const member = members.find((member) => member.code === code);
    if (!member)
      throw new Error(`targets.json names "${code}" in "${dimension}", which is not there`);
    return member.id;
  };
  const address = `${base}/targets/${file.fiscalYear}`;
  const add = async (parent: number, nodes: readonly Node[]): Promise<void> => {
    for (const { below, scope, ...node } of nodes) {
      const members = Object.entries(scope).map(([dimension, code]) => idOf(dimension, code));
      const body = { parent, ...node, scope: members };
      const { id } = createdSchema.parse(await client.send('POST', `${address}/nodes`, body));
      await add(id, below);
    }
  };
  for (const { name, measure, amount, below } of file.objectives) {
    const body = { name, measure, start: { kind: 'amount', amount } };
    const { id } = createdSchema.parse(await client.send('POST', `${address}/objectives`, body));
    await add(id, below);
  }
}
