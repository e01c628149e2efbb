import {
  targetOperations,
  type NewObjective,
  type NewTargetNode,
  type TargetDivision,
  type TargetNode,
  type TargetNodeChange,
  type TargetParts,
  type TargetTree,
} from '@dravex/contract';
import {
  fiscalYearSpan,
  meaningOf,
  retarget,
  type TargetMeasure,
  type TargetPart,
} from '@dravex/core';
import { computed, shallowRef, watch } from 'vue';
import { useRoute, useRouter } from 'vue-router';
import { WORDS } from '../format/words.ts';
import type { GridEdit } from '../grid/plan-grid.ts';
import { clashRows } from '../plan/clash.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useTyped, type Doubt, type Refusal } from '../plan/use-typed.ts';
import { ApiProblem, inWords } from '../shell/api.ts';
import { unitOf } from '../format/numbers.ts';
import { useFrame } from '../shell/use-frame.ts';
import { readTyped, type TargetEdit } from './read-part.ts';
import { TEXTS } from './texts.ts';

type Part = TargetParts['parts'][number];

/** A change that waits for a reason: what was agreed becomes another one. */
export interface AskedReason {
  /** Which targets are agreed, in the server's words. */
  readonly why: string;
  readonly again: (reason: string) => Promise<unknown>;
}

/** An amount that was typed over a target whose parts are amounts, too, and so stay as they are. */
export interface PassDownOffer {
  readonly node: TargetNode;
  readonly was: number;
  readonly becomes: number;
}

/** The target tree of an objective of the fiscal year in which the window ends, and changing it. */
export function useTargets() {
  const plan = usePlan();
  const route = useRoute();
  const router = useRouter();
  const { fiscalYear, formats, unit, books, calendar } = useFrame();
  const year = computed(() => fiscalYearSpan(fiscalYear.value, calendar.value.fiscalStart));
  const closedMonths = computed(() =>
    Math.min(12, Math.max(0, plan.closedThrough - year.value.from + 1)),
  );
  /** The objective that the address names; without one the year's first of revenue is meant. */
  const named = computed(() => Number(route.query['objective']) || undefined);
  const {
    data: tree,
    failure,
    settled,
  } = useAnswer([fiscalYear, books, named, () => plan.tick], () => readTree(fiscalYear.value));
  const reasonFor = shallowRef<AskedReason>();
  const offer = shallowRef<PassDownOffer>();
  const measure = computed(() => tree.value?.objective?.measure ?? 'revenue');
  const size = computed(() => ({
    display: meaningOf(measure.value).display,
    wholes: tree.value?.wholes ?? 1,
    unit: unitFor(measure.value),
  }));
  /** Money is shown in the unit that is chosen; what is counted is counted one by one. */
  const unitFor = (of: TargetMeasure) => unitOf(meaningOf(of).display, unit.value);
  function choose(objective: number | undefined): Promise<unknown> {
    const { objective: _, ...query } = route.query;
    return router.push({
      query: objective === undefined ? query : { ...query, objective: String(objective) },
    });
  }

  async function readTree(
    year: number,
    objective = named.value,
    patience?: { patient: boolean },
  ): Promise<TargetTree> {
    const origin = books.value ? { origin: 'books' as const } : {};
    const asked = { fiscalYear: year, ...origin, ...(objective ? { objective } : {}) };
    try {
      return await plan.ask(targetOperations.readTargets, asked, undefined, patience);
    } catch (error) {
      // An address can name an objective of another year, or one that is gone.
      if (objective === undefined || !(error instanceof ApiProblem) || error.status !== 404) {
        throw error;
      }
      return plan.ask(
        targetOperations.readTargets,
        { fiscalYear: year, ...origin },
        undefined,
        patience,
      );
    }
  }
  /** Shows what a change has made of the tree, where that one is still in sight. */
  async function take(answer: TargetTree): Promise<void> {
    const shown = tree.value;
    if (answer.fiscalYear !== fiscalYear.value) return;
    if (shown?.objective && answer.objective?.id !== shown.objective.id) return;
    // The answer counts all sales.
    tree.value = books.value ? await readTree(answer.fiscalYear) : answer;
  }
  /** Shows the tree as it is kept now. */
  async function load(): Promise<void> {
    await plan.catchUp();
    await settled();
  }
  watch([fiscalYear, named], () => (offer.value = undefined));

  /** Why something agreed is changed is asked for; everything else is not ours to answer. */
  function asksReason(error: unknown, again: AskedReason['again']): boolean {
    const asked =
      error instanceof ApiProblem ? error.errors.find(({ path }) => path === 'reason') : undefined;
    if (asked) reasonFor.value = { why: asked.message, again };
    return asked !== undefined;
  }
  const withReason = (reason: string | undefined) => (reason === undefined ? {} : { reason });

  /** Sends a change of the tree's rows; the answer is the whole tree. */
  function change(work: (reason?: string) => Promise<TargetTree>): Promise<void> {
    failure.value = '';
    const attempt = (reason?: string): Promise<void> =>
      plan.inLine(async () => {
        try {
          await take(await work(reason));
        } catch (error) {
          plan.saving = 'saved';
          if (!asksReason(error, attempt)) failure.value = inWords(error);
        }
      });
    return attempt();
  }
  const inYear = () => ({ fiscalYear: fiscalYear.value });
  const at = ({ id }: Pick<TargetNode, 'id'>) => ({ ...inYear(), nodeId: id });

  /** A number is meant for the year and in the unit in which it was typed. */
  interface YearEdit extends TargetEdit {
    readonly year: number;
    readonly objective: number | undefined;
  }
  const typed = useTyped<YearEdit>({
    keep,
    follow: load,
    apart: (one, other) => one.row !== other.row,
    inSight: ({ year, objective, unit: typedIn }) =>
      year === fiscalYear.value && objective === named.value && typedIn === size.value.unit,
  });
  watch([fiscalYear, named], () => typed.forget());
  function edit(edits: readonly GridEdit[]): void {
    const into = { unit: size.value.unit, year: fiscalYear.value, objective: named.value };
    typed.edit(edits.map((one) => ({ ...one, ...into })));
  }

  async function keep(edits: readonly YearEdit[]): Promise<void> {
    const [first] = edits;
    if (!first) return;
    const parts: Part[] = [];
    const refusals: Refusal[] = [];
    const doubts: Doubt<YearEdit>[] = [];
    const { nodes, wholes, objective } = await nodesOf(first);
    const display = meaningOf(objective?.measure ?? 'revenue').display;
    for (const one of edits) {
      const node = nodes.find(({ id }) => String(id) === one.row);
      if (!node) continue;
      const read = readTyped(one, node, formats.value, { display, wholes });
      if ('part' in read) parts.push({ node: node.id, part: read.part, saw: node.part });
      else if ('doubt' in read) doubts.push(read.doubt);
      else {
        const reason = `${node.name}: ${read.reason}`;
        refusals.push({ place: `${one.row} ${one.column}`, reason });
      }
    }
    typed.refuse(refusals);
    typed.doubt(doubts);
    offer.value = undefined;
    if (parts.length > 0) await send(parts, first, nodes);
  }
  /** The nodes as they are shown, or those of the year that was shown when something was typed. */
  async function nodesOf({ year, objective }: Pick<YearEdit, 'year' | 'objective'>) {
    if (tree.value?.fiscalYear === year && objective === named.value) return tree.value;
    return readTree(year, objective, { patient: true });
  }

  async function send(
    parts: readonly Part[],
    where: Pick<YearEdit, 'year' | 'objective'>,
    nodes: readonly TargetNode[],
    reason?: string,
  ): Promise<void> {
    const { year } = where;
    const again = (more: readonly Part[], because?: string) =>
      plan.inLine(() => send(more, where, nodes, because));
    const before = tree.value;
    const shown = showAtOnce(parts, year);
    try {
      const body = { parts: [...parts], ...withReason(reason) };
      const answer = await plan.write(targetOperations.setTargetParts, { fiscalYear: year }, body);
      await take(answer);
      offerToPassDown(parts, nodes);
    } catch (error) {
      plan.saving = 'saved';
      // What was shown already is not so.
      if (shown && tree.value === shown) tree.value = before;
      if (asksReason(error, (because) => again(parts, because))) return;
      const conflicts = error instanceof ApiProblem ? error.conflicts : [];
      if (conflicts.length === 0) {
        typed.say(WORDS.oldValueStays(inWords(error)), true);
        return;
      }
      const now = (await nodesOf(where)).nodes;
      await load();
      const nodeOf = (list: readonly TargetNode[], id = 0): TargetNode | undefined =>
        list.find((node) => node.id === id);
      plan.clash = {
        rows: clashRows(parts, conflicts, (one) => ({
          label: TEXTS.targetOfFy(nodeOf(nodes, one?.node)?.name ?? '', year),
          theirs: partInWords(nodeOf(tree.value?.nodes ?? now, one?.node)?.part),
          mine: partInWords(one?.part),
        })),
        // What is there now has been seen: the same parts go over it.
        insist: () => again(parts.map(({ saw: _, ...one }) => one)),
      };
    }
  }

  /** What was typed is shown with all that follows from it, before the server has answered. */
  function showAtOnce(parts: readonly Part[], year: number): TargetTree | undefined {
    const now = tree.value;
    if (now?.fiscalYear !== year || !now.objective) return undefined;
    const typedParts = new Map(parts.map(({ node, part }) => [node, part]));
    const known = { measure: now.objective.measure, closedMonths: closedMonths.value };
    const next = { ...now, nodes: retarget(now.nodes, typedParts, known) };
    tree.value = next;
    return next;
  }

  /** Parts that are amounts do not follow what was typed above them: that is offered. */
  function offerToPassDown(parts: readonly Part[], before: readonly TargetNode[]): void {
    const [only, ...more] = parts;
    const was = before.find(({ id }) => id === only?.node);
    const node = tree.value?.nodes.find(({ id }) => id === only?.node);
    if (!was || !node || more.length > 0 || was.amount === node.amount) return;
    const below = tree.value?.nodes.filter(({ parent }) => parent === node.id) ?? [];
    if (!below.some(({ part, locked }) => part.kind === 'amount' && !locked)) return;
    offer.value = { node, was: was.amount, becomes: node.amount };
  }

  function partInWords(part: TargetPart | undefined): string {
    if (part === undefined) return 'removed';
    return part.kind === 'percent'
      ? formats.value.show(part.percent / 100, 'percent')
      : formats.value.full(part.amount / size.value.wholes, size.value.display);
  }

  const divide = (node: Pick<TargetNode, 'id'>, division: TargetDivision): Promise<void> =>
    change((reason) =>
      plan.write(targetOperations.divideTargets, at(node), { division, ...withReason(reason) }),
    );

  return {
    tree,
    measure,
    size,
    year,
    closedMonths,
    failure,
    fiscalYear,
    reasonFor,
    offer,
    choose,
    load,
    typed: { ...typed, edit },
    setObjective: (objective: number) =>
      change(() => plan.write(targetOperations.setObjective, inYear(), { objective })),
    /** @throws ApiProblem in the server's words; whoever asked shows them */
    addObjective: (objective: NewObjective) =>
      plan.inLine(async () => {
        const made = await plan.write(targetOperations.addObjective, inYear(), objective);
        await choose(made.id);
      }),
    renameObjective: (objectiveId: number, name: string) =>
      plan.inLine(async () => {
        const where = { ...inYear(), objectiveId };
        await take(await plan.write(targetOperations.renameObjective, where, { name }));
      }),
    removeObjective: (objectiveId: number) =>
      change(async () => {
        const where = { ...inYear(), objectiveId };
        const answer = await plan.write(targetOperations.removeObjective, where);
        tree.value = answer;
        await choose(undefined);
        return answer;
      }),
    /** @throws ApiProblem in the server's words; whoever asked shows them */
    add: (node: NewTargetNode) =>
      plan.inLine(async () =>
        take((await plan.write(targetOperations.addTarget, inYear(), node)).tree),
      ),
    /** @throws ApiProblem in the server's words, but for a reason, which is asked for */
    edit: (node: TargetNode, body: TargetNodeChange) => {
      const attempt = (reason?: string): Promise<void> =>
        plan.inLine(async () => {
          const sent = { ...body, ...withReason(reason) };
          await take(await plan.write(targetOperations.changeTarget, at(node), sent));
        });
      return attempt().catch((error: unknown) => {
        if (!asksReason(error, attempt)) throw error;
      });
    },
    /** The same where a refusal is shown above the table. */
    set: (node: TargetNode, body: TargetNodeChange) =>
      change((reason) =>
        plan.write(targetOperations.changeTarget, at(node), { ...body, ...withReason(reason) }),
      ),
    /** Gives several nodes other parts, as one act. */
    setParts: (parts: readonly Part[]) =>
      plan.inLine(() =>
        send(parts, { year: fiscalYear.value, objective: named.value }, tree.value?.nodes ?? []),
      ),
    propose: (node: Pick<TargetNode, 'id'>, division: TargetDivision) =>
      plan.ask(targetOperations.proposeTargets, at(node), division),
    divide,
    passDown: async () => {
      const asked = offer.value;
      if (!asked) return;
      offer.value = undefined;
      const { node, was, becomes } = asked;
      await divide(node, { kind: 'passDown', amount: becomes, was });
    },
    handOut: (node: TargetNode) =>
      change(() => plan.write(targetOperations.handOutTargets, at(node))),
    gap: (node: TargetNode) => plan.ask(targetOperations.explainGap, at(node)),
    deals: (node: TargetNode) => plan.ask(targetOperations.readDeals, at(node)),
    remove: (node: TargetNode) => change(() => plan.write(targetOperations.removeTarget, at(node))),
  };
}
