import { AUDIT_KINDS, ROLES, type Layout, type Preferences } from '@dravex/contract';
import {
  bigint,
  boolean,
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
import { sql } from 'drizzle-orm';
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
  /** The secret of a second factor, sealed; null where signing in takes a password only. */
  secondFactor: text(),
  /** The half minute whose code was taken last: each code is taken once. */
  lastStep: bigint({ mode: 'number' }).notNull().default(0),
  /** Whether they may make workspaces though they own none: who was made from the command line. */
  makesWorkspaces: boolean().notNull().default(false),
  createdAt: timestamp({ withTimezone: true }).notNull().defaultNow(),
});

/** Codes for whoever lost their second factor; each works once. */
export const recoveryCode = pgTable(
  'recovery_code',
  {
    personId: integer()
      .notNull()
      .references(() => person.id),
    hash: text().notNull(),
  },
  (t) => [primaryKey({ columns: [t.personId, t.hash] })],
);

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
 * Invitations of people who have an account already, until they come: under the name that the
 * inviter gave, who learns no other one, and by a link like anybody else's.
 */
export const invitation = pgTable(
  'invitation',
  {
    workspaceId: integer().notNull(),
    personId: integer()
      .notNull()
      .references(() => person.id),
    name: text().notNull(),
    hash: text().notNull().unique(),
    expiresAt: timestamp({ withTimezone: true }).notNull(),
  },
  (t) => [
    primaryKey({ columns: [t.workspaceId, t.personId] }),
    foreignKey({
      columns: [t.workspaceId, t.personId],
      foreignColumns: [membership.workspaceId, membership.personId],
    }).onDelete('cascade'),
  ],
);

/** What was done that is no change of a plan: who came, who was refused, what was taken out. */
export const auditEvent = pgTable(
  'audit_event',
  {
    id: bigint({ mode: 'number' }).primaryKey().generatedAlwaysAsIdentity(),
    at: timestamp({ withTimezone: true }).notNull().defaultNow(),
    kind: text({ enum: AUDIT_KINDS }).notNull(),
    personId: integer().references(() => person.id),
    /** Null for what belongs to a person and to no workspace. */
    workspaceId: integer(),
    address: text().notNull().default(''),
    detail: text().notNull().default(''),
  },
  (t) => [index().on(t.workspaceId, t.id), index().on(t.personId, t.id), index().on(t.at)],
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
  (t) => [index().on(t.expire), index('session_person').on(sql`(sess ->> 'personId')`)],
);

/** Counts failed sign-ins, in the form the rate limiter expects; shared by all server processes. */
export const signInThrottle = pgTable('sign_in_throttle', {
  key: varchar({ length: 255 }).primaryKey(),
  points: integer().notNull().default(0),
  expire: bigint({ mode: 'number' }),
});
