/** The sales lines that count for a node. */
import type { SalesLines, SalesLinesAddress } from '@dravex/contract';
import type { Holder, TargetLine } from '@dravex/core';
import { salesLines, type Whose } from '../actuals/read-lines.ts';
import { mustBeSpan } from '../actuals/service.ts';
import type { Actor } from '../people/actor.ts';
import { combinationsIn } from '../plan/frame.ts';
import type { LoadedPlan, Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { layOut, objectiveOfSeen } from './reading.ts';

/** What counts for a node: itself, or what its parts count where it only groups them. */
function holdersOf(lines: readonly TargetLine[], node: number): readonly Holder[] {
  const own = lines.find(({ entry }) => entry.id === node)?.holder;
  if (own) return [own];
  const below = lines.filter(({ entry }) => entry.parent === node);
  return below.flatMap(({ entry }) => holdersOf(lines, entry.id));
}

/** Whose sales lines count for a node. */
export function whoseOf(loaded: LoadedPlan, lines: readonly TargetLine[], node: number): Whose[] {
  return holdersOf(lines, node).map(({ scope, seller, account, less }) => ({
    combinations: combinationsIn(loaded, scope),
    seller: seller ?? undefined,
    customer: account ?? undefined,
    less: less.map((other) => ({
      combinations: combinationsIn(loaded, other.scope),
      customer: other.account ?? undefined,
    })),
  }));
}

/**
 * The sales lines of a node: those of its scope, its seller and its account, or of its parts.
 * @throws HttpProblem 403 for what is not in the actor's part; 404
 */
export async function salesOf(
  connections: Connections,
  plans: Plans,
  actor: Actor,
  { fiscalYear, node }: { readonly fiscalYear: number; readonly node: number },
  address: Pick<SalesLinesAddress, 'from' | 'to' | 'origin' | 'limit' | 'skip'>,
): Promise<SalesLines> {
  mustBeSpan(address);
  const objective = await objectiveOfSeen(connections.db, actor, fiscalYear, node);
  const { lines } = await layOut(connections, plans, actor, { fiscalYear, objective });
  const whose = whoseOf(await plans.current(actor.workspaceId), lines, node);
  return salesLines(connections.db, actor.workspaceId, { ...address, whose });
}
