import { parseMonth } from '../calendar/month.ts';
import { MemberTree } from '../dimensions/member-tree.ts';
import { checkAssumption, crowded, MOST_AT_SCOPE } from '../drivers/check.ts';
import type { Problem } from '../problem.ts';
import { checkDriver } from '../drivers/driver.ts';
import { scopeKey } from '../drivers/scope-key.ts';
import { METHODS } from '../forecast/methods/index.ts';
import type { Plan } from '../forecast/plan.ts';
import { compile, evaluate, stretchAnew, stretchOf, type Model } from '../forecast/run.ts';
import { missingInputs } from './missing-inputs.ts';
import { withoutValue } from './no-value.ts';

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
  const combinationIds = new Set(plan.combinations.map(({ id }) => id));
  const taken = new Map<number, number>();
  for (const { id, combination } of plan.streams) {
    const where = { stream: id };
    const other = taken.get(combination);
    if (!combinationIds.has(combination)) {
      const message = `Stream ${id} forecasts combination ${combination}, which is not there`;
      problems.push(problem('unknown-combination', message, where));
    } else if (other !== undefined) {
      const message = `Forecast lines ${other} and ${id} are of the same combination; there can be only one`;
      problems.push(problem('overlap', message, where));
    }
    taken.set(combination, id);
  }
  return problems;
}

function actualsProblems(plan: Plan): Problem[] {
  const { combination, month, units, revenue, cost, byHand } = plan.actuals;
  const lengths = [combination, month, units, revenue, cost].map((column) => column.length);
  if (new Set(lengths).size > 1) {
    const message = `The columns of the actuals have ${lengths.join(', ')} rows; all have one length`;
    return [problem('unequal-columns', message)];
  }
  const hand = byHand ? Object.values(byHand).map((column) => column.length) : [];
  if (new Set(hand).size > 1 || byHand?.row.some((row) => row >= combination.length)) {
    const message = `What was entered by hand names rows of the actuals, of which there are ${combination.length}, in columns of one length`;
    return [problem('unequal-columns', message)];
  }
  const combinationIds = new Set(plan.combinations.map(({ id }) => id));
  const strange = new Set(combination.filter((id) => !combinationIds.has(id)));
  return [...strange].map((id) =>
    problem('unknown-combination', `Actuals name combination ${id}, which is not there`, {
      combination: id,
    }),
  );
}

/** What is wrong with the drivers that a plan has. */
function driverProblems({ drivers }: Plan): Problem[] {
  const seen = new Set<string>();
  return drivers.flatMap((driver) => {
    const { code } = driver;
    const twice = seen.has(code)
      ? [problem('driver-twice', `There are two drivers "${code}"`, { driver: code })]
      : [];
    seen.add(code);
    return [...twice, ...checkDriver(driver)];
  });
}

/** What is wrong with changes that are laid over drivers: unknown drivers and members, months. */
function adjustmentProblems({ adjustments = [], drivers }: Plan, tree: MemberTree): Problem[] {
  const driverCodes = new Set(drivers.map(({ code }) => code));
  return adjustments.flatMap(({ id, driver, scope, from, to, value }): Problem[] => {
    const where = { adjustment: id };
    if (!driverCodes.has(driver)) {
      const message = `Adjustment ${id} is of the driver "${driver}", which is not there`;
      return [problem('unknown-adjusted', message, where)];
    }
    const strange = scope.find((member) => !tree.has(member));
    if (strange !== undefined) {
      return [problem('unknown-member', `There is no member ${strange}`, where)];
    }
    const month = [from, to].find((text) => text !== null && parseMonth(text) === undefined);
    if (month) {
      const message = `"${month}" is not a month; write it as 2026-04`;
      return [problem('not-a-month', message, where)];
    }
    return Number.isFinite(value)
      ? []
      : [problem('not-a-number', `Adjustment ${id} has no number`, where)];
  });
}

/** What is typed over months or streams that cannot take it. */
function overrideProblems(plan: Plan): Problem[] {
  const streams = new Set(plan.streams.map(({ combination }) => combination));
  return (plan.overrides ?? []).flatMap(({ combination, month, value }) => {
    const where = { combination, month };
    if (parseMonth(month) === undefined) {
      return [problem('not-a-month', `"${month}" is not a month; write it as 2026-04`, where)];
    }
    if (!Number.isFinite(value)) {
      return [problem('not-a-number', `The override of ${month} is not a number`, where)];
    }
    return streams.has(combination)
      ? []
      : [
          problem(
            'unknown-stream',
            `Combination ${combination} has no forecast line to override`,
            where,
          ),
        ];
  });
}

/** What is wrong with how streams are set: their methods, the drivers they name, circles. */
function methodProblems(model: Model): Problem[] {
  const problems: Problem[] = [];
  model.streams.forEach(({ stream, combination, codes, mistakes, anew }, index) => {
    const label = model.tree.label(combination.members);
    const where = { stream: stream.id };
    for (const code of new Set(codes)) {
      if (model.drivers.holdings.has(code)) continue;
      const message = `${label} reads the driver "${code}", which is not there`;
      problems.push(problem('unknown-driver', message, { ...where, driver: code }));
    }
    for (const message of mistakes) problems.push(problem('method', `${label}: ${message}`, where));
    for (const { combination: fed } of METHODS[stream.method].feeds?.(stream) ?? []) {
      const other = model.streams[model.placeOf.get(fed) ?? -1];
      if (other?.stream.method === stream.method) continue;
      const message = other
        ? `${label}: ${model.tree.label(other.combination.members)} is no ${METHODS[stream.method].name.toLowerCase()}, so nobody can change over to it`
        : `${label}: The forecast line that subscribers change over to is not there`;
      problems.push(problem('method', message, where));
    }
    const stretches = [
      stretchOf(model, index),
      ...anew.map((months) => stretchAnew(model, index, months)),
    ];
    for (const stretch of stretches) {
      const { problems: wrong, notes } = METHODS[stretch.stream.method];
      for (const message of wrong?.(stretch) ?? []) {
        problems.push(problem('method', `${label}: ${message}`, where));
      }
      for (const message of notes?.(stretch) ?? []) {
        problems.push(problem('no-history', `${label}: ${message}`, where));
      }
    }
  });
  for (const { circle } of model.components) {
    if (!circle) continue;
    const names = circle.map((part) =>
      model.tree.label(model.streams[part]?.combination.members ?? []),
    );
    const message = `Forecast lines read each other in a circle: ${names.join(' → ')}. Let one of them read a month before`;
    problems.push(
      problem('circle', message, { stream: model.streams[circle[0] ?? 0]?.stream.id ?? 0 }),
    );
  }
  return problems;
}

/** Problems with which a plan cannot be laid out at all; with all others the rest computes. */
const BREAKING: ReadonlySet<string> = new Set([
  'unknown-member',
  'two-members',
  'month-outside',
  'not-a-month',
  'calendar-order',
  'broken-tree',
  'id-twice',
  'wrong-members',
  'not-a-leaf',
  'repeated-combination',
  'unknown-combination',
  'overlap',
  'unequal-columns',
  'driver-twice',
]);

/** Whether a plan with this problem computes nothing; with others it computes the rest. */
export function breaksPlan({ code }: Pick<Problem, 'code'>): boolean {
  return BREAKING.has(code);
}

/**
 * Everything that is wrong with a plan that is laid out: drivers, methods, circles, missing inputs,
 * and every stream with a month without a value of which nothing else is told.
 * @param model evaluated
 */
export function modelProblems(model: Model): Problem[] {
  const problems = [...model.drivers.problems, ...methodProblems(model), ...missingInputs(model)];
  const told = new Set(problems.map(({ where }) => Number(where['stream'])));
  return [...problems, ...withoutValue(model, told)];
}

/** Scopes at which more assumptions of a driver stand than are looked at. */
function crowdedScopes({ assumptions, drivers }: Plan, tree: MemberTree): Problem[] {
  const counts = new Map<string, number>();
  return assumptions.flatMap(({ id, driver, scope }) => {
    const key = `${driver} ${scopeKey(scope)}`;
    const count = (counts.get(key) ?? 0) + 1;
    counts.set(key, count);
    if (count !== MOST_AT_SCOPE + 1 || !scope.every((member) => tree.has(member))) return [];
    const name = drivers.find(({ code }) => code === driver)?.name ?? driver;
    const told = crowded(name, tree.label(scope));
    return [{ ...told, where: { ...told.where, assumption: id } }];
  });
}

/**
 * Everything that is wrong with a plan, each with its place: ten mistakes are reported as ten. What
 * its streams lack is told once it holds together.
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
  const structure = [
    ...combinationProblems(plan, tree),
    ...streamProblems(plan),
    ...actualsProblems(plan),
  ];
  const assumptions = plan.assumptions.flatMap((assumption) =>
    checkAssumption(assumption, { ...plan, restsBeyond: true }).map((problem) => ({
      ...problem,
      where: { ...problem.where, assumption: assumption.id },
    })),
  );
  const problems = [
    ...structure,
    ...driverProblems(plan),
    ...assumptions,
    ...crowdedScopes(plan, tree),
    ...overrideProblems(plan),
  ];
  problems.push(...adjustmentProblems(plan, tree));
  return problems.some(breaksPlan)
    ? problems
    : [...problems, ...modelProblems(evaluate(compile(plan)))];
}
