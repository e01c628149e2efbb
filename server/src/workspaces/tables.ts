import {
  bigint,
  boolean,
  date,
  integer,
  pgTable,
  smallint,
  text,
  timestamp,
} from 'drizzle-orm/pg-core';

/** One company's planning. Months are the first of the month. */
export const workspace = pgTable('workspace', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  name: text().notNull(),
  locale: text().notNull(),
  currencyCode: text().notNull(),
  minorDigits: smallint().notNull(),
  firstMonth: date().notNull(),
  lastMonth: date().notNull(),
  closedThrough: date().notNull(),
  asOf: date().notNull(),
  /** Whether the as-of date is the real day, or stands where somebody set it. */
  asOfBy: text({ enum: ['day', 'hand'] })
    .notNull()
    .default('hand'),
  fiscalStart: smallint().notNull(),
  /** Goes up with every write to the workspace's data; what is computed is kept by it. */
  revision: bigint({ mode: 'number' }).notNull().default(1),
  /** The revision of the last write that changed what the plan computes. */
  planRevision: bigint({ mode: 'number' }).notNull().default(1),
  /** Whether whoever enters needs a second factor. */
  secondFactor: boolean().notNull().default(false),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
});
