import type { AskedRecord, Conflict, FieldError } from '@dravex/contract';
import type { Problem } from '@dravex/core';

/** An answer that is not success: what happened, where, and what to do. */
export class HttpProblem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    detail: string,
    readonly errors: readonly FieldError[] = [],
    readonly conflicts: readonly Conflict[] = [],
    readonly asks?: AskedRecord,
  ) {
    super(detail);
    this.name = 'HttpProblem';
  }
}

/** 400: the request cannot be understood or breaks a rule; each mistake with its place. */
export function badRequest(detail: string, errors: readonly FieldError[] = []): HttpProblem {
  return new HttpProblem(400, 'This cannot be accepted', detail, errors);
}

/** 400 from problems of the core. */
export function badPlan(problems: readonly (Problem & { path?: string })[]): HttpProblem {
  const errors = problems.slice(0, 100).map(({ message, where, path }) => ({
    path: path ?? String(where['field'] ?? ''),
    message,
  }));
  const more = problems.length > 1 ? ` (and ${problems.length - 1} more)` : '';
  return badRequest(`${errors[0]?.message ?? 'This cannot be used'}${more}`, errors);
}

/** 413: more was sent than is taken. */
export function tooLarge(said: string): HttpProblem {
  return new HttpProblem(413, 'This is too large', said);
}

/** 507: there is no room on the disk of the server. */
export function diskFull(): HttpProblem {
  return new HttpProblem(
    507,
    'The disk is full',
    'The server has no room left on its disk; nothing was changed. Whoever runs it has to make room, then send it again',
  );
}

/** 404, also for what belongs to another workspace: whoever may not see it learns nothing of it. */
export function notFound(what: string): HttpProblem {
  return new HttpProblem(404, 'Not found', `There is no ${what} here`);
}

/** 403: signed in, but the role does not allow it. */
export function forbidden(detail: string): HttpProblem {
  return new HttpProblem(403, 'Your role does not allow this', detail);
}

/** 409: it clashes with what is there now. */
export function conflict(detail: string, path?: string): HttpProblem {
  return new HttpProblem(
    409,
    'This clashes with what is there',
    detail,
    path === undefined ? [] : [{ path, message: detail }],
  );
}

/** 409: cells that somebody else changed meanwhile, each with what it is now. */
export function changedMeanwhile(conflicts: readonly Conflict[]): HttpProblem {
  const [first] = conflicts;
  const more = conflicts.length > 1 ? ` (and ${conflicts.length - 1} more cells)` : '';
  return new HttpProblem(
    409,
    'Changed by somebody else',
    `${first?.by || 'Somebody'} changed this meanwhile${more}; nothing was overwritten`,
    [],
    conflicts,
  );
}

/** 409: it would reach what is not in sight; it says what, and can be asked for by itself. */
export function outOfSight(asks: AskedRecord, done: string): HttpProblem {
  return new HttpProblem(
    409,
    'This is not in sight',
    `“${asks.what}” in ${asks.room} would be ${done}; nothing was changed`,
    [],
    [],
    asks,
  );
}

/** The code of a database or network error, also inside what wraps it. */
export function codeOf(error: unknown): string {
  const cause = error instanceof Error && error.cause !== undefined ? error.cause : error;
  return typeof cause === 'object' && cause !== null && 'code' in cause ? String(cause.code) : '';
}

/** Whether a database error is a broken unique constraint. */
export function isTaken(error: unknown): boolean {
  return codeOf(error) === '23505';
}

/** Whether a database error is a row that others still refer to. */
export function isReferenced(error: unknown): boolean {
  return codeOf(error) === '23503';
}

/** The database is gone, going, or not ready yet: by its own codes and those of the network. */
const GONE = /^(57P0[123]|08\d\d\d|ECONNREFUSED|ECONNRESET|EPIPE)$/;

/** Whether an error says that others were before it for too long: a lock, or a free connection. */
export function isBusy(error: unknown): boolean {
  if (codeOf(error) === '55P03') return true;
  const cause = error instanceof Error && error.cause instanceof Error ? error.cause : error;
  return cause instanceof Error && /timeout exceeded when trying to connect/.test(cause.message);
}

/** Whether an error says that the database cannot be reached now. */
export function isUnreachable(error: unknown): boolean {
  if (GONE.test(codeOf(error))) return true;
  const cause = error instanceof Error && error.cause instanceof Error ? error.cause : error;
  return cause instanceof Error && /^Connection terminated|is not queryable/.test(cause.message);
}

/** Whether an error says that a disk is full: the server's own, or that of the database. */
export function isDiskFull(error: unknown): boolean {
  return /^(ENOSPC|EDQUOT|53100)$/.test(codeOf(error));
}

/** Whether a database error says that nothing can be written there: it is a replica. */
export function isReadOnly(error: unknown): boolean {
  return codeOf(error) === '25006';
}

/** Whether a database error says that a number or a text is none that its column holds. */
export function isBeyondColumn(error: unknown): boolean {
  return /^(22003|22P02|22P05|22007|22008|22021)$/.test(codeOf(error));
}
