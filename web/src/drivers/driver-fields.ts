import { natureOf, type Driver, type DriverKind, type Nature } from '@dravex/core';
import type { Formats } from '../format/numbers.ts';
import { TEXTS } from './texts.ts';

/** What the values of a driver can be, in words. */
export const KINDS: readonly { readonly value: DriverKind; readonly name: string }[] = [
  { value: 'count', name: TEXTS.aNumber },
  { value: 'wholeCount', name: TEXTS.aWholeNumber },
  { value: 'money', name: TEXTS.amountOfMoney },
  { value: 'moneyPerUnit', name: TEXTS.moneyPerUnitOfSomething },
  { value: 'percent', name: TEXTS.aPercentage },
  { value: 'ratio', name: TEXTS.aRatio },
  { value: 'yesNo', name: TEXTS.yesOrNo },
  { value: 'choice', name: TEXTS.choiceFromList },
];
/** How a driver rolls up, in words. */
export const NATURES: readonly { readonly value: Nature; readonly name: string }[] = [
  { value: 'flow', name: TEXTS.addedUp },
  { value: 'stock', name: TEXTS.addedUpOverLinesLast },
  { value: 'ratio', name: TEXTS.aWeightedAverage },
  { value: 'level', name: TEXTS.notTotalled },
];

/** A driver in a form: numbers are texts, as they are typed. */
export interface DriverFields {
  /** Its name in formulas; empty where it follows from the name. */
  code: string;
  name: string;
  kind: DriverKind;
  /** Null as its kind has it. */
  nature: Nature | null;
  weight: string | null;
  unit: string;
  minimum: string;
  maximum: string;
  fallback: string;
  /** A value and its label on each line. */
  choices: string;
  formula: string;
  measure: string | null;
  per: string | null;
}

/** The form of a driver; of a new one where there is none. */
export function fieldsOf(
  driver: Driver | undefined,
  formats: Pick<Formats, 'typed'>,
): DriverFields {
  const typed = (value: number | null | undefined): string =>
    value === null || value === undefined ? '' : formats.typed(value, driver?.kind === 'percent');
  return {
    code: driver?.code ?? '',
    name: driver?.name ?? '',
    kind: driver?.kind ?? 'count',
    nature: driver?.nature ?? null,
    weight: driver?.weight ?? null,
    unit: driver?.unit ?? '',
    minimum: typed(driver?.minimum),
    maximum: typed(driver?.maximum),
    fallback: typed(driver?.default),
    choices: driver?.choices.map(({ value, label }) => `${value} ${label}`).join('\n') ?? '',
    formula: driver?.formula ?? '',
    measure: driver?.history?.measure ?? null,
    per: driver?.history?.per ?? null,
  };
}

/** A name in formulas made of a driver's name: `Cost per visit` is `costPerVisit`. */
export function codeOf({ code, name }: Pick<DriverFields, 'code' | 'name'>): string {
  if (code !== '') return code;
  const words = name.trim().split(/[^\p{L}\p{N}]+/u);
  return words
    .map((word, place) =>
      place === 0 ? word.toLowerCase() : word.charAt(0).toUpperCase() + word.slice(1),
    )
    .join('')
    .replace(/^\d/, '_$&');
}

/** Whether a driver's total is a mean, which something can weigh. */
export function isAveraged({ kind, nature }: Pick<DriverFields, 'kind' | 'nature'>): boolean {
  return (nature ?? natureOf({ kind })) === 'ratio';
}

/** The driver that a form says; a bound that cannot be read is NaN. */
export function driverOf(
  fields: DriverFields,
  step: number | null,
  formats: Pick<Formats, 'read'>,
): Driver {
  const { kind, nature, name, unit, formula, weight, measure, per } = fields;
  const bound = (text: string): number | null =>
    text.trim() === '' ? null : (formats.read(text, kind === 'percent') ?? Number.NaN);
  return {
    code: codeOf(fields),
    name,
    kind,
    unit,
    minimum: bound(fields.minimum),
    maximum: bound(fields.maximum),
    step,
    default: bound(fields.fallback),
    choices: fields.choices.split('\n').flatMap((line) => {
      const [, value, label] = /^\s*(-?\d+(?:[.,]\d+)?)\s+(.+)$/.exec(line) ?? [];
      return value && label
        ? [{ value: Number(value.replace(',', '.')), label: label.trim() }]
        : [];
    }),
    formula: formula.trim() === '' ? null : formula,
    nature: nature ?? natureOf({ kind }),
    weight: isAveraged(fields) ? weight : null,
    history: measure === null ? null : { measure, per },
  };
}
