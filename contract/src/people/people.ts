import { z } from 'zod';
import { createdSchema, dateSchema, idSchema, localeSchema, nameSchema } from '../common.ts';
import { operations, type Access } from '../operation.ts';

/**
 * What a person may do in a workspace. An owner plans and says who may enter; a planner reads and
 * writes all of the plan, a reader reads it. A manager sees and divides the own part of the
 * targets, a contributor sees it; both fill in the budget sheets that are handed out to them, and
 * neither sees anything else.
 */
export const ROLES = ['owner', 'planner', 'manager', 'contributor', 'reader'] as const;
export const roleSchema = z.enum(ROLES);
export type Role = z.infer<typeof roleSchema>;

/** Whether a role reads and writes all of the plan. */
export const plansIn = (role: Role | undefined): boolean => role === 'owner' || role === 'planner';
/** Whether a role reads all of the plan. */
export const readsAllOf = (role: Role | undefined): boolean => plansIn(role) || role === 'reader';
/** Whether a role holds a part of the targets. */
export const holdsPart = (role: Role | undefined): boolean =>
  role === 'manager' || role === 'contributor';

/**
 * What each role may: who is let in at a route by what the route is for. What somebody has a part of
 * is looked at more closely where it is done: which targets, and whose sheets.
 */
export const MAY: Readonly<
  Record<Exclude<Access, 'anybody' | 'signedIn' | 'reports'>, readonly Role[]>
> = {
  part: ROLES,
  reads: ROLES.filter(readsAllOf),
  plans: ROLES.filter(plansIn),
  owns: ['owner'],
};

/** The nodes of target trees that somebody holds, with what lies below them. */
const partsSchema = z.array(idSchema).max(200);

export const signInSchema = z.strictObject({
  email: z.string().trim().min(1).max(200),
  password: z.string().min(1).max(500),
  /** Of somebody with a second factor: its code of this half minute, or a recovery code. */
  code: z.string().trim().max(40).optional(),
});

const passwordSchema = z.string().min(10, 'a password has at least 10 characters').max(500);

export const newPersonSchema = z.strictObject({
  email: z.email('this is not an e-mail address').max(200),
  name: nameSchema,
  password: passwordSchema,
  role: roleSchema,
});
export type NewPerson = z.infer<typeof newPersonSchema>;

/** Somebody who is invited: they choose their own password by a link. */
export const invitedSchema = newPersonSchema
  .omit({ password: true })
  .extend({ parts: partsSchema.optional() });
export type Invited = z.infer<typeof invitedSchema>;

/** Part of a link by which somebody chooses a password; it is shown once and works once. */
export const passwordLinkSchema = z.object({ token: z.string(), expiresAt: z.string() });
export type PasswordLink = z.infer<typeof passwordLinkSchema>;
const tokenSchema = z.string().min(10).max(200);

/** What a person prefers, on whatever machine; what is left out is as the workspace has it. */
export const preferencesSchema = z.strictObject({
  theme: z.enum(['light', 'dark', 'system']).optional(),
  /** How numbers and dates are written: a locale. */
  locale: localeSchema.optional(),
  /** The unit in which money is shown at first. */
  unit: z.union([z.literal(1), z.literal(1000), z.literal(1_000_000)]).optional(),
  /** The room that is shown first. */
  firstRoom: z.string().max(20).optional(),
  /** Whether the tour was seen or skipped. */
  toured: z.boolean().optional(),
});
export type Preferences = z.infer<typeof preferencesSchema>;

/** What of a table is remembered by its name; more than anybody turns by hand. */
const MOST_REMEMBERED = 2000;
const rememberedKey = z.string().min(1).max(200);
const fewerThan = (record: object): boolean => Object.keys(record).length <= MOST_REMEMBERED;
const tooMany = `at most ${MOST_REMEMBERED} are remembered`;

/** How a person has laid out tables: widths of columns in px, and rows that were opened or folded. */
export const layoutSchema = z.strictObject({
  widths: z.record(rememberedKey, z.number().min(20).max(2000)).refine(fewerThan, tooMany),
  folded: z
    .record(rememberedKey, z.array(z.string().max(200)).max(MOST_REMEMBERED))
    .refine(fewerThan, tooMany),
});
export type Layout = z.infer<typeof layoutSchema>;

/** Who is signed in, and the token that every write has to bring in `x-csrf-token`. */
export const sessionSchema = z.object({
  person: z.object({ id: idSchema, name: z.string(), email: z.string() }),
  csrfToken: z.string(),
  layout: layoutSchema,
  preferences: preferencesSchema,
  /** Whether signing in takes a code as well. */
  secondFactor: z.boolean(),
  /** Whether they may make a workspace here. */
  makesWorkspaces: z.boolean(),
  workspaces: z.array(
    z.object({
      ...{ id: idSchema, name: z.string(), role: roleSchema },
      /** Whether the workspace asks for a second factor, and they have none: it stays closed. */
      closed: z.boolean(),
    }),
  ),
});
export type Session = z.infer<typeof sessionSchema>;

/** One browser in which a person is signed in. */
export const ownSessionSchema = z.object({
  /** Its name; not what it is known by to the server. */
  id: z.string(),
  signedInAt: z.string(),
  /** To the minute. */
  seenAt: z.string(),
  browser: z.string(),
  /** Whether it is the one that asks. */
  own: z.boolean(),
});
export type OwnSession = z.infer<typeof ownSessionSchema>;

/** A second factor that is being set up: its secret is shown once. */
export const newFactorSchema = z.object({
  secret: z.string(),
  /** What an authenticator reads as a QR code. */
  uri: z.string(),
});
export type NewFactor = z.infer<typeof newFactorSchema>;
const codeOfFactor = z.string().trim().min(6, 'a code has six digits').max(40);

/** What is asked of whoever enters a workspace. */
export const entryRulesSchema = z.strictObject({ secondFactor: z.boolean() });
export type EntryRules = z.infer<typeof entryRulesSchema>;

/** What the audit log holds. */
export const AUDIT_KINDS = [
  ...(['signedIn', 'signInFailed', 'signedOut', 'sessionEnded'] as const),
  ...(['passwordChanged', 'passwordLinkMade', 'passwordChosen'] as const),
  ...(['secondFactorOn', 'secondFactorOff', 'recoveryCodeUsed'] as const),
  ...(['invited', 'roleChanged', 'removed', 'entryRules'] as const),
  ...(['tokenMade', 'tokenWithdrawn', 'exported', 'refused'] as const),
] as const;
export type AuditKind = (typeof AUDIT_KINDS)[number];
export const auditEventSchema = z.object({
  id: z.number(),
  at: z.string(),
  kind: z.enum(AUDIT_KINDS),
  /** Whose act it was; empty for nobody who is known. */
  person: z.string(),
  email: z.string(),
  /** From where, as far as the server and its proxies can tell. */
  address: z.string(),
  detail: z.string(),
});
export type AuditEvent = z.infer<typeof auditEventSchema>;
const auditQuerySchema = z.strictObject({
  kind: z.enum(AUDIT_KINDS).optional(),
  person: z.string().max(200).optional(),
  from: dateSchema.optional(),
  to: dateSchema.optional(),
  before: z.coerce.number().int().min(1).max(Number.MAX_SAFE_INTEGER).optional(),
  limit: z.coerce.number().int().min(1).max(500).default(100),
});
export type AuditQuery = z.output<typeof auditQuerySchema>;

/** Somebody who may enter a workspace. */
export const workspacePersonSchema = z.object({
  id: idSchema,
  name: z.string(),
  email: z.string(),
  role: roleSchema,
  parts: partsSchema,
  /** Whether they were invited and have not come yet. */
  invited: z.boolean(),
  /** Whether signing in takes them a code as well. */
  secondFactor: z.boolean(),
});
export type WorkspacePerson = z.infer<typeof workspacePersonSchema>;

export const sessionOperations = operations({
  signIn: {
    method: 'post',
    path: '/session',
    summary: 'Signs in; the answer holds the token that every write has to bring',
    access: 'anybody',
    body: signInSchema,
    answer: sessionSchema,
  },
  readSession: {
    method: 'get',
    path: '/session',
    summary: 'Who is signed in',
    access: 'signedIn',
    answer: sessionSchema,
  },
  keepLayout: {
    method: 'put',
    path: '/session/layout',
    summary: 'Remembers how the signed-in person has laid out tables',
    access: 'signedIn',
    body: layoutSchema,
  },
  keepPreferences: {
    method: 'put',
    path: '/session/preferences',
    summary: 'Remembers what the signed-in person prefers',
    access: 'signedIn',
    body: preferencesSchema,
  },
  changePassword: {
    method: 'put',
    path: '/session/password',
    summary: 'Changes one’s own password; one’s other sessions end',
    access: 'signedIn',
    body: z.strictObject({ password: z.string().min(1).max(500), next: passwordSchema }),
  },
  readPasswordLink: {
    method: 'post',
    path: '/password-link',
    summary: 'Whose password a link chooses',
    access: 'anybody',
    body: z.strictObject({ token: tokenSchema }),
    answer: z.object({ name: z.string(), email: z.string() }),
  },
  choosePassword: {
    method: 'put',
    path: '/password-link',
    summary: 'Chooses a password by a link, once; all sessions of the person end',
    access: 'anybody',
    body: z.strictObject({ token: tokenSchema, password: passwordSchema }),
  },
  listSessions: {
    method: 'get',
    path: '/sessions',
    summary: 'In which browsers one is signed in',
    access: 'signedIn',
    answer: z.array(ownSessionSchema),
  },
  endSession: {
    method: 'delete',
    path: '/sessions/{session}',
    summary: 'Signs oneself out of another browser; `others` is all but this one',
    access: 'signedIn',
  },
  beginSecondFactor: {
    method: 'post',
    path: '/session/second-factor',
    summary: 'Begins to set up a second factor: its secret, which is shown once',
    access: 'signedIn',
    body: z.strictObject({ password: z.string().min(1).max(500) }),
    answer: newFactorSchema,
  },
  confirmSecondFactor: {
    method: 'put',
    path: '/session/second-factor',
    summary: 'Confirms a second factor by a code of it; answers with recovery codes, once',
    access: 'signedIn',
    body: z.strictObject({ code: codeOfFactor }),
    answer: z.object({ codes: z.array(z.string()) }),
  },
  dropSecondFactor: {
    method: 'post',
    path: '/session/second-factor/off',
    summary: 'Takes the second factor away',
    access: 'signedIn',
    body: z.strictObject({ password: z.string().min(1).max(500), code: codeOfFactor }),
  },
  signOut: {
    method: 'delete',
    path: '/session',
    summary: 'Signs out',
    access: 'signedIn',
  },
});

export const peopleOperations = operations({
  listPeople: {
    method: 'get',
    path: '/workspaces/{workspaceId}/people',
    summary: 'Who may enter the workspace',
    access: 'reads',
    answer: z.array(workspacePersonSchema),
  },
  addPerson: {
    method: 'post',
    path: '/workspaces/{workspaceId}/people',
    summary: 'Brings a new person into the workspace',
    access: 'owns',
    body: newPersonSchema,
    answer: createdSchema,
    status: 201,
  },
  invitePerson: {
    method: 'post',
    path: '/workspaces/{workspaceId}/people/invited',
    summary:
      'Lets somebody into the workspace; whoever is new gets a link by which they choose a password',
    access: 'owns',
    body: invitedSchema,
    answer: createdSchema.extend({ link: passwordLinkSchema }),
    status: 201,
  },
  changeRole: {
    method: 'patch',
    path: '/workspaces/{workspaceId}/people/{personId}',
    summary: 'Gives somebody another role, or another part of the targets',
    access: 'owns',
    /** Without parts a manager keeps those that are held; other roles have none. */
    body: z.strictObject({ role: roleSchema, parts: partsSchema.optional() }),
  },
  removePerson: {
    method: 'delete',
    path: '/workspaces/{workspaceId}/people/{personId}',
    summary: 'Takes somebody out of the workspace',
    access: 'owns',
  },
  resetPassword: {
    method: 'post',
    path: '/workspaces/{workspaceId}/people/{personId}/password-link',
    summary: 'Makes a link by which somebody chooses a new password',
    access: 'owns',
    answer: passwordLinkSchema,
    status: 201,
  },
  takeSecondFactor: {
    method: 'delete',
    path: '/workspaces/{workspaceId}/people/{personId}/second-factor',
    summary: 'Takes away the second factor of somebody who lost it',
    access: 'owns',
  },
  readEntryRules: {
    method: 'get',
    path: '/workspaces/{workspaceId}/entry-rules',
    summary: 'What is asked of whoever enters the workspace',
    access: 'reads',
    answer: entryRulesSchema,
  },
  setEntryRules: {
    method: 'put',
    path: '/workspaces/{workspaceId}/entry-rules',
    summary: 'Says whether whoever enters the workspace needs a second factor',
    access: 'owns',
    body: entryRulesSchema,
  },
  readAudit: {
    method: 'get',
    path: '/workspaces/{workspaceId}/audit',
    summary:
      'Who came, who was refused, what was made and taken out: of the people of the workspace',
    access: 'owns',
    query: auditQuerySchema,
    answer: z.array(auditEventSchema),
  },
  saveAudit: {
    method: 'get',
    path: '/workspaces/{workspaceId}/audit.csv',
    summary: 'The same as a CSV, up to 50,000 events',
    access: 'owns',
    query: auditQuerySchema,
    writes: 'text/csv',
  },
});
