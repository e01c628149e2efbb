import {
  targetOperations,
  type NewTargetNode,
  type TargetNode,
  type TargetParts,
  type TargetTree,
} from '@dravex/contract';
import type { TargetPart } from '@dravex/core';
import { ref, shallowRef, watch } from 'vue';
import type { GridEdit } from '../grid/plan-grid.ts';
import { clashRows } from '../plan/clash.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useTyped, type Doubt, type Refusal } from '../plan/use-typed.ts';
import { ApiProblem, inWords } from '../shell/api.ts';
import { useFrame } from '../shell/use-frame.ts';
import { readTyped, type TargetEdit } from './read-part.ts';

type Part = TargetParts['parts'][number];

/** The target tree of the fiscal year in which the window ends, and changing it. */
export function useTargets() {
  const plan = usePlan();
  const { fiscalYear, formats, unit, books, minor } = useFrame();
  const tree = shallowRef<TargetTree>();
  const failure = ref('');

  function readTree(year: number, patience?: { patient: boolean }): Promise<TargetTree> {
    const asked = { fiscalYear: year, ...(books.value ? { origin: 'books' as const } : {}) };
    return plan.ask(targetOperations.readTargets, asked, undefined, patience);
  }
  /** Shows what a change has made of the tree, where that year is still in sight. */
  async function take(answer: TargetTree): Promise<void> {
    if (answer.fiscalYear !== fiscalYear.value) return;
    // The answer counts all sales.
    tree.value = books.value ? await readTree(answer.fiscalYear) : answer;
  }
  async function load(): Promise<void> {
    try {
      tree.value = await readTree(fiscalYear.value);
      failure.value = '';
    } catch (error) {
      failure.value = inWords(error);
    }
  }
  watch([fiscalYear, books, () => plan.tick], load, { immediate: true });

  /** Sends a change of the tree's rows; the answer is the whole tree. */
  function change(work: () => Promise<TargetTree>): Promise<void> {
    failure.value = '';
    return plan.inLine(async () => {
      try {
        await take(await work());
      } catch (error) {
        failure.value = inWords(error);
      }
    });
  }
  const inYear = () => ({ fiscalYear: fiscalYear.value });

  /** A number is meant for the year and in the unit in which it was typed. */
  interface YearEdit extends TargetEdit {
    readonly year: number;
  }
  const typed = useTyped<YearEdit>({
    keep,
    follow: async () => {
      await plan.catchUp();
      await load();
    },
    apart: (one, other) => one.row !== other.row,
    inSight: ({ year, unit: typedIn }) => year === fiscalYear.value && typedIn === unit.value,
  });
  watch(fiscalYear, () => typed.forget());
  function edit(edits: readonly GridEdit[]): void {
    const into = { unit: unit.value, year: fiscalYear.value };
    typed.edit(edits.map((one) => ({ ...one, ...into })));
  }

  async function keep(edits: readonly YearEdit[]): Promise<void> {
    const [first] = edits;
    if (!first) return;
    const parts: Part[] = [];
    const refusals: Refusal[] = [];
    const doubts: Doubt<YearEdit>[] = [];
    const { nodes } = await nodesOf(first.year);
    for (const one of edits) {
      const node = nodes.find(({ id }) => String(id) === one.row);
      if (!node) continue;
      const read = readTyped(one, node, formats.value, minor.value);
      if ('part' in read) parts.push({ node: node.id, part: read.part, saw: node.part });
      else if ('doubt' in read) doubts.push(read.doubt);
      else {
        const reason = `${node.name}: ${read.reason}`;
        refusals.push({ place: `${one.row} ${one.column}`, reason });
      }
    }
    typed.refuse(refusals);
    typed.doubt(doubts);
    if (parts.length > 0) await send(parts, first.year, nodes);
  }
  /** The nodes as they are shown, or those of the year that was shown when something was typed. */
  async function nodesOf(year: number): Promise<TargetTree> {
    if (tree.value?.fiscalYear === year) return tree.value;
    return readTree(year, { patient: true });
  }

  async function send(
    parts: readonly Part[],
    year: number,
    nodes: readonly TargetNode[],
  ): Promise<void> {
    try {
      const answer = await plan.write(
        targetOperations.setTargetParts,
        { fiscalYear: year },
        { parts },
      );
      await take(answer);
    } catch (error) {
      plan.saving = 'saved';
      const conflicts = error instanceof ApiProblem ? error.conflicts : [];
      if (conflicts.length === 0) {
        typed.say(`${inWords(error)}. The old value stays.`, true);
        return;
      }
      const now = (await nodesOf(year)).nodes;
      await load();
      const nodeOf = (list: readonly TargetNode[], id = 0): TargetNode | undefined =>
        list.find((node) => node.id === id);
      plan.clash = {
        rows: clashRows(parts, conflicts, (one) => ({
          label: `Target of ${nodeOf(nodes, one?.node)?.name ?? ''}, FY ${year}`,
          theirs: partInWords(nodeOf(tree.value?.nodes ?? now, one?.node)?.part),
          mine: partInWords(one?.part),
        })),
        // What is there now has been seen: the same parts go over it.
        insist: () =>
          plan.inLine(() =>
            send(
              parts.map(({ saw: _, ...one }) => one),
              year,
              nodes,
            ),
          ),
      };
    }
  }

  function partInWords(part: TargetPart | undefined): string {
    if (part === undefined) return 'removed';
    return part.kind === 'percent'
      ? formats.value.show(part.percent / 100, 'percent')
      : formats.value.show(part.amount / minor.value, 'price');
  }

  return {
    tree,
    failure,
    fiscalYear,
    minor,
    typed: { ...typed, edit },
    setObjective: (objective: number) =>
      change(() => plan.write(targetOperations.setObjective, inYear(), { objective })),
    /** @throws ApiProblem in the server's words; whoever asked shows them */
    add: (node: NewTargetNode) =>
      plan.inLine(async () =>
        take((await plan.write(targetOperations.addTarget, inYear(), node)).tree),
      ),
    setUntil: ({ id }: TargetNode, until: string | null) =>
      change(() =>
        plan.write(targetOperations.changeTarget, { ...inYear(), nodeId: id }, { until }),
      ),
    remove: ({ id }: TargetNode) =>
      change(() => plan.write(targetOperations.removeTarget, { ...inYear(), nodeId: id })),
  };
}
