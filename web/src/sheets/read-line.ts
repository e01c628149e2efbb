import type { SheetLine, TypedLine } from '@dravex/contract';
import { applyArithmetic, type Scope } from '@dravex/core';
import { readArithmetic } from '../format/arithmetic.ts';
import { unitOf, type Formats, type Unit } from '../format/numbers.ts';
import { WORDS } from '../format/words.ts';
import type { GridEdit } from '../grid/plan-grid.ts';
import { unitInWords } from '../grid/table-rows.ts';
import { NOT_PLANNED } from '../plan/planned-words.ts';
import { meantInPlan, type Doubt } from '../plan/use-typed.ts';
import type { SheetLook } from './sheet-rows.ts';

/** What is typed into a sheet. */
export interface SheetEdit extends GridEdit {
  readonly sheet: string;
  /** In which money was shown, and so typed. */
  readonly unit: Unit;
  /** The members of the line. */
  readonly scope: Scope;
}

type ReadLine<Edit extends SheetEdit> =
  { readonly typed: TypedLine } | { readonly reason: string } | { readonly doubt: Doubt<Edit> };

/** Reads what was typed over a line's plan: a number in the unit shown, or a change of what is there. */
export function readLine<Edit extends SheetEdit>(
  edit: Edit,
  line: SheetLine,
  formats: Formats,
  { display, wholes }: Pick<SheetLook, 'display' | 'wholes'>,
): ReadLine<Edit> {
  const { text } = edit;
  if (text === '') return { reason: NOT_PLANNED.emptied };
  const size = unitOf(display, edit.unit);
  const arithmetic = readArithmetic(text, formats, false, size);
  if (!arithmetic) return { reason: WORDS.isNotNumber(text.slice(0, 30)) };
  const stands = line.plan / wholes;
  const [value = Number.NaN] = applyArithmetic(arithmetic, [stands], false);
  const total = display === 'money' ? Math.round(value * wholes) : value;
  if (!Number.isFinite(total) || Math.abs(total) > 9e15) {
    return { reason: NOT_PLANNED.tooMuch };
  }
  const meant = meantInPlan(edit, value, stands);
  if (meant === undefined) return { typed: { scope: [...line.scope], total, saw: line.plan } };
  const words = (number: number): string =>
    `${formats.full(number / size, display)} ${unitInWords(display, edit.unit, formats)}`;
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
