import { z } from 'zod';
import { planFileSchema } from './plan-file.ts';

/** The JSON Schema of a plan file, as it is published in `docs/plan-file.schema.json`. */
export function planFileJsonSchema(): object {
  const schema = z.toJSONSchema(planFileSchema, { io: 'input', unrepresentable: 'any' });
  return { ...schema, $id: 'plan-file.schema.json', title: 'Dravex plan file, format 1' };
}
