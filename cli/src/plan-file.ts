import { readFile } from 'node:fs/promises';
import { planFileSchema, type PlanFile } from '@dravex/contract';

/** A file that cannot be used, with every reason. */
export class UnreadablePlan extends Error {
  constructor(
    message: string,
    readonly reasons: readonly string[] = [],
  ) {
    super(message);
    this.name = 'UnreadablePlan';
  }
}

const MOST_REASONS = 100;

/** Reads a plan file. @throws UnreadablePlan with everything that its format forbids */
export async function readPlanFile(path: string): Promise<PlanFile> {
  let text: string;
  try {
    text = await readFile(path, 'utf8');
  } catch {
    throw new UnreadablePlan(`${path} cannot be read; is it there?`);
  }
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch {
    throw new UnreadablePlan(`${path} is not JSON`);
  }
  const read = planFileSchema.safeParse(json);
  if (read.success) return read.data;
  const reasons = read.error.issues
    .slice(0, MOST_REASONS)
    .map(({ path: place, message }) => `${place.map(String).join('.') || 'the file'}: ${message}`);
  throw new UnreadablePlan(`${path} is not a plan file of this format`, reasons);
}
