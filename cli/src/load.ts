import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { z } from 'zod';
import type { Client } from './client.ts';

const createdSchema = z.object({ id: z.number() });
const partSchema = z.looseObject({ kind: z.string() });
const nodeSchema = z.object({
  name: z.string(),
  kind: z.string(),
  scope: z.record(z.string(), z.string()),
  seller: z.string().optional(),
  part: partSchema,
});
const targetsFileSchema = z.object({
  fiscalYear: z.number(),
  objective: z.number(),
  areas: z.array(nodeSchema.extend({ below: z.array(nodeSchema) })),
});
type Node = z.infer<typeof nodeSchema>;
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

async function json(folder: string, name: string): Promise<unknown> {
  return JSON.parse(await readFile(join(folder, name), 'utf8')) as unknown;
}

/**
 * Makes a workspace from a folder of files, by the same requests that the browser sends: the
 * calendar and dimensions, people, every file of sales lines, streams, assumptions, budgets, targets.
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

  for (const person of z.array(z.looseObject({})).parse(await json(folder, 'people.json'))) {
    await client.send('POST', `${base}/people`, person);
  }
  for (const file of (await readdir(join(folder, 'sales'))).sort()) {
    const text = await readFile(join(folder, 'sales', file), 'utf8');
    const name = encodeURIComponent(file);
    const preview = z
      .object({ id: z.number(), good: z.number(), faulty: z.number() })
      .parse(await client.send('POST', `${base}/imports?fileName=${name}`, text));
    await client.send('POST', `${base}/imports/${preview.id}/apply`);
    say(`${file}: ${preview.good} sales lines, ${preview.faulty} faulty`);
  }
  const streams = z.looseObject({}).parse(await json(folder, 'streams.json'));
  await client.send('POST', `${base}/streams`, streams);
  const assumptions = z.looseObject({}).parse(await json(folder, 'assumptions.json'));
  await client.send('POST', `${base}/assumptions`, assumptions);
  say('streams and assumptions');

  for (const file of (await readdir(folder)).filter((name) => name.endsWith('.csv')).sort()) {
    const name = budgetName(file);
    const text = await readFile(join(folder, file), 'utf8');
    await client.send('POST', `${base}/versions/import?name=${encodeURIComponent(name)}`, text);
    say(name);
  }
  await loadTargets(client, base, folder);
  say('targets');
  return id;
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
    const found = members.find((member) => member.code === code);
    if (!found)
      throw new Error(`targets.json names "${code}" in "${dimension}", which is not there`);
    return found.id;
  };
  const address = `${base}/targets/${file.fiscalYear}`;
  const tree = z
    .object({ nodes: z.array(z.object({ id: z.number() })).min(1) })
    .parse(await client.send('PUT', address, { objective: file.objective }));
  const add = async (parent: number, node: Node): Promise<number> => {
    const scope = Object.entries(node.scope).map(([dimension, code]) => idOf(dimension, code));
    const { name, kind, part, seller } = node;
    const body = { parent, name, kind, scope, part, seller: seller ?? null };
    return createdSchema.parse(await client.send('POST', `${address}/nodes`, body)).id;
  };
  const [top] = tree.nodes;
  for (const { below, ...area } of file.areas) {
    const id = await add(top?.id ?? 0, area);
    for (const node of below) await add(id, node);
  }
}
