import { foreignKey, integer, pgTable, primaryKey, text, unique } from 'drizzle-orm/pg-core';
import { combination, workspaceId } from '../dimensions/tables.ts';

/** The forecast of one combination by one method; streams never overlap. */
export const stream = pgTable(
  'stream',
  {
    workspaceId: workspaceId(),
    id: integer().notNull().generatedAlwaysAsIdentity(),
    combinationId: integer().notNull(),
    method: text({ enum: ['volumePrice'] }).notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.id] }),
    unique().on(t.workspaceId, t.combinationId),
    foreignKey({
      columns: [t.workspaceId, t.combinationId],
      foreignColumns: [combination.workspaceId, combination.id],
    }),
  ],
);
