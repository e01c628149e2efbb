/**
 * What the server takes to keep one typed value on the sample company, beside an answer that has
 * next to nothing in it. Started by `npm run bench`, which brings the cluster, the sample and the
 * server.
 */
import { signedIn } from './client.ts';
import { report, say } from './report.ts';

const TIMES = 60;
const { send } = await signedIn();
const base = '/workspaces/1';

/** How long each of many requests took over HTTP, in milliseconds, sorted. */
async function times(request: (turn: number) => Promise<unknown>): Promise<number[]> {
  const taken: number[] = [];
  for (let turn = 0; turn < TIMES; turn += 1) {
    const start = performance.now();
    await request(turn);
    taken.push(performance.now() - start);
  }
  return taken.sort((one, other) => one - other);
}
const at = (sorted: readonly number[], share: number): number =>
  sorted[Math.floor(sorted.length * share)] ?? Number.NaN;

const save = (turn: number, cell: object, kind: 'values' | 'changes'): Promise<unknown> => {
  const month = `2027-${String((turn % 12) + 1).padStart(2, '0')}`;
  const body = { [kind]: [{ scope: [], month, ...cell }] };
  return send('PUT', `${base}/drivers/discount/values`, JSON.stringify(body));
};
await save(0, { value: 0.5 }, 'values');
const empty = at(await times(() => send('GET', `${base}/tokens`)), 0.5);
say('\n## One value kept on the sample company');
for (const [name, taken] of [
  ['a value', await times((turn) => save(turn, { value: (turn % 40) / 100 }, 'values'))],
  [
    'a change of each value below',
    await times((turn) => save(turn, { kind: 'plus', by: 0.001 }, 'changes')),
  ],
] as const) {
  report(`${name}, half of them within`, at(taken, 0.5), empty, 'an empty answer');
  report(`${name}, 19 of 20 within`, at(taken, 0.95), empty, 'an empty answer');
}
