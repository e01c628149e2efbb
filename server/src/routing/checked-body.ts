/** A JSON body, read by the schema of its operation. */
import type { z } from 'zod';
import { badRequest } from '../platform/errors.ts';
import { read } from '../platform/http.ts';

/** @throws HttpProblem 400 */
export function jsonOf(bytes: Uint8Array): unknown {
  if (bytes.length === 0) return undefined;
  try {
    return JSON.parse(new TextDecoder('utf-8', { fatal: true }).decode(bytes));
  } catch {
    throw badRequest('The body is not JSON');
  }
}

/** @throws HttpProblem 400 that names every mistake with its path */
export const checkedBody = (schema: z.ZodType, bytes: Uint8Array): unknown =>
  read(schema, jsonOf(bytes));
