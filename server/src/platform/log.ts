/** The log of the server: what happened, without what people typed, asked for, or signed in with. */
import { pino, stdSerializers, type DestinationStream, type Logger } from 'pino';

/** An address without its query: what is asked for is nobody's business, and may hold a secret. */
export const withoutQuery = (url: string | undefined): string => (url ?? '').split('?')[0] ?? '';

/**
 * An error without the parameters of the statement that failed: they are what people typed, or what
 * they sign in with.
 */
export function serializeError(error: unknown): object {
  if (!(error instanceof Error)) return { message: String(error) };
  const cause = error.cause instanceof Error ? error.cause : error;
  const { type, stack = '' } = stdSerializers.err(cause);
  const code = 'code' in cause ? String(cause.code) : undefined;
  const statement = 'query' in error ? String(error.query) : undefined;
  // Some wrap the statement and its parameters into the message.
  const message = cause.message.split(/\nparams:|\nFailed query:/)[0] ?? '';
  const where = stack
    .split('\n')
    .filter((line) => /^\s+at /.test(line))
    .join('\n');
  return {
    type,
    message,
    ...(code === undefined ? {} : { code }),
    ...(statement === undefined ? {} : { statement }),
    stack: where,
  };
}

/** A log that writes to standard output, or elsewhere. */
export function makeLog(level: string, to?: DestinationStream): Logger {
  const options = { level, serializers: { err: serializeError, error: serializeError } };
  return to ? pino(options, to) : pino(options);
}

interface LoggedRequest {
  readonly id: unknown;
  readonly method: string;
  readonly url?: string;
  readonly originalUrl?: string;
}

/** How requests and answers are logged. */
export const requestSerializers = {
  req: ({ id, method, url, originalUrl }: LoggedRequest) => ({
    id,
    method,
    path: withoutQuery(originalUrl ?? url),
  }),
  res: ({ statusCode }: { statusCode: number }) => ({ statusCode }),
  err: serializeError,
};
