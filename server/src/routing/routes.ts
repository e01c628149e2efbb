import { createHash } from 'node:crypto';
import type { Operation } from '@dravex/contract';
import { raw, Router, type Request, type RequestHandler, type Response } from 'express';
import type { z } from 'zod';
import { mustOwn, mustPlan, mustReadAll, type Actor, type Right } from '../people/actor.ts';
import { csrfGuard, signedIn, workspaceGuard } from '../people/session.ts';
import { tokenGuard } from '../reporting/guard.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest, HttpProblem } from '../platform/errors.ts';
import { read, readId, readName } from '../platform/http.ts';
import type { RequestKey } from '../platform/request-key.ts';
import { readBody } from './json-body.ts';
import { hearsSender, limitOf, mayBeSent, receiveFile } from './receive.ts';

type Schema<O, K extends 'query' | 'body'> = O extends {
  readonly [P in K]: infer S extends z.ZodType;
}
  ? z.output<S>
  : undefined;

/** A request that was understood: who asks for what. */
export interface Ask<O extends Operation> {
  /** Of an operation in a workspace. */
  readonly actor: Actor;
  /** Who is signed in. */
  readonly personId: number;
  readonly query: Schema<O, 'query'>;
  readonly body: Schema<O, 'body'>;
  /** The bytes of a file that was sent, of an operation that takes it whole. */
  readonly file: Buffer;
  /** The same from the disk, of an operation that reads a stream. */
  readonly chunks: AsyncIterable<Buffer>;
  readonly requestKey: RequestKey | undefined;
  /** A number of the address, such as `versionId`. */
  id(name: string): number;
  /** A text of the address, such as `driver`. */
  name(name: string): string;
  readonly request: Request;
  readonly response: Response;
}

/** What may be answered: what is only read need not be copied first. */
type Deep<T> = T extends object ? { readonly [K in keyof T]: Deep<T[K]> } : T;
type Answer<O> = O extends { readonly answer: infer S extends z.ZodType } ? Deep<z.input<S>> : void;
type Handler<O extends Operation> = (ask: Ask<O>) => Promise<Answer<O>>;
type Handlers<T extends Readonly<Record<string, Operation>>> = {
  readonly [K in keyof T]: Handler<T[K]>;
};

const KEY = /^[\x21-\x7e]{8,100}$/;

/** Reads the key that a client gives a write so that it can send it again. */
function requestKeyOf(request: Request, sent: Buffer): RequestKey | undefined {
  const key = request.get('idempotency-key');
  if (key === undefined) return undefined;
  if (!KEY.test(key)) {
    throw badRequest('An idempotency key has 8 to 100 printable characters without spaces');
  }
  const size = request.get('content-length') ?? '';
  const hash = createHash('sha256').update(`${request.method} ${request.originalUrl} ${size}\n`);
  hash.update(sent);
  return { key, fingerprint: hash.digest('hex') };
}

/** Who acts in the workspace of this address; set by the guard before every workspace route. */
function actorOf(response: Response): Actor {
  return (response.locals as { actor: Actor }).actor;
}

/** What is asked of whoever is in the workspace; of a part the service itself says which. */
const RIGHTS: Partial<Record<Operation['access'], Right>> = {
  reads: mustReadAll,
  plans: mustPlan,
  owns: mustOwn,
};

/** Who is let in before a body is even read. */
function guardsOf({ access, method }: Operation, connections: Connections): RequestHandler[] {
  if (access === 'anybody') return [];
  if (access === 'reports') return [tokenGuard(connections)];
  const guards: RequestHandler[] = [];
  if (method !== 'get') guards.push(csrfGuard);
  if (access === 'signedIn') {
    guards.push((request, _response, next) => {
      signedIn(request);
      next();
    });
  } else guards.push(workspaceGuard(connections));
  const right = RIGHTS[access];
  if (right) {
    guards.push((_request, response, next) => {
      right(actorOf(response));
      next();
    });
  }
  return guards;
}

/**
 * A form of another page can send what looks like JSON, but never calls it so: without this somebody
 * could be signed in as somebody else, and type into a workspace that is not their own.
 */
const mustBeJson: RequestHandler = (request, _response, next) => {
  // Null stands for no body at all; the schema says whether one is needed.
  if (request.is(['json', '+json']) === false) {
    throw new HttpProblem(
      415,
      'This cannot be read',
      'Send JSON, and say so: content-type: application/json',
    );
  }
  next();
};

function bodyReader(operation: Operation): RequestHandler[] {
  if (operation.file) return [mayBeSent(operation), hearsSender()];
  if (!operation.body) return [];
  const limit = limitOf(operation).bytes;
  return [mustBeJson, mayBeSent(operation), hearsSender(), raw({ limit, type: () => true })];
}

/** `/versions/{versionId}` as the router has it, `/versions/:versionId`. */
function routePath(path: string): string {
  return path.replaceAll(/\{(\w+)\}/g, ':$1');
}

/**
 * Makes the routes of a room from what the contract says of its operations: who may, what is read,
 * what is answered. There is no other way to make a route of the API.
 */
export function routesOf<const T extends Readonly<Record<string, Operation>>>(
  connections: Connections,
  described: T,
  handlers: Handlers<T>,
): Router {
  const router = Router();
  for (const name of Object.keys(described) as (keyof T & string)[]) {
    const operation: Operation = described[name] as Operation;
    const handler = handlers[name] as unknown as Handler<Operation>;
    router[operation.method](
      routePath(operation.path),
      (_request, response, next) => {
        // What was asked for is told in the audit log, where it belongs there.
        response.locals['asked'] = { name, writes: operation.writes };
        next();
      },
      ...guardsOf(operation, connections),
      ...bodyReader(operation),
      async (request, response) => {
        const query = queryOf(operation, request);
        const sent = operation.file ? await receiveFile(request, operation) : undefined;
        let answer: unknown;
        try {
          const whole = operation.file?.streamed ? undefined : await sent?.whole();
          const ask = await askOf(name, operation, query, request, response, whole);
          answer = await handler(sent ? { ...ask, chunks: sent.chunks() } : ask);
        } finally {
          await sent?.drop();
        }
        if (operation.writes) return;
        if (operation.answer) response.status(operation.status ?? 200).json(answer);
        else response.status(operation.status ?? 204).end();
      },
    );
  }
  return router;
}

/** What an address asks, before anything that is sent is read. @throws HttpProblem 400 */
function queryOf({ query }: Operation, request: Request): unknown {
  try {
    return query ? read(query, request.query) : undefined;
  } catch (error) {
    // Whoever still sends a file hears the reason, and not a broken connection.
    request.resume();
    throw error;
  }
}

const NO_FILE: Buffer = Buffer.alloc(0);

async function* nothing(): AsyncGenerator<Buffer> {
  // An operation without a file.
}

async function askOf(
  name: string,
  operation: Operation,
  query: unknown,
  request: Request,
  response: Response,
  file = NO_FILE,
): Promise<Ask<Operation>> {
  const { body, access, method } = operation;
  const keyed = method !== 'get' && access !== 'anybody';
  const sent = Buffer.isBuffer(request.body) ? request.body : NO_FILE;
  const requestKey = keyed ? requestKeyOf(request, file.length > 0 ? file : sent) : undefined;
  const knownActor = (response.locals as { actor?: Actor }).actor;
  const actor = knownActor && requestKey ? { ...knownActor, requestKey } : knownActor;
  return {
    // Operations outside workspaces have no actor, and their handlers do not ask for one.
    actor,
    personId:
      access === 'anybody' ? 0 : access === 'reports' ? knownActor?.personId : signedIn(request),
    query,
    body: body ? await readBody(name, body, sent) : undefined,
    file,
    chunks: nothing(),
    requestKey,
    id: (name) => readId(request, name),
    name: (name) => readName(request, name),
    request,
    response,
  } as Ask<Operation>;
}
