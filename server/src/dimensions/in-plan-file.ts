/**
 * What a plan file holds of members beside the plan itself: their days and ledger accounts, which
 * customers belong to them, and the rules that tell them apart. All of it by codes.
 */
import type { PlanFile } from '@dravex/contract';
import type { FilePart, Incoming } from '../journal/file-part.ts';
import type { Database } from '../platform/database.ts';
import { badRequest } from '../platform/errors.ts';
import { ALL_OTHERS, rulesOf, setRules, type DimensionRuleRow } from './rules.ts';
import * as store from './store.ts';

interface Named {
  readonly dimension: string;
  readonly member: string;
}

const key = ({ dimension, member }: Named): string => JSON.stringify([dimension, member]);

/** The members of a workspace with their names in a file. */
async function namesOf(db: Database, workspaceId: number) {
  const names = new Map(
    (await store.dimensionsOf(db, workspaceId)).flatMap(({ code: dimension, members }) =>
      members.map(({ id, code: member }) => [id, { dimension, member }] as const),
    ),
  );
  const name = (id: number): Named => names.get(id) ?? { dimension: '', member: '' };
  const rows = await store.memberRows(db, workspaceId);
  const byName = new Map(rows.map((row) => [key(name(row.id)), row]));
  return {
    rows,
    name,
    /** @throws HttpProblem 400 for a member that the file does not have */
    row(named: Named, path: string): store.MemberRow {
      const found = byName.get(key(named));
      if (found) return found;
      const message = `There is no member "${named.member}" of a dimension "${named.dimension}"`;
      throw badRequest(message, [{ path, message }]);
    },
  };
}

/** What a member has beside what the core computes with; nothing where it has none of it. */
const detailsOf = ({ validFrom, validTo, account }: store.MemberRow) =>
  Object.fromEntries(
    Object.entries({ validFrom, validTo, account }).filter(([, value]) => value !== null),
  );

export const membersInPlanFile: FilePart = {
  async give(db, workspaceId) {
    const { rows, name } = await namesOf(db, workspaceId);
    const members = rows.flatMap((row) => {
      const details = detailsOf(row);
      return Object.keys(details).length > 0 ? [{ ...name(row.id), ...details }] : [];
    });
    const memberRules = (await rulesOf(db, workspaceId)).map(({ sourceMemberId, memberId }) => ({
      ...name(memberId),
      by: sourceMemberId === ALL_OTHERS ? null : name(sourceMemberId),
    }));
    return { members, memberRules };
  },
  async take({ tx, workspaceId, file }: Incoming) {
    const { row } = await namesOf(tx, workspaceId);
    for (const [index, { validFrom, validTo, account, ...name }] of file.members.entries()) {
      const { id } = row(name, `members.${index}`);
      await store.setMember(tx, workspaceId, id, {
        validFrom: validFrom ?? null,
        validTo: validTo ?? null,
        account: account ?? null,
      });
    }
    const rules = file.memberRules.map(({ by, ...name }, index): DimensionRuleRow => {
      const { id, dimensionId } = row(name, `memberRules.${index}`);
      const sourceMemberId = by ? row(by, `memberRules.${index}.by`).id : ALL_OTHERS;
      return { dimensionId, sourceMemberId, memberId: id };
    });
    for (const dimensionId of new Set(rules.map((rule) => rule.dimensionId))) {
      const own = rules.filter((rule) => rule.dimensionId === dimensionId);
      // Of two for the same source the later one stands.
      const bySource = new Map(own.map((rule) => [rule.sourceMemberId, rule]));
      await setRules(
        tx,
        workspaceId,
        dimensionId,
        [...bySource.values()].map(({ sourceMemberId, memberId }) => ({
          sourceMemberId,
          memberId,
        })),
      );
    }
  },
};

export const assignmentsInPlanFile: FilePart = {
  async give(db, workspaceId) {
    const { name } = await namesOf(db, workspaceId);
    const rows = await store.assignmentsOf(db, workspaceId);
    return {
      assignments: rows.map(({ memberId, customer, from }): PlanFile['assignments'][number] => ({
        ...name(memberId),
        customer,
        from,
      })),
    };
  },
  async take({ tx, workspaceId, file }: Incoming) {
    const { row } = await namesOf(tx, workspaceId);
    await store.assign(
      tx,
      file.assignments.map(({ customer, from, ...name }, index) => {
        const { id, dimensionId } = row(name, `assignments.${index}`);
        return { workspaceId, dimensionId, customer, from, memberId: id };
      }),
    );
  },
};
