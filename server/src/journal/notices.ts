import { noticeSchema, progressSchema, readsAllOf } from '@dravex/contract';
import type { Request, Response } from 'express';
import pg from 'pg';
import type { Logger } from 'pino';
import { z } from 'zod';
import type { Actor } from '../people/actor.ts';
import { rolesOf, sessionsThere } from '../people/store.ts';
import type { Connections } from '../platform/database.ts';
import { CHANNEL, PROGRESS_CHANNEL } from './channels.ts';

const heardSchema = noticeSchema.extend({ workspaceId: z.number() });
const progressHeardSchema = progressSchema.extend({
  workspaceId: z.number(),
  personId: z.number(),
});

/** So that nothing between here and the browser thinks the stream is dead. */
const HEARTBEAT_MS = 20_000;
const RETRY_MS = 1000;
/** How often it is looked whose session has ended. */
const LOOK_MS = 3000;

/** Whose browser looks, and whether all of the workspace is theirs to see. */
interface Follower {
  readonly personId: number;
  readonly all: boolean;
  readonly session: string;
  readonly role: string;
}

/** Says only that a revision is there. */
const revisionEvent = (revision: number): string =>
  `event: start\ndata: ${JSON.stringify({ revision })}\n\n`;

/**
 * Hears of every write, of whatever server process, and tells the browsers that look at its
 * workspace. One connection to the database a process, opened when the first browser comes.
 */
export class Notices {
  /** By workspace: the browsers that look at it, and whose they are. */
  readonly #streams = new Map<number, Map<Response, Follower>>();
  #client: Promise<pg.Client> | undefined;
  #closed = false;
  #watching: NodeJS.Timeout | undefined;

  constructor(
    private readonly connections: Connections,
    private readonly log: Logger,
  ) {}

  /** Writes change notices to a browser until it goes away. @param revision what it can start from */
  async follow(
    request: Request,
    response: Response,
    { workspaceId, personId, role }: Actor,
    revision: () => Promise<number>,
  ): Promise<void> {
    await this.#listen();
    response.writeHead(200, {
      'content-type': 'text/event-stream; charset=utf-8',
      'cache-control': 'no-store',
      'x-accel-buffering': 'no',
    });
    const streams = this.#streams.get(workspaceId) ?? new Map<Response, Follower>();
    this.#streams.set(workspaceId, streams);
    streams.set(response, { personId, all: readsAllOf(role), session: request.sessionID, role });
    this.#watching ??= setInterval(() => void this.#endThoseGone(), LOOK_MS).unref();
    const heartbeat = setInterval(() => response.write(': still here\n\n'), HEARTBEAT_MS);
    request.on('close', () => {
      clearInterval(heartbeat);
      streams.delete(response);
    });
    // Only now, so that nothing falls between the answer and the first notice.
    const now = await revision();
    response.write(`retry: ${RETRY_MS}\n${revisionEvent(now)}`);
  }

  /**
   * Ends the streams of whoever has signed out, was signed out, or may no longer enter as they did:
   * what they hear ends with their session, and their browser asks again as who they are now.
   */
  async #endThoseGone(): Promise<void> {
    const all = [...this.#streams].flatMap(([workspaceId, streams]) =>
      [...streams].map(([response, follower]) => ({ workspaceId, response, ...follower })),
    );
    if (all.length === 0) return;
    try {
      const { db } = this.connections;
      const there = await sessionsThere(db, [...new Set(all.map(({ session }) => session))]);
      const roles = await rolesOf(db, [...new Set(all.map(({ workspaceId }) => workspaceId))]);
      for (const { workspaceId, response, session, personId, role } of all) {
        const isIn = roles.get(`${workspaceId} ${personId}`) === role;
        if (!there.has(session) || !isIn) response.end();
      }
    } catch (error) {
      this.log.warn({ error }, 'it could not be looked who still listens');
    }
  }

  /** Tells everybody of a write, and its own person how far a long one is. */
  #tell(channel: string, heard: unknown): void {
    if (channel === PROGRESS_CHANNEL) {
      const { success, data } = progressHeardSchema.safeParse(heard);
      if (!success) return;
      const { workspaceId, personId, ...progress } = data;
      for (const [response, whose] of this.#streams.get(workspaceId) ?? []) {
        if (whose.personId !== personId) continue;
        response.write(`event: progress\ndata: ${JSON.stringify(progress)}\n\n`);
      }
      return;
    }
    const { success, data } = heardSchema.safeParse(heard);
    if (!success) return;
    const { workspaceId, ...notice } = data;
    for (const [response, { all }] of this.#streams.get(workspaceId) ?? []) {
      // Whoever has a part hears that something is another one, and not who did what elsewhere.
      if (!all && notice.room !== 'targets') response.write(revisionEvent(notice.revision));
      else
        response.write(
          `event: change\nid: ${notice.revision}\ndata: ${JSON.stringify(notice)}\n\n`,
        );
    }
  }

  #listen(): Promise<pg.Client> {
    this.#client ??= this.#open().catch((error: unknown) => {
      this.#client = undefined;
      throw error;
    });
    return this.#client;
  }

  async #open(): Promise<pg.Client> {
    const client = new pg.Client({ connectionString: this.connections.url });
    client.on('notification', ({ channel, payload }) =>
      this.#tell(channel, JSON.parse(payload ?? 'null')),
    );
    client.on('error', (error) => this.log.warn({ error }, 'the line for change notices broke'));
    client.on('end', () => {
      this.#client = undefined;
      // Browsers come back by themselves and ask what they missed.
      if (!this.#closed) this.#endStreams();
    });
    await client.connect();
    await client.query(`listen ${CHANNEL}; listen ${PROGRESS_CHANNEL}`);
    return client;
  }

  #endStreams(): void {
    for (const streams of this.#streams.values()) {
      for (const [response] of streams) response.end();
    }
    this.#streams.clear();
  }

  async close(): Promise<void> {
    clearInterval(this.#watching);
    this.#closed = true;
    this.#endStreams();
    const client = await this.#client?.catch(() => undefined);
    await client?.end();
  }
}
