/** Takes what a request brings: a file as a file on disk, JSON as it is; within its limits. */
import { createReadStream } from 'node:fs';
import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { MB, type Operation } from '@dravex/contract';
import type { Request, RequestHandler } from 'express';
import { badRequest, HttpProblem, tooLarge } from '../platform/errors.ts';
import { sendProblem } from '../platform/http.ts';
import { keepUpload, type SizeLimit } from '../platform/keep-upload.ts';
import { newWorkFolder } from '../platform/work-files.ts';

/** An ordinary JSON body, in bytes. */
const ORDINARY_BODY = MB;

/** Whoever sends nothing for so long is told so: a slow line is no fault, a dead one is. */
const SILENCE_MS = 60_000;
const LOOK_EVERY_MS = 5000;

/** How much an operation takes. */
export function limitOf({ file, largest }: Operation): SizeLimit {
  const bytes = file?.largest ?? largest ?? ORDINARY_BODY;
  const size = bytes >= 1024 * MB ? `${bytes / MB / 1024} GB` : `${bytes / MB} MB`;
  return {
    bytes,
    said: file
      ? `The file is larger than the ${size} that are accepted; split it and send the parts`
      : `The body is larger than the ${size} that are accepted`,
  };
}

/**
 * Refuses a body by the length that is announced, before it is sent; who waits to be told sends it
 * from here on.
 */
export function mayBeSent(operation: Operation): RequestHandler {
  const { bytes, said } = limitOf(operation);
  return (request, response, next) => {
    const length = Number(request.get('content-length') ?? 0);
    if (length > bytes) {
      // The rest of it is not wanted, nor is what would follow on this connection.
      response.set('connection', 'close');
      throw tooLarge(said);
    }
    if (request.get('expect') === '100-continue') response.writeContinue();
    next();
  };
}

/** Ends a request whose sender has gone silent. */
export function hearsSender(silenceMs = SILENCE_MS): RequestHandler {
  return (request, response, next) => {
    const { socket } = request;
    let [heard, since] = [socket.bytesRead, Date.now()];
    const timer = setInterval(
      () => {
        if (request.complete || response.writableEnded || socket.destroyed) {
          clearInterval(timer);
          return;
        }
        if (socket.bytesRead !== heard) {
          [heard, since] = [socket.bytesRead, Date.now()];
          return;
        }
        if (Date.now() - since < silenceMs) return;
        clearInterval(timer);
        response.once('close', () => request.destroy());
        sendProblem(response.set('connection', 'close'), senderSilent());
      },
      Math.min(LOOK_EVERY_MS, silenceMs / 4),
    );
    timer.unref();
    response.once('close', () => clearInterval(timer));
    next();
  };
}

/** 408: the rest did not come. */
function senderSilent(): HttpProblem {
  return new HttpProblem(
    408,
    'It did not arrive',
    'Nothing more of it came for a minute; nothing was changed. Send it again when the connection is better',
  );
}

/** What was sent, on disk until `drop`. */
export interface SentFile {
  readonly path: string;

  /** Its bytes as often as they are asked for. */
  chunks(): AsyncIterable<Buffer>;
  whole(): Promise<Buffer>;
  drop(): Promise<void>;
}

/**
 * Keeps what is sent on disk. Whoever sends slowly keeps nobody waiting: nothing is read of
 * it, and no place taken, until it is there.
 * @param see gets its bytes as they come
 * @throws HttpProblem 400 for nothing, 413 for more than is taken, 507 when the disk is full
 */
export async function receiveFile(
  request: Request,
  operation: Operation,
  see?: (chunk: Buffer) => void,
): Promise<SentFile> {
  const folder = await newWorkFolder();
  const path = join(folder, 'sent');
  const drop = (): Promise<void> => rm(folder, { recursive: true, force: true });
  try {
    const chunks = request.iterator({ destroyOnReturn: false }) as AsyncIterable<Buffer>;
    const size = await keepUpload(chunks, path, limitOf(operation), see);
    if (size === 0) throw badRequest('The file is empty; nothing was imported');
    return {
      path,
      chunks: () => createReadStream(path, { highWaterMark: 256 * 1024 }),
      whole: () => readFile(path),
      drop,
    };
  } catch (error) {
    // What is left of a file that was refused is read and forgotten: whoever still sends it hears
    // the reason, and not a broken connection.
    request.resume();
    await drop();
    throw error;
  }
}
