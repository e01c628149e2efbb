import type { input, output, ZodType } from 'zod';

/**
 * Who may: anybody; whoever is signed in; whoever is in the workspace of the address, with what is
 * theirs of it; who reads all of it; who plans in it; who owns it; a reporting tool with an access
 * token.
 */
export type Access = 'anybody' | 'signedIn' | 'part' | 'reads' | 'plans' | 'owns' | 'reports';

/** A megabyte, in bytes. */
export const MB = 1024 ** 2;

/** A file that is sent as the body, in words. */
export interface FileBody {
  readonly what: string;
  readonly type: string;
  /** More is not taken; in bytes. */
  readonly largest: number;
  /** Read as it comes, so that it may be larger than memory. */
  readonly streamed?: boolean;
}

/**
 * One thing the API does. The server makes its routes from these and can have no others, so what
 * is described is what is there.
 */
export interface Operation<
  Query extends ZodType = ZodType,
  Body extends ZodType = ZodType,
  Answer extends ZodType = ZodType,
> {
  readonly method: 'get' | 'post' | 'put' | 'patch' | 'delete';
  /** `/workspaces/{workspaceId}/versions`, below `/api`. What ends in `Id` is a number. */
  readonly path: string;
  readonly summary: string;
  readonly access: Access;
  readonly query?: Query;
  readonly body?: Body;
  /** The largest JSON body in bytes, where it is more than an ordinary one. */
  readonly largest?: number;
  /** The body is so large that it is kept on disk, and read and used in a thread of its own. */
  readonly apart?: true;
  readonly file?: FileBody;
  /** The answer as JSON. */
  readonly answer?: Answer;
  /** The answer's type where it is not JSON: the handler writes it itself. */
  readonly writes?: 'text/csv' | 'text/event-stream' | 'application/json';
  /** 200 with an answer, 204 without one, where nothing else is said. */
  readonly status?: 200 | 201 | 204;
}

/** Lets the compiler keep the exact types of a room's operations, their paths included. */
export function operations<const T extends Record<string, Operation>>(room: T): T {
  return room;
}

/** The names that a path leaves open: `workspaceId` and `nodeId`. */
type NamesIn<Path extends string> = Path extends `${string}{${infer Name}}${infer Rest}`
  ? Name | NamesIn<Rest>
  : never;

/** What the address of a request says: what its path leaves open, and its query. */
export type InputsOf<O extends Operation> = {
  readonly [Name in NamesIn<O['path']>]: Name extends `${string}Id` ? number : string | number;
} & (O extends { readonly query: infer Query extends ZodType } ? input<Query> : unknown);

/** Whoever sends something does not care that it could be changed. */
type Frozen<T> = T extends readonly (infer Item)[]
  ? readonly Frozen<Item>[]
  : T extends object
    ? { readonly [Key in keyof T]: Frozen<T[Key]> }
    : T;

/** What a request brings as JSON. */
export type BodyOf<O extends Operation> = O extends { readonly body: infer Body extends ZodType }
  ? Frozen<input<Body>>
  : undefined;

/** What is answered as JSON. */
export type AnswerOf<O extends Operation> = O extends {
  readonly answer: infer Answer extends ZodType;
}
  ? output<Answer>
  : undefined;
