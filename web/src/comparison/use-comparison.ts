import { comparisonOperations, targetOperations } from '@dravex/contract';
import {
  FORECAST,
  fiscalYearSpan,
  MEASURE_CODES,
  monthText,
  targetsByScope,
  type Comparable,
  type TargetParts,
  type VersionMeasure,
} from '@dravex/core';
import { computed, ref, type Ref } from 'vue';
import { loadRecorded } from '../forecast/load-known.ts';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import type { useAcross } from './use-across.ts';
import { TARGET, type Side, type useSides } from './use-sides.ts';

/** Sources that are what was sold, now or in an earlier year. */
const SOLD = ['actual', 'lastYear', 'yearBeforeLast'] as const;
const soldOnly = (side: Side): boolean => SOLD.some((name) => name === side.value);

/** What is compared, and how it is looked at. */
export type Asked = Pick<
  ReturnType<typeof useSides>,
  'of' | 'against' | 'beside' | 'coveredBy' | 'covers' | 'sourceOf'
> &
  Pick<ReturnType<typeof useAcross>, 'across' | 'measures'> & {
    /** Whether it is asked by driver why sales differ. */
    readonly byDriver: Ref<boolean>;
  };

/** A side with its numbers: a source, or the target as its tree has it. */
interface HeldSide extends Side {
  readonly is: Comparable;
}

/** The comparison that is looked at: from the numbers at hand, or from the server where only it has them. */
export function useComparison(asked: Asked) {
  const plan = usePlan();
  const frame = useFrame();
  const { span, scope, versionMeasure: measure, rowsWithPeople: rows, books } = frame;
  const { of, against, beside, coveredBy, covers, sourceOf, across, measures, byDriver } = asked;

  /** Sellers and customers stand on the rows: they are known of sales alone. */
  const byPeople = computed(() => {
    const own = plan.workspace?.plan.dimensions.map(({ code }) => code) ?? [];
    return rows.value.some((code) => !own.includes(code));
  });
  /** A side of which nobody knows who sold or bought. */
  const unknown = computed(() =>
    byPeople.value
      ? [of.value, against.value, ...beside.value].find((side) => !soldOnly(side))
      : undefined,
  );
  /** One of the two sides is a target that the year does not have. */
  const targetMissing = ref(false);

  /** The objective of the year in the measure that is shown, by scope; nothing where there is none. */
  async function targetTree(): Promise<TargetParts | undefined> {
    const wanted = {
      fiscalYear: frame.fiscalYear.value,
      ...(books.value ? { origin: 'books' as const } : {}),
    };
    const year = await plan.ask(targetOperations.readTargets, wanted);
    const objective = year.objectives.find((one) => one.measure === measure.value);
    if (!objective) return undefined;
    if (objective.id === year.objective?.id) return targetsByScope(year);
    return targetsByScope(
      await plan.ask(targetOperations.readTargets, { ...wanted, objective: objective.id }),
    );
  }
  const isOf = async (side: Side): Promise<Comparable | undefined> =>
    side.value === TARGET ? targetTree() : sourceOf(side);

  interface Query {
    readonly measure: VersionMeasure;
    readonly rows: readonly string[];
    readonly scope: readonly number[];
    readonly span: typeof span.value;
  }

  /** By sellers and customers: only the server has the lines. */
  async function fromServer(query: Query, others: readonly HeldSide[]) {
    const stands = across.value;
    const { across: columns = null, ...comparison } = await plan.ask(
      comparisonOperations.readComparison,
      {
        ...{ measure: query.measure, rows: query.rows.join(','), scope: query.scope.join(',') },
        ...{ from: monthText(query.span.from), to: monthText(query.span.to) },
        ...{ of: of.value.value, against: against.value.value },
        beside: others.map(({ value }) => value).join(','),
        origin: books.value ? 'books' : 'all',
        ...(stands ? { across: stands } : {}),
        ...(stands === 'measures' ? { measures: measures.value.join(',') } : {}),
      },
    );
    return { comparison, across: columns, byHand: undefined, toGo: null };
  }

  /** From the plan as it is here. */
  async function fromPlan(
    query: Query,
    actual: Comparable,
    planned: Comparable,
    others: readonly HeldSide[],
  ) {
    const stands = across.value;
    const covered = coveredBy([of.value, against.value, ...others]);
    for (const is of [...others.map((side) => side.is), actual, planned]) {
      if ('kind' in is) await plan.loadSource(is);
    }
    await loadRecorded(plan, FORECAST, [
      ...(stands === 'measures' ? measures.value : [query.measure]),
      // Who came and who left is among the drivers of revenue.
      ...(byDriver.value ? (['activeSubscribers'] as const) : []),
    ]);
    const worker = plan.compute();
    const besides = others.map(({ is }) => is);
    const comparison = await worker.compare(actual, planned, query, covered, besides);
    const { from, to } = comparison.span ?? query.span;
    // Who comes and goes is in no sales line that could be entered by hand.
    const plain = MEASURE_CODES.find((code) => code === query.measure);
    const hand = { ...query, columns: 'time', grain: 'year', span: { from, to } } as const;
    const ofSales = 'kind' in actual && actual.kind === 'actual';
    const byHand =
      ofSales && !books.value && plain
        ? await worker.byHandTable({ ...hand, measure: plain })
        : undefined;
    const year = fiscalYearSpan(frame.fiscalYear.value, frame.calendar.value.fiscalStart);
    const toGo =
      ofSales && 'kind' in planned && covers(year)
        ? await worker.stillToGo(actual, planned, query, year)
        : null;
    const [first = query.measure, ...more] = stands === 'measures' ? measures.value : [];
    const columns = stands
      ? await worker.compareAcross(
          actual,
          planned,
          {
            ...{ rows: query.rows, scope: query.scope, span: query.span },
            measures: stands === 'measures' ? [first, ...more] : [query.measure],
            ...(stands === 'measures' ? {} : { grain: stands }),
          },
          covered,
          besides,
        )
      : null;
    return { comparison, across: columns, byHand, toGo };
  }

  const { data, failure } = useAnswer(
    [
      ...[span, scope, measure, rows, of, against, beside, books],
      ...[across, measures, byDriver, () => plan.tick],
    ],
    async () => {
      const sides = { of: of.value, against: against.value };
      const wanted = await Promise.all(
        beside.value.map(async (side) => ({ side, is: await isOf(side) })),
      );
      const others = wanted.flatMap(({ side, is }) => (is ? [{ ...side, is }] : []));
      const [actual, planned] = await Promise.all([isOf(sides.of), isOf(sides.against)]);
      targetMissing.value = !actual || !planned;
      if (!actual || !planned || unknown.value) return undefined;
      const query = {
        ...{ measure: measure.value, rows: rows.value, scope: scope.value, span: span.value },
      };
      const found = byPeople.value
        ? await fromServer(query, others)
        : await fromPlan(query, actual, planned, others);
      const noTarget = others.length < wanted.length;
      return { query, sides, actual, planned, others, noTarget, ...found };
    },
  );
  return { data, failure, byPeople, unknown, targetMissing };
}
