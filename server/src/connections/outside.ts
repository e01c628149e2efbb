/**
 * Asks a service outside, and takes no more of it than was meant: its address is looked up once and
 * held to what the installation allows, nothing it refers to is followed, and what comes is counted
 * and timed as it comes.
 */
import { lookup } from 'node:dns/promises';
import { request as requestPlain, type IncomingMessage, type RequestOptions } from 'node:http';
import { request as requestSecure } from 'node:https';
import { isIP } from 'node:net';
import { mayBeAsked } from '../platform/networks.ts';

export interface Outside {
  readonly headers: Readonly<Record<string, string>>;
  /** Networks of one's own that may be asked. */
  readonly allowed: readonly string[];
  readonly mostBytes: number;
  /** How long the whole answer may take. */
  readonly timeoutMs: number;
  readonly signal?: AbortSignal | undefined;
}

export interface OutsideAnswer {
  readonly status: number;
  readonly retryAfter: string | undefined;
  readonly text: string;
}

/** That an address may not be asked, or that the answer is too much; asking again does not help. */
export class OutsideRefused extends Error {}

/** The address of a host, looked up once. @throws OutsideRefused for one's own network */
async function addressOf(hostname: string, allowed: readonly string[]) {
  const host = hostname.replace(/^\[(.*)\]$/, '$1');
  const found = isIP(host)
    ? [{ address: host, family: isIP(host) }]
    : await lookup(host, { all: true });
  // One that is refused among them is enough: the next look-up might begin with it.
  const refused = found.find(({ address }) => !mayBeAsked(address, allowed));
  const [first] = found;
  if (refused || !first) {
    throw new OutsideRefused(
      `${hostname} lies in a network of one's own, which connections may not ask; whoever runs the server can allow it (ALLOWED_NETWORKS)`,
    );
  }
  return first;
}

/**
 * Asks an address.
 * @throws OutsideRefused for an address that may not be asked and an answer that is too large;
 * Error for whatever else keeps it from being answered in time
 */
export async function askOutside(address: string, outside: Outside): Promise<OutsideAnswer> {
  const url = new URL(address);
  const { headers, allowed, mostBytes, timeoutMs, signal } = outside;
  const end = Date.now() + timeoutMs;
  const pinned = await addressOf(url.hostname, allowed);
  const limits = [AbortSignal.timeout(Math.max(1, end - Date.now())), ...(signal ? [signal] : [])];
  const options: RequestOptions = {
    headers: { ...headers, 'accept-encoding': 'identity' },
    signal: AbortSignal.any(limits),
    agent: false,
    // The name is not looked up again: it could stand for something else by now.
    lookup: (_host, { all }, done) => {
      if (all) done(null, [pinned]);
      else done(null, pinned.address, pinned.family);
    },
  };
  const ask = url.protocol === 'https:' ? requestSecure : requestPlain;
  const response = await new Promise<IncomingMessage>((resolve, reject) => {
    ask(url, options, resolve).on('error', reject).end();
  });
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of response) {
    size += (part as Buffer).length;
    if (size > mostBytes) {
      response.destroy();
      throw new OutsideRefused('The service answers too much at once');
    }
    parts.push(part as Buffer);
  }
  const { statusCode: status = 0, headers: told } = response;
  return { status, retryAfter: told['retry-after'], text: Buffer.concat(parts).toString('utf8') };
}
