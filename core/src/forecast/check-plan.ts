import { parseMonth } from '../calendar/month.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import { checkAssumption } from '../drivers/check.ts';
import type { Problem } from '../problem.ts';
import { compile, missingInputs } from './model.ts';
import type { Plan } from './plan.ts';

function problem(code: string, message: string, where: Problem['where'] = {}): Problem {
  return { code, message, where };
}

function calendarProblems({ calendar }: Plan): Problem[] {
  const months = {
    first: calendar.first,
    closedThrough: calendar.closedThrough,
    last: calendar.last,
  };
  const unreadable = Object.entries(months).flatMap(([field, text]) =>
    parseMonth(text) === undefined
      ? [problem('not-a-month', `"${text}" is not a month; write it as 2026-04`, { field })]
      : [],
  );
  if (unreadable.length > 0) return unreadable;
  const inOrder =
    calendar.first <= calendar.closedThrough && calendar.closedThrough < calendar.last;
  return inOrder
    ? []
    : [problem('calendar-order', 'The months of a calendar run first, closedThrough, last')];
}

function combinationProblems(plan: Plan, tree: MemberTree): Problem[] {
  const problems: Problem[] = [];
  const seen = new Map<string, number>();
  const ids = new Set<number>();
  for (const { id, members } of plan.combinations) {
    const where = { combination: id };
    if (ids.has(id)) problems.push(problem('id-twice', `Combination ${id} is there twice`, where));
    ids.add(id);
    if (members.length !== plan.dimensions.length) {
      const message = `Combination ${id} names ${members.length} members; there are ${plan.dimensions.length} dimensions`;
      problems.push(problem('wrong-members', message, where));
      continue;
    }
    members.forEach((member, position) => {
      const name = plan.dimensions[position]?.name ?? '';
      if (!tree.has(member) || tree.dimensionOf(member) !== position) {
        const message = `Combination ${id} names ${member}, which is no member of ${name}`;
        problems.push(problem('unknown-member', message, where));
      } else if (!tree.isLeaf(member)) {
        const message = `Combination ${id} names ${tree.member(member).name}, which has members below it`;
        problems.push(problem('not-a-leaf', message, where));
      }
    });
    const twin = seen.get(members.join());
    if (twin !== undefined) {
      const message = `Combinations ${twin} and ${id} name the same members`;
      problems.push(problem('repeated-combination', message, where));
    }
    seen.set(members.join(), id);
  }
  return problems;
}

function streamProblems(plan: Plan): Problem[] {
  const problems: Problem[] = [];
  const known = new Set(plan.combinations.map(({ id }) => id));
  const taken = new Map<number, number>();
  for (const { id, combination } of plan.streams) {
    const where = { stream: id };
    const other = taken.get(combination);
    if (!known.has(combination)) {
      const message = `Stream ${id} forecasts combination ${combination}, which is not there`;
      problems.push(problem('unknown-combination', message, where));
    } else if (other !== undefined) {
      const message = `Streams ${other} and ${id} forecast the same combination; streams never overlap`;
      problems.push(problem('overlap', message, where));
    }
    taken.set(combination, id);
  }
  return problems;
}

function actualsProblems(plan: Plan): Problem[] {
  const { combination, month, units, revenue, cost } = plan.actuals;
  const lengths = [combination, month, units, revenue, cost].map((column) => column.length);
  if (new Set(lengths).size > 1) {
    const message = `The columns of the actuals have ${lengths.join(', ')} rows; all have one length`;
    return [problem('unequal-columns', message)];
  }
  const known = new Set(plan.combinations.map(({ id }) => id));
  const strange = new Set(combination.filter((id) => !known.has(id)));
  return [...strange].map((id) =>
    problem('unknown-combination', `Actuals name combination ${id}, which is not there`, {
      combination: id,
    }),
  );
}

/**
 * Everything that is wrong with a plan, each with its place: ten mistakes are reported as ten. What
 * an input lacks is told once the plan holds together.
 */
export function checkPlan(plan: Plan): Problem[] {
  const calendar = calendarProblems(plan);
  if (calendar.length > 0) return calendar;
  let tree: MemberTree;
  try {
    tree = new MemberTree(plan.dimensions);
  } catch (error) {
    return [problem('broken-tree', error instanceof Error ? error.message : String(error))];
  }
  const problems = [
    ...combinationProblems(plan, tree),
    ...streamProblems(plan),
    ...actualsProblems(plan),
    ...plan.assumptions.flatMap((assumption) =>
      checkAssumption(assumption, plan).map((found) => ({
        ...found,
        where: { ...found.where, assumption: assumption.id },
      })),
    ),
  ];
  return problems.length > 0 ? problems : missingInputs(compile(plan));
}
