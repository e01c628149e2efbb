import { ROLES, type Layout, type Preferences } from '@dravex/contract';
import {
  bigint,
  foreignKey,
  index,
  integer,
  json,
  jsonb,
  pgTable,
  primaryKey,
  text,
  timestamp,
  varchar,
} from 'drizzle-orm/pg-core';
import { workspace } from '../workspaces/tables.ts';

/** A person who can sign in. People stand outside workspaces; memberships let them in. */
export const person = pgTable('person', {
  id: integer().primaryKey().generatedAlwaysAsIdentity(),
  /** Lower case, so that one address is one person. */
  email: text().notNull().unique(),
  name: text().notNull(),
  /** argon2id, in its own encoded form. */
  passwordHash: text().notNull(),
  /** How they have laid out tables. */
  layout: jsonb().$type<Layout>().notNull().default({ widths: {}, folded: {} }),
  preferences: jsonb().$type<Preferences>().notNull().default({}),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
});

/** Links by which somebody chooses a password: the newest one of a person, until it is used. */
export const passwordLink = pgTable('password_link', {
  personId: integer()
    .primaryKey()
    .references(() => person.id),
  kind: text({ enum: ['invitation', 'reset'] }).notNull(),
  hash: text().notNull().unique(),
  expiresAt: timestamp({ withTimezone: true }).notNull(),
});

export const membership = pgTable(
  'membership',
  {
    workspaceId: integer()
      .notNull()
      .references(() => workspace.id),
    personId: integer()
      .notNull()
      .references(() => person.id),
    role: text({ enum: ROLES }).notNull(),
  },
  (t) => [primaryKey({ columns: [t.workspaceId, t.personId] })],
);

/**
 * Which nodes of target trees somebody holds. A node that is removed stays named here: it is held
 * again when its removal is undone.
 */
export const heldPart = pgTable(
  'held_part',
  {
    workspaceId: integer().notNull(),
    personId: integer().notNull(),
    nodeId: integer().notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.personId, t.nodeId] }),
    foreignKey({
      columns: [t.workspaceId, t.personId],
      foreignColumns: [membership.workspaceId, membership.personId],
    }).onDelete('cascade'),
  ],
);

/** Signed-in browsers, in the form the session store expects. */
export const session = pgTable(
  'session',
  {
    sid: varchar().primaryKey(),
    sess: json().notNull(),
    expire: timestamp({ precision: 6 }).notNull(),
  },
  (t) => [index().on(t.expire)],
);

/** Counts failed sign-ins, in the form the rate limiter expects; shared by all server processes. */
export const signInThrottle = pgTable('sign_in_throttle', {
  key: varchar({ length: 255 }).primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
});
