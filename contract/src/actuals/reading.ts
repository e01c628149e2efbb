import { plainHeading, type Dimension, type Field } from '@dravex/core';
import { z } from 'zod';
import { idSchema, nameSchema } from '../common.ts';

/** What a table can be imported as. */
export const importKindSchema = z.enum(['sales', 'facts', 'ledger', 'subscribers']);
export type ImportKind = z.infer<typeof importKindSchema>;

/** What a table can be read as: what happened, or what is planned. */
export const tableKindSchema = z.enum([...importKindSchema.options, 'plan']);
export type TableKind = z.infer<typeof tableKindSchema>;

/** A field that a column of a file can hold, with what it is called. */
export interface ImportField extends Field {
  readonly label: string;
  /** Whether every row must have it; `amount`: at least one of these. */
  readonly need: 'always' | 'amount' | 'maybe';
  /** The field that is taken from this one where both are held: a ledger has two columns. */
  readonly less?: string;
}

const NUMBERS: readonly ImportField[] = [
  {
    key: 'quantity',
    label: 'Quantity',
    names: ['quantity', 'qty', 'units', 'pieces', 'menge', 'stück', 'quantité'],
    content: 'number',
    need: 'amount',
  },
  {
    key: 'net amount',
    label: 'Net amount',
    names: [
      'net amount',
      'revenue',
      'net revenue',
      'net sales',
      'amount',
      'net',
      'sales',
      'netto',
      'umsatz',
      'betrag',
      'montant',
      'takings',
      'turnover',
      'value',
      'wert',
      'valeur',
      'credit',
      'haben',
      'crédit',
    ],
    content: 'number',
    need: 'amount',
    less: 'debit',
  },
  {
    key: 'debit',
    label: 'Debit (subtracted)',
    names: ['debit', 'soll', 'débit'],
    content: 'number',
    need: 'maybe',
  },
  {
    key: 'cost',
    label: 'Cost',
    names: ['cost', 'cost of sales', 'costs', 'cogs', 'kosten', 'wareneinsatz', 'coût'],
    content: 'number',
    need: 'maybe',
  },
];

/** What the same numbers are called where they are planned. */
const PLANNED_NAMES: Readonly<Record<string, readonly string[]>> = {
  quantity: ['planned units', 'plan units', 'budget units', 'plan volume', 'volume', 'planmenge'],
  'net amount': [
    ...['budget', 'plan', 'planned revenue', 'plan revenue', 'budget revenue', 'plan amount'],
    ...['planumsatz', 'planwert'],
  ],
  cost: ['planned cost', 'plan cost', 'budget cost', 'plankosten'],
};

/** The numbers of a sales line, which a row can name: not what is only taken from one of them. */
const LINE_NUMBERS = wholeNumberFields(NUMBERS);
export const LINE_NUMBER_KEYS: ReadonlySet<string> = new Set(LINE_NUMBERS.map(({ key }) => key));

/**
 * Which number of a sales line a row holds, by how its figure is called; undefined for a figure
 * that no line has, such as a margin.
 * @example figureNamed('Umsatz') // 'net amount'
 */
export function figureNamed(text: string): string | undefined {
  const name = plainHeading(text);
  return LINE_NUMBERS.find(({ names }) => names.includes(name))?.key;
}

/**
 * Quantities and amounts can be rows of their own, with a column that says which. No heading tells:
 * a column that is called so may hold something else, as what is measured in kilograms.
 */
const FIGURE: ImportField = {
  key: 'figure',
  label: 'Which figure it is',
  names: [],
  content: 'text',
  need: 'maybe',
  known: new Set(LINE_NUMBERS.flatMap(({ names }) => names.map(plainHeading))),
};

/** The field whose column holds the number of a row, where another column says which number it is. */
export function figureColumn({
  shape,
  values,
  columns,
}: Pick<Reading, 'shape' | 'values' | 'columns'>): string | undefined {
  if (typeof columns[FIGURE.key] !== 'number') return undefined;
  if (shape === 'wide') return values;
  return LINE_NUMBERS.find(({ key }) => typeof columns[key] === 'number')?.key;
}

const DATE: ImportField = {
  key: 'date',
  label: 'Date',
  names: [
    'date',
    'invoice date',
    'posting date',
    'day',
    'month',
    'datum',
    'rechnungsdatum',
    'monat',
  ],
  content: 'day',
  need: 'always',
};

const TEXTS: readonly ImportField[] = [
  {
    key: 'document',
    label: 'Document',
    names: [
      'document',
      'invoice',
      'invoice number',
      'invoice no',
      'document number',
      'document no',
      'beleg',
      'rechnung',
      'receipt',
      'receipt no',
      'order',
      'facture',
    ],
    content: 'text',
    need: 'maybe',
  },
  {
    key: 'line number',
    label: 'Line number',
    names: ['line number', 'line', 'line no', 'position', 'pos', 'zeile'],
    content: 'number',
    need: 'maybe',
  },
  {
    key: 'customer',
    label: 'Customer',
    names: [
      'customer',
      'customer number',
      'customer no',
      'customer code',
      'account',
      'kunde',
      'client',
    ],
    content: 'text',
    need: 'maybe',
  },
  {
    key: 'seller',
    label: 'Seller',
    names: ['seller', 'sales person', 'salesperson', 'rep', 'verkäufer', 'vendeur'],
    content: 'text',
    need: 'maybe',
  },
];

/** The fields that a table can have as a whole: what is only taken from another one is none. */
export function wholeNumberFields<F extends Pick<ImportField, 'key' | 'content' | 'less'>>(
  fields: readonly F[],
): F[] {
  const taken = new Set(fields.flatMap(({ less }) => less ?? []));
  return fields.filter(
    ({ key, content }) => content === 'number' && key !== 'line number' && !taken.has(key),
  );
}

function memberFields(dimensions: readonly Dimension[], need: ImportField['need']): ImportField[] {
  return dimensions.map(({ code, name, members }) => ({
    key: code,
    label: name,
    names: [name.toLowerCase(), code],
    content: 'member',
    need,
    known: new Set(
      members.flatMap((member) => [member.code.toLowerCase(), member.name.toLowerCase()]),
    ),
  }));
}

/** The fields of a kind of table, in the order in which they are shown. */
export function importFields(kind: TableKind, dimensions: readonly Dimension[]): ImportField[] {
  switch (kind) {
    case 'sales':
      return [DATE, ...memberFields(dimensions, 'always'), ...NUMBERS, FIGURE, ...TEXTS];
    case 'plan':
      return [
        { ...DATE, label: 'Month' },
        // A row can plan a whole channel: what is not named is not limited.
        ...memberFields(dimensions, 'maybe'),
        ...NUMBERS.map((field) => ({
          ...field,
          names: [...field.names, ...(PLANNED_NAMES[field.key] ?? [])],
          // A file can plan cost alone.
          ...(field.key === 'cost' ? { need: 'amount' as const } : {}),
        })),
        FIGURE,
      ];
    case 'facts':
      return [
        { ...DATE, label: 'Month' },
        {
          key: 'measure',
          label: 'Measure',
          names: ['measure', 'fact', 'figure', 'kennzahl'],
          content: 'text',
          need: 'always',
        },
        ...memberFields(dimensions, 'maybe'),
        {
          key: 'value',
          label: 'Value',
          names: [
            'value',
            'amount',
            'count',
            'number',
            'wert',
            'anzahl',
            'size',
            'market size',
            'visits',
            'score',
          ],
          content: 'number',
          need: 'always',
        },
      ];
    case 'ledger':
      return [
        { ...DATE, label: 'Month' },
        {
          key: 'account',
          label: 'Account',
          names: ['account', 'account number', 'account no', 'ledger account', 'konto', 'compte'],
          content: 'text',
          need: 'always',
        },
        {
          key: 'account name',
          label: 'Account name',
          names: ['account name', 'name', 'description', 'text', 'bezeichnung', 'kontobezeichnung'],
          content: 'text',
          need: 'maybe',
        },
        {
          key: 'type',
          label: 'Revenue or expense',
          names: ['type', 'kind', 'class', 'art'],
          content: 'text',
          need: 'maybe',
        },
        {
          key: 'value',
          label: 'Amount',
          names: [
            'amount',
            'value',
            'balance',
            'net',
            'betrag',
            'saldo',
            'montant',
            'debit',
            'soll',
            'débit',
          ],
          content: 'number',
          need: 'always',
          less: 'credit',
        },
        {
          key: 'credit',
          label: 'Credit (subtracted)',
          names: ['credit', 'haben', 'crédit'],
          content: 'number',
          need: 'maybe',
        },
      ];
    case 'subscribers':
      return [
        {
          key: 'subscriber',
          label: 'Subscriber',
          names: [
            'subscriber',
            'subscription',
            'code',
            'contract',
            'customer',
            'abonnent',
            'vertrag',
          ],
          content: 'text',
          need: 'always',
        },
        {
          key: 'start',
          label: 'Start',
          names: ['start', 'start date', 'from', 'since', 'beginn'],
          content: 'day',
          need: 'always',
        },
        {
          key: 'end',
          label: 'End',
          names: ['end', 'end date', 'to', 'until', 'cancelled', 'ende'],
          content: 'day',
          need: 'maybe',
        },
        ...memberFields(dimensions, 'maybe'),
      ];
  }
}

/** What a person may say of how a table is to be read; what is not said is detected. */
export const readingChoiceSchema = z.strictObject({
  encoding: z.enum(['utf-8', 'utf-16le', 'utf-16be', 'windows-1252']).optional(),
  delimiter: z.enum([',', ';', '\t', '|']).optional(),
  sheet: z.string().max(200).optional(),
  /** As a person counts the rows of the file. */
  headerRow: z.number().int().min(1).max(10_000).optional(),
  decimal: z.enum(['.', ',']).optional(),
  dates: z.enum(['ymd', 'dmy', 'mdy']).optional(),
  shape: z.enum(['long', 'wide']).optional(),
  /** Of a wide table: which field stands below the months. */
  values: z.string().max(60).optional(),
  /** Which column holds a field, from 0; null where none does. */
  columns: z.record(z.string().max(60), z.number().int().min(0).max(16_384).nullable()).optional(),
  /** A value that a field has in every row. */
  constants: z.record(z.string().max(60), z.string().max(100)).optional(),
  /** Dimensions that follow from the customer: no column and no value holds them. */
  byCustomer: z.array(z.string().max(60)).max(20).optional(),
  /** An empty cell of a member or a date stands for the one above it. */
  fillDown: z.boolean().optional(),
  /** Number fields whose sign is the ledger's, so that it is turned. */
  turn: z.array(z.string().max(60)).max(3).optional(),
});
export type ReadingChoice = z.infer<typeof readingChoiceSchema>;

/** How a table is read, nothing left open. */
export const readingSchema = z.object({
  format: z.enum(['csv', 'xlsx', 'json']),
  encoding: readingChoiceSchema.shape.encoding,
  delimiter: readingChoiceSchema.shape.delimiter,
  sheet: readingChoiceSchema.shape.sheet,
  headerRow: z.number().int(),
  header: z.array(z.string()),
  decimal: z.enum(['.', ',']),
  dates: z.enum(['ymd', 'dmy', 'mdy']),
  shape: z.enum(['long', 'wide']),
  values: z.string(),
  columns: z.record(z.string(), z.number().nullable()),
  constants: z.record(z.string(), z.string()),
  byCustomer: readingChoiceSchema.shape.byCustomer,
  fillDown: z.boolean(),
  turn: z.array(z.string()),
});
export type Reading = z.infer<typeof readingSchema>;

/** Something in an address as JSON, by its schema. */
export function inAddress<S extends z.ZodType>(schema: S) {
  return z
    .string()
    .max(12_000)
    .transform((text, context) => {
      try {
        return JSON.parse(text) as unknown;
      } catch {
        context.addIssue({ code: 'custom', message: 'the reading is not JSON' });
        return z.NEVER;
      }
    })
    .pipe(schema);
}
/** A reading in an address. */
export const readingInAddressSchema = inAddress(readingChoiceSchema);

/** A table before anything of it is checked: how it would be read, and its first rows. */
export const tableLookSchema = z.object({
  reading: readingSchema,
  sheets: z.array(z.string()),
  /** Which of form, signs and dates were detected and which were said. */
  detected: z.array(z.string()),
  fields: z.array(
    z.object({
      key: z.string(),
      label: z.string(),
      need: z.enum(['always', 'amount', 'maybe']),
      content: z.enum(['day', 'number', 'text', 'member']),
      less: z.string().optional(),
    }),
  ),
  /** Fields that every row needs and no column holds. */
  missing: z.array(z.string()),
  rows: z.array(z.object({ row: z.number(), cells: z.array(z.union([z.string(), z.number()])) })),
  /** The kept mapping of a file that looks alike, where there is one. */
  mapping: z.object({ id: idSchema, name: z.string() }).nullable(),
});
export type TableLook = z.infer<typeof tableLookSchema>;

/** A dimension of a first file: a column, or a value that all its rows have. */
const firstDimensionSchema = z.union([
  z.strictObject({ column: z.number().int().min(0).max(16_384), name: nameSchema }),
  z.strictObject({ value: nameSchema, name: nameSchema }),
]);
export type FirstDimensionChoice = z.infer<typeof firstDimensionSchema>;

/** How a first file is to be read: also what are its dimensions; what is not said is proposed. */
export const firstFileChoiceSchema = readingChoiceSchema.extend({
  dimensions: z
    .array(firstDimensionSchema)
    .max(12, 'a file can have at most 12 dimensions')
    .optional(),
});
export type FirstFileChoice = z.infer<typeof firstFileChoiceSchema>;

/** A first file as it would be read: its dimensions are among the fields. */
export const firstFileLookSchema = tableLookSchema.extend({
  dimensions: z.array(
    z.object({
      /** Nothing for a dimension that has one value in all rows. */
      column: z.number().nullable(),
      value: z.string().nullable(),
      code: z.string(),
      name: z.string(),
    }),
  ),
});
export type FirstFileLook = z.infer<typeof firstFileLookSchema>;

/** A way to read files that was kept under a name. */
export const mappingSchema = z.object({
  id: idSchema,
  name: z.string(),
  kind: tableKindSchema,
  header: z.array(z.string()),
  reading: readingChoiceSchema,
});
export type Mapping = z.infer<typeof mappingSchema>;

export const newMappingSchema = z.strictObject({
  name: nameSchema,
  kind: tableKindSchema,
  header: z.array(z.string().max(200)).max(2000),
  reading: readingChoiceSchema,
});
export type NewMapping = z.infer<typeof newMappingSchema>;
