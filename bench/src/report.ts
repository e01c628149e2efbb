/** Writing down what was measured. */

export function say(line: string): void {
  process.stdout.write(`${line}\n`);
}

/** A line with a time and its ratio to a peer measured in the same run. */
export function report(name: string, time: number, peer: number, peerName: string): void {
  const ratio = (time / peer).toFixed(2);
  say(
    `  ${name.padEnd(34)} ${time.toFixed(3).padStart(11)} ms  ${ratio.padStart(8)} x ${peerName}`,
  );
}

/** The median time of some runs, in milliseconds. */
export function median(runs: number, work: () => void): number {
  const times = Array.from({ length: runs }, () => {
    const start = performance.now();
    work();
    return performance.now() - start;
  }).sort((a, b) => a - b);
  return times[Math.floor(runs / 2)] ?? NaN;
}

/** The same for work that takes its time. */
export async function medianOf(runs: number, work: () => Promise<unknown>): Promise<number> {
  const times: number[] = [];
  for (let run = 0; run < runs; run += 1) {
    const start = performance.now();
    await work();
    times.push(performance.now() - start);
  }
  return times.sort((a, b) => a - b)[Math.floor(runs / 2)] ?? NaN;
}
