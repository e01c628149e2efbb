import {
  problemSchema,
  type AskedRecord,
  type Conflict,
  type FieldError,
  type Progress,
} from '@dravex/contract';
import { TEXTS } from './texts.ts';

/** An answer of the server that is not success, in its own words. */
export class ApiProblem extends Error {
  constructor(
    readonly status: number,
    detail: string,
    readonly errors: readonly FieldError[] = [],
    /** Cells that somebody else changed meanwhile. */
    readonly conflicts: readonly Conflict[] = [],
    /** Of undo and redo: what is out of sight, and was left. */
    readonly asks?: AskedRecord,
  ) {
    super(detail);
    this.name = 'ApiProblem';
  }
}

let csrfToken = '';
let signInAgain: (() => Promise<boolean>) | undefined;

/** Keeps the token that every write has to bring. */
export function setCsrfToken(token: string): void {
  csrfToken = token;
}

/**
 * Says what to do when a session has ended under somebody's hands: the request waits, and goes on
 * when they have signed in again.
 */
export function whenSignedOut(ask: () => Promise<boolean>): void {
  signInAgain = ask;
}

let reached: (reached: boolean) => void = () => undefined;

/** Says who wants to know that the server cannot be reached, or can again. */
export function whenReached(hear: (reached: boolean) => void): void {
  reached = hear;
}

type Body = object | Blob | undefined;

/** How a request goes about a server that does not answer, or not yet. */
export interface Patience {
  /** Whether it is sent again until it is answered: nothing of what a person typed is given up. */
  readonly patient?: boolean;
  /** Hears how far a long write is, from 0 to 1. */
  onShare?(share: number): void;
}

/** Whoever waits for a long write, by its key. */
const waiting = new Map<string, (share: number) => void>();
/** Tells whoever waits for a write how far it is. */
export function hearProgress({ key, share }: Progress): void {
  waiting.get(key)?.(share);
}

/** How often a write whose answer was lost is sent again, and how long it waits the first time. */
const TRIES = 5;
const FIRST_PAUSE_MS = 300;
/** How long one who is patient waits, unless the connection comes back before. */
const PATIENT_PAUSE_MS = 2000;

function random(bytes: number): string {
  return Array.from(crypto.getRandomValues(new Uint8Array(bytes)), (byte) =>
    byte.toString(16).padStart(2, '0'),
  ).join('');
}

const SITTING = 'dravex.sitting';
/**
 * The sitting of this page: from a sign-in on, also when the page is loaded again. The keys of its
 * writes begin with it, so that undo knows what was done in it.
 */
export function sitting(): string {
  const kept = sessionStorage.getItem(SITTING) ?? random(8);
  sessionStorage.setItem(SITTING, kept);
  return kept;
}
/** Somebody signed in: what was done before is not of this sitting. */
export function sitDown(): void {
  sessionStorage.removeItem(SITTING);
}

/** A name for one write: sent again under it, it does nothing twice. */
function freshKey(): string {
  return `${sitting()}.${random(16)}`;
}

/** Until the connection is back, or it is worth another try. */
function backAgain(): Promise<void> {
  return new Promise((resolve) => {
    const done = (): void => {
      clearTimeout(timer);
      window.removeEventListener('online', done);
      resolve();
    };
    const timer = setTimeout(done, PATIENT_PAUSE_MS);
    window.addEventListener('online', done);
  });
}

function pause(milliseconds: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, milliseconds));
}

async function send(
  method: string,
  path: string,
  body: Body,
  key: string | undefined,
  { patient = false }: Patience,
): Promise<Response> {
  const file = body instanceof Blob;
  for (let attempt = 1; ; attempt += 1) {
    try {
      const response = await fetch(`/api${path}`, {
        method,
        headers: {
          'x-csrf-token': csrfToken,
          ...(key === undefined ? {} : { 'idempotency-key': key }),
          ...(body === undefined ? {} : { 'content-type': file ? 'text/csv' : 'application/json' }),
        },
        ...(body === undefined ? {} : { body: file ? body : JSON.stringify(body) }),
      });
      // A server that is starting again or lost its database: the same request can be sent again.
      const again = [502, 503, 504].includes(response.status);
      if (!again || (attempt >= TRIES && !patient)) {
        if (patient) reached(true);
        return response;
      }
    } catch {
      if (attempt >= TRIES && !patient) {
        throw new ApiProblem(0, TEXTS.serverCannotBeReachedTry);
      }
    }
    if (attempt >= 2 && patient) reached(false);
    await (attempt < TRIES ? pause(FIRST_PAUSE_MS * 2 ** (attempt - 1)) : backAgain());
  }
}

/**
 * Sends a request to the API. A write whose answer is lost is sent again, under the same key, so
 * that it is done once; one that meets an ended session waits until its person is back.
 * @param body JSON, or a file that is sent as it is
 * @returns the parsed answer; the caller knows its shape from the contract
 * @throws ApiProblem in the server's words; status 0 when it could not be reached
 */
export async function request<T>(
  method: string,
  path: string,
  body?: Body,
  patience: Patience = {},
): Promise<T> {
  const key = method === 'GET' ? undefined : freshKey();
  if (key && patience.onShare) waiting.set(key, (share) => patience.onShare?.(share));
  let response: Response;
  try {
    response = await send(method, path, body, key, patience);
    while (response.status === 401 && path !== '/session' && signInAgain) {
      if (!(await signInAgain())) break;
      response = await send(method, path, body, key, patience);
    }
  } finally {
    if (key) waiting.delete(key);
  }
  if (response.status === 204) return undefined as T;
  if (response.ok) return (await response.json().catch(() => undefined)) as T;
  throw await problemIn(response);
}

/** What the server says is wrong. */
async function problemIn(response: Response): Promise<ApiProblem> {
  const answer: unknown = await response.json().catch(() => undefined);
  const problem = problemSchema.safeParse(answer).data;
  return new ApiProblem(
    response.status,
    problem?.detail ?? TEXTS.theServerAnswered(response.status),
    problem?.errors,
    problem?.conflicts,
    problem?.asks,
  );
}

/** Asks for a file that is made of what is sent. @throws ApiProblem in the server's words */
export async function requestFile(path: string, body: object): Promise<Blob> {
  const response = await send('POST', path, body, undefined, {});
  if (!response.ok) throw await problemIn(response);
  return response.blob();
}

/** A file that arrived, under the name that the server gives it. */
export interface Received {
  readonly file: Blob;
  readonly name: string;
}

/**
 * Takes a file from an address and tells how much of it has arrived.
 * @throws ApiProblem in the server's words; status 0 when it could not be reached or was stopped
 */
export async function receiveFile(
  address: string,
  signal: AbortSignal,
  onArrived: (bytes: number) => void,
): Promise<Received> {
  try {
    const response = await fetch(address, { signal });
    if (!response.ok) throw await problemIn(response);
    const [, name = 'file'] =
      /filename="?([^";]+)/.exec(response.headers.get('content-disposition') ?? '') ?? [];
    const parts: BlobPart[] = [];
    const reader = response.body?.getReader();
    for (let bytes = 0; reader;) {
      const { done, value } = await reader.read();
      if (done) break;
      parts.push(value);
      onArrived((bytes += value.length));
    }
    return { file: new Blob(parts), name };
  } catch (error) {
    if (error instanceof ApiProblem) throw error;
    throw new ApiProblem(
      0,
      signal.aborted ? TEXTS.stoppedNothingWasSaved : TEXTS.fileDidNotArriveSave,
    );
  }
}

/** Hands a file to the browser, to be kept where its person keeps files. */
export function keepFile({ file, name }: Received): void {
  const link = document.createElement('a');
  link.href = URL.createObjectURL(file);
  link.download = name;
  link.click();
  // The browser takes it a moment later.
  setTimeout(() => URL.revokeObjectURL(link.href), LET_GO_MS);
}
const LET_GO_MS = 10_000;

/** A file on its way: how much of it is sent, and how to stop. */
export interface Sending {
  onProgress?(sent: number, total: number): void;
  readonly signal?: AbortSignal;
}

/** That the connection broke before there was an answer. */
class Broken extends Error {}

/**
 * Sends a file as it is and tells how far it is, which `fetch` cannot. Where the connection breaks
 * it is sent again under the same key, so that it is taken once.
 * @throws ApiProblem in the server's words; status 0 when it could not be reached or was stopped
 */
export async function sendFile<T>(path: string, file: Blob, sending: Sending = {}): Promise<T> {
  const key = freshKey();
  for (let attempt = 1; ; attempt += 1) {
    try {
      return await sendOnce<T>(path, file, key, sending);
    } catch (error) {
      if (!(error instanceof Broken)) throw error;
      if (attempt >= TRIES) {
        throw new ApiProblem(0, TEXTS.fileDidNotArriveConnection);
      }
      await pause(FIRST_PAUSE_MS * 2 ** (attempt - 1));
    }
  }
}

function sendOnce<T>(path: string, file: Blob, key: string, sending: Sending): Promise<T> {
  return new Promise((resolve, reject) => {
    const http = new XMLHttpRequest();
    http.open('POST', `/api${path}`);
    http.setRequestHeader('x-csrf-token', csrfToken);
    http.setRequestHeader('idempotency-key', key);
    http.setRequestHeader('content-type', 'application/octet-stream');
    http.upload.addEventListener('progress', ({ loaded, total }) =>
      sending.onProgress?.(loaded, total),
    );
    http.addEventListener('load', () => {
      let answer: unknown;
      try {
        answer = JSON.parse(http.responseText);
      } catch {
        answer = undefined;
      }
      if (http.status >= 200 && http.status < 300) {
        resolve(answer as T);
        return;
      }
      const problem = problemSchema.safeParse(answer).data;
      reject(
        new ApiProblem(
          http.status,
          problem?.detail ?? TEXTS.theServerAnswered(http.status),
          problem?.errors,
        ),
      );
    });
    const stopped = (): void => reject(new ApiProblem(0, TEXTS.stoppedNothingWasImported));
    http.addEventListener('error', () => reject(new Broken()));
    http.addEventListener('abort', stopped);
    if (sending.signal?.aborted) {
      stopped();
      return;
    }
    sending.signal?.addEventListener('abort', () => http.abort());
    http.send(file);
  });
}

/** What went wrong, in words for people. */
export function inWords(error: unknown): string {
  return error instanceof Error ? error.message : String(error);
}
