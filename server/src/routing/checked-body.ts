/** A JSON body, read by the schema of its operation and checked by what a schema cannot say. */
import type { PlanFile } from '@dravex/contract';
import type { z } from 'zod';
import { checkPlanFile } from '../exchange/plan-file-check.ts';
import { badRequest } from '../platform/errors.ts';
import { read } from '../platform/http.ts';

/** Checks that take long of a large body, by operation: they are made where it is read. */
const CHECKS: Readonly<Record<string, (body: never) => void>> = {
  loadPlanFile: (file: PlanFile) => checkPlanFile(file),
};

/** @throws HttpProblem 400 that names every mistake with its path */
export function checkedBody(operation: string, schema: z.ZodType, bytes: Uint8Array): unknown {
  let value: unknown;
  try {
    value =
      bytes.length === 0
        ? undefined
        : JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    throw badRequest('The body is not JSON');
  }
  const body = read(schema, value);
  CHECKS[operation]?.(body as never);
  return body;
}
