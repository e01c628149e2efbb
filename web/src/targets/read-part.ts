import { targetPartSchema } from '@dravex/contract';
import type { TargetPart } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';

/**
 * Reads a part of a target as it is typed: `25%` is a percent of the target above, anything else
 * an amount in the currency.
 * @param minor how many minor units make one of the currency
 */
export function readPart(
  text: string,
  formats: Formats,
  minor: number,
): { part: TargetPart } | { reason: string } {
  const percent = /%\s*$/.test(text);
  const value = formats.read(text.replace(/%\s*$/, ''), false);
  if (value === undefined || !Number.isFinite(value)) {
    return { reason: `“${text.slice(0, 30)}” is neither a percent such as 25% nor an amount` };
  }
  const part = percent
    ? { kind: 'percent', percent: value }
    : { kind: 'amount', amount: Math.round(value * minor) };
  const checked = targetPartSchema.safeParse(part);
  if (checked.success) return { part: checked.data };
  const [issue] = checked.error.issues;
  return { reason: `${issue?.message ?? 'This cannot be taken'}: ${text.slice(0, 30)}` };
}
