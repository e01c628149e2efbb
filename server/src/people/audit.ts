/** The audit log: who came, who was refused, who may enter, what was made and taken out. */
import type { AuditEvent, AuditKind, AuditQuery } from '@dravex/contract';
import { and, desc, eq, gte, ilike, inArray, isNull, lt, or, sql, type SQL } from 'drizzle-orm';
import type { Request, RequestHandler } from 'express';
import type { Logger } from 'pino';
import type { Connections, Database } from '../platform/database.ts';
import { auditEvent, membership, person } from './tables.ts';

/** An event as it is told. */
export interface Told {
  readonly kind: AuditKind;
  readonly personId?: number | undefined;
  readonly workspaceId?: number | undefined;
  readonly detail?: string | undefined;
}

const LONGEST_DETAIL = 300;
/** How long events are kept. */
const KEPT = '400 days';

/** Writes an event down, with where it came from. */
export async function tell(
  { db }: { readonly db: Database },
  request: Pick<Request, 'ip'>,
  { kind, personId, workspaceId, detail = '' }: Told,
): Promise<void> {
  await db.insert(auditEvent).values({
    kind,
    personId: personId ?? null,
    workspaceId: workspaceId ?? null,
    address: request.ip ?? '',
    detail: detail.slice(0, LONGEST_DETAIL),
  });
}

/** Forgets what is older than anybody asks for. */
export async function dropOldEvents(db: Database): Promise<void> {
  await db.delete(auditEvent).where(lt(auditEvent.at, sql`now() - ${KEPT}::interval`));
}

/** Events of a workspace, and of its people what belongs to no workspace; the newest first. */
export async function auditOf(
  { db }: Connections,
  workspaceId: number,
  { kind, person: name, from, to, before, limit }: AuditQuery,
): Promise<AuditEvent[]> {
  const people = db
    .select({ id: membership.personId })
    .from(membership)
    .where(eq(membership.workspaceId, workspaceId));
  const wanted: (SQL | undefined)[] = [
    or(
      eq(auditEvent.workspaceId, workspaceId),
      and(isNull(auditEvent.workspaceId), inArray(auditEvent.personId, people)),
    ),
  ];
  if (kind) wanted.push(eq(auditEvent.kind, kind));
  if (from) wanted.push(gte(auditEvent.at, sql`${from}::date`));
  if (to) wanted.push(lt(auditEvent.at, sql`${to}::date + 1`));
  if (before) wanted.push(lt(auditEvent.id, before));
  if (name) {
    const like = `%${name.replaceAll(/[\\%_]/g, (sign) => `\\${sign}`)}%`;
    wanted.push(or(ilike(person.name, like), ilike(person.email, like)));
  }
  const rows = await db
    .select({ event: auditEvent, name: person.name, email: person.email })
    .from(auditEvent)
    .leftJoin(person, eq(person.id, auditEvent.personId))
    .where(and(...wanted))
    .orderBy(desc(auditEvent.id))
    .limit(limit);
  return rows.map(({ event, name: who, email }) => ({
    id: event.id,
    at: event.at.toISOString(),
    kind: event.kind,
    person: who ?? '',
    email: email ?? '',
    address: event.address,
    detail: event.detail,
  }));
}

/** What a request asked for, as the route says, and who asked. */
interface Asked {
  readonly asked?: { readonly name: string; readonly writes?: string };
  readonly actor?: { readonly personId: number; readonly workspaceId: number };
}

/** Operations that are told though they answer with JSON: a token is made, or withdrawn. */
const TOLD: Readonly<Record<string, AuditKind>> = {
  makeToken: 'tokenMade',
  withdrawToken: 'tokenWithdrawn',
  savePlanFile: 'exported',
  saveShownTable: 'exported',
};

function kindOf({ asked }: Asked, status: number): AuditKind | undefined {
  if (!asked) return undefined;
  if (status === 403) return 'refused';
  if (status >= 400) return undefined;
  if (asked.writes !== undefined && asked.writes !== 'text/event-stream') return 'exported';
  return TOLD[asked.name];
}

/** Tells what was taken out, which tokens were made, and who was refused. */
export function auditing(connections: Connections, log: Logger): RequestHandler {
  return (request, response, next) => {
    response.once('finish', () => {
      const locals = response.locals as Asked;
      const kind = kindOf(locals, response.statusCode);
      const { asked, actor } = locals;
      const personId = actor?.personId ?? request.session?.personId;
      if (!kind || personId === undefined) return;
      // A page of a report after the first is part of the same.
      if (asked?.name === 'readReport' && request.query['after'] !== undefined) return;
      const detail = `${asked?.name ?? ''} ${request.path}`;
      tell(connections, request, { kind, personId, workspaceId: actor?.workspaceId, detail }).catch(
        (error: unknown) => log.warn({ error }, 'the audit log was not written'),
      );
    });
    next();
  };
}
