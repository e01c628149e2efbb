/** In a thread: reads a plan file from disk, checks it and makes a workspace of it. */
import { readFile } from 'node:fs/promises';
import { planFileSchema, type PlanFile } from '@dravex/contract';
import { checkPlanFile } from '../exchange/plan-file-check.ts';
import { connect } from '../platform/database.ts';
import { read } from '../platform/http.ts';
import type { RequestKey } from '../platform/request-key.ts';
import { answerCalls } from '../platform/thread.ts';
import { jsonOf } from '../routing/checked-body.ts';
import { loadPlanFile } from './service.ts';

// Each in a function of its own: what one of them needed is free before the next begins.
const jsonAt = async (path: string): Promise<unknown> => jsonOf(await readFile(path));
const fileAt = async (path: string): Promise<PlanFile> => read(planFileSchema, await jsonAt(path));

const calls = {
  /** @throws HttpProblem 400 with everything that is wrong with the file */
  async load(
    databaseUrl: string,
    personId: number,
    requestKey: RequestKey | undefined,
    path: string,
  ): Promise<number> {
    const file = await fileAt(path);
    checkPlanFile(file);
    const connections = connect(databaseUrl);
    try {
      return await loadPlanFile(connections, personId, requestKey, file);
    } finally {
      await connections.close();
    }
  },
};

export type LoadCalls = typeof calls;

answerCalls(calls);
