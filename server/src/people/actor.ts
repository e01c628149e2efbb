import type { Role } from '@dravex/contract';
import { forbidden } from '../platform/errors.ts';
import type { RequestKey } from '../platform/request-key.ts';

/** Who asks, in which workspace, and what they may do there. Every service call takes one. */
export interface Actor {
  readonly personId: number;
  readonly name: string;
  readonly workspaceId: number;
  readonly role: Role;
  /** The key of the request, when it has one: sent again, it does nothing twice. */
  readonly requestKey?: RequestKey;
}

/** @throws HttpProblem 403 unless the actor may change the workspace */
export function mustPlan(actor: Actor): void {
  if (actor.role !== 'planner') throw forbidden();
}
