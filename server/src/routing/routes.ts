import { createHash } from 'node:crypto';
import type { Operation } from '@dravex/contract';
import { json, raw, Router, type Request, type RequestHandler, type Response } from 'express';
import type { z } from 'zod';
import { mustOwn, mustPlan, mustReadAll, type Actor, type Right } from '../people/actor.ts';
import { csrfGuard, signedIn, workspaceGuard } from '../people/session.ts';
import { tokenGuard } from '../reporting/guard.ts';
import type { Connections } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { read, readId, readName } from '../platform/http.ts';
import type { RequestKey } from '../platform/request-key.ts';

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
  /** The bytes of a file that was sent. */
  readonly file: Buffer;
  /** The same as they come, of an operation that reads a stream. */
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

const ORDINARY_BODY = '1mb';
const KEY = /^[\x21-\x7e]{8,100}$/;

/** Reads the key that a client gives a write so that it can send it again. */
function requestKeyOf(request: Request): RequestKey | undefined {
  const key = request.get('idempotency-key');
  if (key === undefined) return undefined;
  if (!KEY.test(key)) {
    throw badRequest('An idempotency key has 8 to 100 printable characters without spaces');
  }
  const body: unknown = request.body;
  const size = request.get('content-length') ?? '';
  const hash = createHash('sha256').update(`${request.method} ${request.originalUrl} ${size}\n`);
  hash.update(Buffer.isBuffer(body) ? body : JSON.stringify(body ?? null));
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

function bodyReader({ file, body, largest }: Operation): RequestHandler[] {
  if (file?.streamed) return [];
  if (file) return [raw({ type: () => true, limit: file.largest })];
  return body ? [json({ limit: largest ?? ORDINARY_BODY, type: () => true })] : [];
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
      ...guardsOf(operation, connections),
      ...bodyReader(operation),
      async (request, response) => {
        let answer: unknown;
        try {
          answer = await handler(askOf(operation, request, response));
        } finally {
          // What is left of a file that was refused is read and forgotten: whoever still sends it
          // hears the reason, and not a broken connection.
          if (operation.file?.streamed) request.resume();
        }
        if (operation.writes) return;
        if (operation.answer) response.status(operation.status ?? 200).json(answer);
        else response.status(operation.status ?? 204).end();
      },
    );
  }
  return router;
}

function askOf(operation: Operation, request: Request, response: Response): Ask<Operation> {
  const { file, query, body, access, method } = operation;
  const bytes: unknown = request.body;
  if (file && !file.streamed && !Buffer.isBuffer(bytes)) {
    throw badRequest('The file is empty; nothing was taken in');
  }
  const requestKey = method === 'get' || access === 'anybody' ? undefined : requestKeyOf(request);
  const knownActor = (response.locals as { actor?: Actor }).actor;
  const actor = knownActor && requestKey ? { ...knownActor, requestKey } : knownActor;
  return {
    // Operations outside workspaces have no actor, and their handlers do not ask for one.
    actor,
    personId:
      access === 'anybody' ? 0 : access === 'reports' ? knownActor?.personId : signedIn(request),
    query: query ? read(query, request.query) : undefined,
    body: body ? read(body, request.body) : undefined,
    file: Buffer.isBuffer(bytes) ? bytes : Buffer.alloc(0),
    chunks: request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>,
    requestKey,
    id: (name) => readId(request, name),
    name: (name) => readName(request, name),
    request,
    response,
  } as Ask<Operation>;
}
