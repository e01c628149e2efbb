import { targetPartSchema, type TargetNode } from '@dravex/contract';
import { applyArithmetic, type Display, type TargetPart } from '@dravex/core';
import { readArithmetic } from '../format/arithmetic.ts';
import { unitOf, type Formats, type Unit } from '../format/numbers.ts';
import { isRelative, type GridEdit } from '../grid/plan-grid.ts';
import { unitInWords } from '../grid/table-rows.ts';
import { meantBy, type Doubt } from '../plan/use-typed.ts';
import { TEXTS } from './texts.ts';

type Reason = { readonly reason: string };

function checked(part: TargetPart, text: string): { part: TargetPart } | Reason {
  const result = targetPartSchema.safeParse(part);
  if (result.success) return { part: result.data };
  const [issue] = result.error.issues;
  return { reason: `${issue?.message ?? TEXTS.thisCannotBeUsed}: ${text.slice(0, 30)}` };
}
const noPart = (text: string): Reason => ({
  reason: TEXTS.isNeitherPercentageSuchAs(text.slice(0, 30)),
});

/**
 * Reads a part of a target as it is typed into a form: `25%` is a percent of the target above,
 * anything else an amount in the currency.
 * @param minor how many of the whole numbers in which targets are kept make one
 */
export function readPart(
  text: string,
  formats: Formats,
  minor: number,
): { part: TargetPart } | Reason {
  const percent = /%\s*$/.test(text);
  const value = formats.read(text.replace(/%\s*$/, ''), false);
  if (value === undefined || !Number.isFinite(value)) return noPart(text);
  return checked(
    percent
      ? { kind: 'percent', percent: value }
      : { kind: 'amount', amount: Math.round(value * minor) },
    text,
  );
}

/** How amounts of an objective are shown, and how many of the whole numbers they are kept in make one. */
export interface TargetSize {
  readonly display: Display;
  readonly wholes: number;
  readonly unit: Unit;
}

/** What is typed into the table of targets, and what it is read against. */
export interface TargetEdit extends GridEdit {
  /** In which money is shown, and so typed. */
  readonly unit: Unit;
}

/** How much of the target above a node has, as it was typed where that is a percent. */
export function shareOf({ part, share }: TargetNode): number | null {
  return part.kind === 'percent' ? part.percent / 100 : share;
}

/**
 * Reads what was typed over a target or a share: an amount in the unit shown, a percent of the
 * target above, or a change of what is there.
 */
export function readTyped<Edit extends TargetEdit>(
  edit: Edit,
  node: TargetNode,
  formats: Formats,
  { display, wholes }: Omit<TargetSize, 'unit'>,
): { readonly part: TargetPart } | Reason | { readonly doubt: Doubt<Edit> } {
  const { text, column, unit } = edit;
  if (text === '') return { reason: TEXTS.targetCannotBeEmptyEnter };
  if (column === 'share') {
    const arithmetic = readArithmetic(text, formats, true);
    if (!arithmetic) return noPart(text);
    const [value = Number.NaN] = applyArithmetic(arithmetic, [shareOf(node) ?? 0], false);
    return checked({ kind: 'percent', percent: Number((value * 100).toFixed(6)) }, text);
  }
  if (text.endsWith('%') && !isRelative(text)) {
    return node.parent === null
      ? { reason: TEXTS.targetOfWholeCompanyIs }
      : readPart(text, formats, wholes);
  }
  const size = unitOf(display, unit);
  const arithmetic = readArithmetic(text, formats, false, size);
  if (!arithmetic) return noPart(text);
  const stands = node.amount / wholes;
  const [value = Number.NaN] = applyArithmetic(arithmetic, [stands], false);
  const meant = meantBy(edit, value, stands);
  if (meant !== undefined) {
    const words = (number: number): string =>
      `${formats.full(number / size, display)} ${unitInWords(display, unit, formats)}`;
    return {
      doubt: {
        edit,
        typed: words(value),
        meant: words(meant),
        stands: words(stands),
        text: formats.typed(meant / size, false),
      },
    };
  }
  return checked({ kind: 'amount', amount: Math.round(value * wholes) }, text);
}
