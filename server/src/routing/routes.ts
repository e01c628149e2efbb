import { createHash, type Hash } from 'node:crypto';
import type { Operation } from '@dravex/contract';
import { raw, Router, type Request, type RequestHandler, type Response } from 'express';
import type { z } from 'zod';
import { mustOwn, mustPlan, mustReadAll, type Actor, type Right } from '../people/actor.ts';
import { csrfGuard, signedIn, workspaceGuard } from '../people/session.ts';
import { tokenGuard } from '../reporting/guard.ts';
import { readingUntil, type Connections } from '../platform/database.ts';
import { badRequest, HttpProblem } from '../platform/errors.ts';
import { read, readId, readName } from '../platform/http.ts';
import type { RequestKey } from '../platform/request-key.ts';
import { goneFrom } from '../platform/who-waits.ts';
import { readBody } from './json-body.ts';
import { hearsSender, limitOf, mayBeSent, receiveFile, type SentFile } from './receive.ts';

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
  /** Not of an operation that reads it apart. */
  readonly body: O extends { readonly apart: true } ? undefined : Schema<O, 'body'>;
  /** The bytes of a file that was sent, of an operation that takes it whole. */
  readonly file: Buffer;
  /** The same from the disk, of an operation that reads a stream. */
  readonly chunks: AsyncIterable<Buffer>;
  /** Where a body that is read apart lies on disk until this is answered. */
  readonly path: string;
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

/** The key of a write, and the hash of what it brings so far. */
interface KeyOfWrite {
  readonly key: string;
  readonly hash: Hash;
}

/** Reads the key that a client gives a write so that it can send it again. */
function keyOfWrite({ method, access }: Operation, request: Request): KeyOfWrite | undefined {
  if (method === 'get' || access === 'anybody') return undefined;
  const key = request.get('idempotency-key');
  if (key === undefined) return undefined;
  if (!KEY.test(key)) {
    throw badRequest('An idempotency key has 8 to 100 printable characters without spaces');
  }
  const size = request.get('content-length') ?? '';
  const hash = createHash('sha256').update(`${request.method} ${request.originalUrl} ${size}\n`);
  if (Buffer.isBuffer(request.body)) hash.update(request.body);
  return { key, hash };
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
  if (operation.apart) return [mustBeJson, mayBeSent(operation), hearsSender()];
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
 * @param handlersWith the handlers, from the connections that they use
 */
export function routesOf<const T extends Readonly<Record<string, Operation>>>(
  connections: Connections,
  described: T,
  handlersWith: (connections: Connections) => Handlers<T>,
): Router {
  const router = Router();
  const handlers = handlersWith(connections);
  for (const name of Object.keys(described) as (keyof T & string)[]) {
    const operation: Operation = described[name] as Operation;
    const handler = handlers[name] as unknown as Handler<Operation>;
    // What only reads has connections of its own: what it asks of the database ends with it.
    const handlerFor = (response: Response): Handler<Operation> => {
      if (!reads(operation)) return handler;
      const until = handlersWith(readingUntil(connections, goneFrom(response)));
      return until[name] as unknown as Handler<Operation>;
    };
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
        const { query, key } = asked(operation, request);
        const onDisk = operation.file ?? operation.apart;
        const see = (chunk: Buffer): void => void key?.hash.update(chunk);
        const sent = onDisk ? await receiveFile(request, operation, see) : undefined;
        let answer: unknown;
        try {
          const requestKey = key && { key: key.key, fingerprint: key.hash.digest('hex') };
          const ask = await askOf(name, operation, query, requestKey, request, response);
          const whole = sent ? { ...ask, ...(await handedOver(operation, sent)) } : ask;
          answer = await handlerFor(response)(whole);
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

/** What address and headers ask, before anything that is sent is read. @throws HttpProblem 400 */
function asked(
  operation: Operation,
  request: Request,
): { readonly query: unknown; readonly key: KeyOfWrite | undefined } {
  try {
    const query = operation.query && read(operation.query, request.query);
    return { query, key: keyOfWrite(operation, request) };
  } catch (error) {
    // Whoever still sends a file hears the reason, and not a broken connection.
    request.resume();
    throw error;
  }
}

/** What was kept on disk, as the operation takes it: its path, its bytes as they come, or whole. */
async function handedOver(
  { file, apart }: Operation,
  sent: SentFile,
): Promise<Partial<Ask<Operation>>> {
  if (apart) return { path: sent.path };
  return file?.streamed ? { chunks: sent.chunks() } : { file: await sent.whole() };
}

/** Whether nothing is changed by it: it ends when nobody waits for it. */
const reads = ({ method, writes }: Operation): boolean =>
  (method === 'get' || writes !== undefined) && writes !== 'text/event-stream';

const NO_FILE: Buffer = Buffer.alloc(0);

async function* nothing(): AsyncGenerator<Buffer> {
  // An operation without a file.
}

async function askOf(
  name: string,
  operation: Operation,
  query: unknown,
  requestKey: RequestKey | undefined,
  request: Request,
  response: Response,
): Promise<Ask<Operation>> {
  const { body, access, apart } = operation;
  const sent = Buffer.isBuffer(request.body) ? request.body : NO_FILE;
  const knownActor = (response.locals as { actor?: Actor }).actor;
  const actor = knownActor && requestKey ? { ...knownActor, requestKey } : knownActor;
  return {
    // Operations outside workspaces have no actor, and their handlers do not ask for one.
    actor,
    personId:
      access === 'anybody' ? 0 : access === 'reports' ? knownActor?.personId : signedIn(request),
    query,
    body: body && !apart ? await readBody(name, body, sent) : undefined,
    file: NO_FILE,
    chunks: nothing(),
    path: '',
    requestKey,
    id: (name) => readId(request, name),
    name: (name) => readName(request, name),
    request,
    response,
  } as Ask<Operation>;
}
