import type { MemberTree } from '@dravex/core';
import type { Recorder } from '../journal/service.ts';
import type { Database } from '../platform/database.ts';
import { ensureCombinations, missingCombinations } from './store.ts';

/**
 * The combinations that a write names, made where they are not there yet. Those that are made are
 * written down, so that everybody reads the plan with them.
 * @returns their ids, in the order asked
 */
export async function nameCombinations(
  tx: Database,
  workspaceId: number,
  wanted: readonly (readonly number[])[],
  tree: MemberTree,
  record: Recorder,
): Promise<number[]> {
  const missing = await missingCombinations(tx, workspaceId, wanted);
  const ids = await ensureCombinations(tx, workspaceId, wanted);
  const idOf = new Map(wanted.map((members, place) => [members.join(), ids[place] ?? 0]));
  for (const members of missing) {
    const id = idOf.get(members.join()) ?? 0;
    const label = `Combination ${tree.label(members)}`;
    const cells = { members: [...members] };
    record.changed('madeCombination', id, null, cells, () => ({ label, unit: 'text' }));
  }
  return ids;
}
