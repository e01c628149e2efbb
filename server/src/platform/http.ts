import type { NextFunction, Request, RequestHandler, Response } from 'express';
import type { Logger } from 'pino';
import { isForNobody } from './who-waits.ts';
import type { ZodType } from 'zod';
import {
  badRequest,
  diskFull,
  HttpProblem,
  isBeyondColumn,
  isBusy,
  isDiskFull,
  isUnreachable,
} from './errors.ts';

/** Reads a body or query by its schema. @throws HttpProblem 400 that names every mistake with its path */
export function read<T>(schema: ZodType<T>, input: unknown): T {
  const result = schema.safeParse(input ?? {});
  const mistakes = result.success ? textsNotKept(input) : result.error.issues;
  if (result.success && mistakes.length === 0) return result.data;
  const errors = mistakes
    .slice(0, 100)
    .map(({ path, message }) => ({ path: path.map(String).join('.'), message }));
  const [first] = errors;
  throw badRequest(
    first ? `${first.path ? `${first.path}: ` : ''}${first.message}` : 'unreadable',
    errors,
  );
}

/** What no database keeps as text: a NUL, and half of a character. */
const NOT_KEPT = /[\0\p{Surrogate}]/u;

interface Mistake {
  readonly path: readonly PropertyKey[];
  readonly message: string;
}

/** Texts of a request, wherever they stand in it, that could not be kept as they are. */
function textsNotKept(value: unknown): Mistake[] {
  const found: Mistake[] = [];
  const path: PropertyKey[] = [];
  const look = (part: unknown): void => {
    if (typeof part === 'string') {
      const message = 'a text holds whole characters and no NUL';
      if (NOT_KEPT.test(part)) found.push({ path: [...path], message });
    } else if (typeof part === 'object' && part !== null) {
      for (const key in part) {
        look(key);
        path.push(key);
        look((part as Record<string, unknown>)[key]);
        path.pop();
      }
    }
  };
  look(value);
  return found;
}

/** Reads a text from the address. @throws HttpProblem 400 for one that could be no name */
export function readName(request: Request, name: string): string {
  const text = String(request.params[name]);
  if (NOT_KEPT.test(text)) {
    throw badRequest(`${name} holds characters that no name has`, [
      { path: name, message: 'holds characters that no name has' },
    ]);
  }
  return text;
}

/** Reads an id from the address. @throws HttpProblem 400 when it is none */
export function readId(request: Request, name: string): number {
  const id = Number(request.params[name]);
  if (!Number.isSafeInteger(id) || id < 1 || id > 2_147_483_647) {
    throw badRequest(`${name} is not an id`, [{ path: name, message: 'not an id' }]);
  }
  return id;
}

/** The per-response nonce of the content policy. */
export function nonceOf(response: Response): string {
  return (response.locals as { nonce: string }).nonce;
}

/** Answers 404 as a problem for an address of the API that is not there. */
export const noSuchRoute: RequestHandler = (request) => {
  throw new HttpProblem(404, 'Not found', `There is no ${request.method} ${request.path}`);
};

function isClientError(error: unknown): error is Error & { status: number; type?: string } {
  return (
    error instanceof Error &&
    'status' in error &&
    typeof error.status === 'number' &&
    error.status >= 400 &&
    error.status < 500
  );
}

const BODY_FAULTS: Readonly<Record<string, string>> = {
  'entity.parse.failed': 'The body is not JSON',
  'entity.too.large': 'The body is larger than is accepted',
  'encoding.unsupported': 'The body is in an encoding that is not accepted',
  'charset.unsupported': 'The body is in a character set that is not accepted',
};

/** What somebody asked for is theirs: nothing between them and the server keeps it. */
export const personal: RequestHandler = (_request, response, next) => {
  response.set('cache-control', 'no-store');
  next();
};

/** The id by which a request stands in the log; whoever asks can give it. */
export function requestIdOf(response: Response): string | undefined {
  const id = response.getHeader('x-request-id');
  return typeof id === 'string' ? id : undefined;
}

/** Answers with a problem. */
export function sendProblem(response: Response, problem: HttpProblem): void {
  const requestId = requestIdOf(response);
  response
    .status(problem.status)
    .type('application/problem+json')
    .json({
      type: 'about:blank',
      title: problem.title,
      status: problem.status,
      detail: problem.message,
      ...(problem.errors.length > 0 ? { errors: problem.errors } : {}),
      ...(problem.conflicts.length > 0 ? { conflicts: problem.conflicts } : {}),
      ...(problem.asks ? { asks: problem.asks } : {}),
      ...(requestId === undefined ? {} : { requestId }),
    });
}

/** Turns whatever was thrown into `application/problem+json`; only what is unexpected is logged as an error. */
export function problemHandler(log: Logger) {
  // Express knows an error handler by its four parameters.
  return (error: unknown, request: Request, response: Response, _next: NextFunction): void => {
    if (response.headersSent) {
      // Half of an answer is cut off, so that nobody takes it for the whole.
      if (!response.destroyed && !response.writableEnded) {
        log.error({ error, requestId: requestIdOf(response) }, 'an answer broke off');
        response.destroy();
      }
      return;
    }
    if (isForNobody(error)) {
      response.destroy();
      return;
    }
    let problem: HttpProblem;
    if (error instanceof HttpProblem) {
      problem = error;
      // Who asks for what is not theirs is written down.
      if (error.status === 403) {
        const { actor } = response.locals as { actor?: { personId: number; role: string } };
        const who = actor && { person: actor.personId, role: actor.role };
        log.warn({ ...who, method: request.method, path: request.path }, 'refused: not theirs');
      }
    } else if (isClientError(error)) {
      const detail = BODY_FAULTS[error.type ?? ''] ?? 'The request cannot be read';
      problem = new HttpProblem(error.status, 'This cannot be read', detail);
    } else if (isBusy(error)) {
      response.set('retry-after', '2');
      problem = new HttpProblem(
        503,
        'Busy',
        'Somebody else is writing here, and it takes longer than you should wait; nothing was changed. Try again in a moment',
      );
    } else if (isBeyondColumn(error)) {
      // The contract should have said so, with its place.
      log.warn({ error, requestId: requestIdOf(response) }, 'a value went beyond its column');
      problem = badRequest('A number or a text is beyond what can be kept; nothing was changed');
    } else if (isDiskFull(error)) {
      log.error({ error, requestId: requestIdOf(response) }, 'a disk is full');
      problem = diskFull();
    } else if (isUnreachable(error)) {
      log.error({ error, requestId: requestIdOf(response) }, 'the database cannot be reached');
      problem = new HttpProblem(
        503,
        'Not ready',
        'The database cannot be reached; nothing was changed. Try again in a moment',
      );
    } else {
      const requestId = requestIdOf(response);
      log.error({ error, requestId }, 'unexpected failure');
      problem = new HttpProblem(
        500,
        'Something failed on our side',
        `Nothing was changed. Try again; if it stays, the log of the server names the cause under ${requestId ?? 'this time'}`,
      );
    }
    sendProblem(response, problem);
  };
}
