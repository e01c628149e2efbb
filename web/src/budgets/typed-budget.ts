import type { TypedEntry } from '@dravex/contract';
import { applyArithmetic, isSubscriberMeasure, MEASURES, monthText, type Span } from '@dravex/core';
import { readArithmetic } from '../format/arithmetic.ts';
import { WORDS } from '../format/words.ts';
import type { TableEdit } from '../grid/plan-grid.ts';
import { unitOf, type Formats, type Unit } from '../format/numbers.ts';
import { unitInWords } from '../grid/table-rows.ts';
import { NOT_PLANNED } from '../plan/planned-words.ts';
import { meantBy, meantInPlan, type Doubt, type Refusal } from '../plan/use-typed.ts';
import { TEXTS } from './texts.ts';

/** What is typed into a version's table, and what it is read against. */
export interface BudgetGrid {
  readonly measure: TypedEntry['measure'];
  /** The months the version covers. */
  readonly covered: Span;
  /** How many minor units the currency unit has. */
  readonly minor: number;
  /** In which money is shown, and so typed. */
  readonly unit: Unit;
  readonly keeps: 'units' | 'price';
  /** What a number is now: units, money in minor units, a price in minor units per unit. */
  readonly now: (edit: TableEdit) => Promise<number | null>;
}

export interface ReadBudget<Edit extends TableEdit = TableEdit> {
  readonly typed: readonly TypedEntry[];
  readonly refusals: readonly Refusal[];
  readonly doubts: readonly Doubt<Edit>[];
}

/**
 * Reads what was typed into a version's table: each text becomes a number over the cells of its
 * row and column, with what it was when it was seen.
 */
export async function readBudget<Edit extends TableEdit>(
  edits: readonly Edit[],
  { measure, covered, minor, unit, keeps, now }: BudgetGrid,
  formats: Formats,
): Promise<ReadBudget<Edit>> {
  const typed: TypedEntry[] = [];
  const refusals: Refusal[] = [];
  const doubts: Doubt<Edit>[] = [];
  const { display } = MEASURES[measure];
  const size = unitOf(display, unit);
  const money = display === 'money';
  const scale = display === 'units' ? 1 : minor;
  for (const edit of edits) {
    const refuse = (reason: string): void => {
      refusals.push({ place: `${edit.row} ${edit.column}`, reason });
    };
    const from = Math.max(edit.span.from, covered.from);
    const to = Math.min(edit.span.to, covered.to);
    const arithmetic =
      edit.text === '' ? undefined : readArithmetic(edit.text, formats, false, size);
    if (from > to) refuse(TEXTS.versionDoesNotCoverThese);
    else if (edit.text === '') refuse(NOT_PLANNED.emptied);
    else if (!arithmetic) refuse(WORDS.isNotNumber(edit.text.slice(0, 30)));
    else {
      const saw = await now({ ...edit, span: { from, to } });
      const scaled =
        arithmetic.kind === 'times'
          ? arithmetic
          : { ...arithmetic, value: arithmetic.value * scale };
      if (saw === null && arithmetic.kind !== 'set') {
        refuse(TEXTS.nothingIsThereYetThat);
        continue;
      }
      const whole = money || Number.isInteger(saw);
      const [value = Number.NaN] = applyArithmetic(scaled, [saw ?? 0], whole);
      const total = money ? Math.round(value) : value;
      if (!Number.isFinite(total) || Math.abs(total) > 9e15) {
        refuse(NOT_PLANNED.tooMuch);
        continue;
      }
      // Of subscriptions nothing is below zero: that is refused where they are carried on.
      const asked = isSubscriberMeasure(measure) ? meantBy : meantInPlan;
      const meant = asked(edit, total, saw);
      if (meant !== undefined) {
        const words = (number: number): string =>
          `${formats.full(number / scale / size, display)} ${unitInWords(display, unit, formats)}`;
        doubts.push({
          edit,
          typed: words(total),
          meant: words(meant),
          stands: words(saw ?? 0),
          text: formats.typed(meant / scale / size, false),
        });
        continue;
      }
      typed.push({
        scope: [...edit.scope],
        from: monthText(from),
        to: monthText(to),
        measure,
        total,
        saw,
        basis: 'standing',
        keeps,
      });
    }
  }
  return { typed, refusals, doubts };
}
