import { holdsPart, MAY, plansIn, type Role } from '@dravex/contract';
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

/** The right to change whatever a plan has. @throws HttpProblem 403 unless the actor plans */
export const mustPlan: Right = ({ role }) => {
  if (!MAY.plans.includes(role)) throw forbidden('Changing this needs the role planner');
};

/** The right to read all of a workspace. @throws HttpProblem 403 for who has a part of it */
export const mustReadAll: Right = ({ role }) => {
  if (!MAY.reads.includes(role)) {
    throw forbidden(
      `As a ${role} you see your own part of the targets and your own budget sheets, nothing else`,
    );
  }
};

/** The right to say who may enter. @throws HttpProblem 403 unless the actor owns the workspace */
export const mustOwn: Right = ({ role }) => {
  if (!MAY.owns.includes(role))
    throw forbidden('Only an owner of the workspace can add and change people');
};

/** The right to divide targets: all of them, or the own part. @throws HttpProblem 403 */
export const mustDivide: Right = ({ role }) => {
  if (!plansIn(role) && role !== 'manager') {
    throw forbidden('Changing targets needs the role planner or manager');
  }
};

/** The right to write what is one's own: all of the plan, a part of the targets, a sheet. */
export const mustWrite: Right = ({ role }) => {
  if (!plansIn(role) && !holdsPart(role)) throw forbidden('Readers cannot change anything');
};
