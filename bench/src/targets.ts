/**
 * What a change of a tree of 5,000 targets takes beside a bare loop over the same tree that adds
 * parts and ratios up in floating point, without dividing to the cent, in one run.
 */
import {
  divideTarget,
  EVERYTHING,
  PLAIN_ENTRY,
  retarget,
  type TargetEntry,
  type TargetLine,
} from '@dravex/core';
import { median, report, say } from './report.ts';

const [AREAS, PEOPLE] = [70, 70];
const WHOLE = 5_000_000_000;
const season = Array.from({ length: 12 }, (_, month) => 300_000 + ((month * 7) % 12) * 10_000);

function lineOf(id: number, parent: number | null, amount: number): TargetLine {
  const entry: TargetEntry = {
    ...PLAIN_ENTRY,
    ...{ id, parent, name: `N${id}` },
    kind: parent === null ? 'company' : 'person',
    part: { kind: 'amount', amount },
  };
  return {
    ...{ entry, level: 0, holder: EVERYTHING, known: true, amount, share: null },
    ...{ assignable: amount, unassigned: null, overAssigned: null, cushionUsed: 0 },
    ...{ percentsBelow: 0, others: null, aheadShare: 1, ahead: 0, capacity: null, best: 0 },
    ...{ lastYear: 1 + ((id * 7919) % 100_000), actual: 400_000, outlook: 1 + (id % 977) },
    ...{ months: season, due: 0.5, attained: 0.4, toDate: 0.8, pace: 1 },
  };
}
const lines: TargetLine[] = [lineOf(1, null, WHOLE)];
for (let area = 0; area < AREAS; area += 1) {
  const id = 2 + area * (PEOPLE + 1);
  lines.push(lineOf(id, 1, Math.floor(WHOLE / AREAS)));
  for (let person = 1; person <= PEOPLE; person += 1) {
    lines.push(lineOf(id + person, id, Math.floor(WHOLE / AREAS / PEOPLE)));
  }
}
const known = { measure: 'revenue', closedMonths: 6 } as const;
const flat = lines.map(({ entry, ...line }) => ({ ...line, ...entry, months: line.months }));
/** As it stands: what follows from what is there. */
const nodes = retarget(flat, new Map(), known);
const below = new Map<number, TargetLine[]>();
for (const line of lines) {
  const { parent } = line.entry;
  if (parent !== null) below.set(parent, [...(below.get(parent) ?? []), line]);
}

/** The same by hand: what parts come to, what is left, and how much is reached. */
function bare(): number {
  let left = 0;
  for (const { entry, amount, actual, months } of lines) {
    const parts = below.get(entry.id) ?? [];
    left += amount - parts.reduce((sum, part) => sum + part.amount, 0);
    left += actual / (months ?? []).slice(0, 6).reduce((sum, month) => sum + month, 0);
  }
  return left;
}

const part = (amount: number) => ({ kind: 'amount', amount }) as const;
const one = new Map([[3, part(900_000)]]);
const top = new Map([[1, part(Math.round(WHOLE * 1.1))]]);
const percents = flat.map((node) => ({
  ...node,
  part: { kind: 'percent', percent: 1.4 } as const,
}));
const all = retarget(percents, new Map(), known);
const division = { mix: { lastYear: 60, forecast: 40 }, withCushion: false, deep: true };

say(`Targets, a tree of ${lines.length} nodes`);
for (let warm = 0; warm < 5; warm += 1) {
  retarget(nodes, one, known);
  divideTarget(lines, 1, division);
  bare();
}
const loop = median(15, () => void bare());
report('bare loop in floating point', loop, loop, 'bare loop');
report(
  'one target typed',
  median(15, () => void retarget(nodes, one, known)),
  loop,
  'bare loop',
);
report(
  'the objective typed, all parts percents',
  median(15, () => void retarget(all, top, known)),
  loop,
  'bare loop',
);
report(
  'all divided by a mix of two bases, to the cent',
  median(15, () => void divideTarget(lines, 1, division)),
  loop,
  'bare loop',
);
