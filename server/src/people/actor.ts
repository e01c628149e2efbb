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

/**
 * What a write asks of whoever makes it: a role, a part of the tree, a scope.
 * @throws HttpProblem 403 for who may not
 */
export type Right = (actor: Actor) => void;

/** The right to change whatever a workspace has. @throws HttpProblem 403 unless the actor plans */
export const mustPlan: Right = ({ role }) => {
  if (role !== 'planner') throw forbidden();
};
