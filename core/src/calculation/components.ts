/** Puts what depends on each other in an order in which it can be computed. */

/** That something reads another one, at the least so many months back. */
export interface Reading {
  readonly of: number;
  readonly lag: number;
}

/** What has to be computed together, and whether that is month by month. */
export interface Component {
  /** In an order in which each comes after what it reads in the same month. */
  readonly parts: readonly number[];
  /** Whether its parts read each other's months before. */
  readonly together: boolean;
  /** A way round that passes no lag, as a list that starts and ends with the same; null where there is none. */
  readonly circle: readonly number[] | null;
}

/** Parts in the order of what they read in the same month; or a way round among them. */
function inMonth(
  parts: readonly number[],
  readings: readonly (readonly Reading[])[],
): { order: number[]; circle: number[] | null } {
  const inside = new Set(parts);
  const state = new Map<number, 'open' | 'done'>();
  const order: number[] = [];
  const path: number[] = [];
  let circle: number[] | null = null;
  const visit = (at: number): void => {
    if (circle || state.get(at) === 'done') return;
    if (state.get(at) === 'open') {
      circle = [...path.slice(path.indexOf(at)), at];
      return;
    }
    state.set(at, 'open');
    path.push(at);
    for (const { of, lag } of readings[at] ?? []) if (lag === 0 && inside.has(of)) visit(of);
    path.pop();
    state.set(at, 'done');
    order.push(at);
  };
  for (const part of parts) visit(part);
  return { order: circle ? [...parts] : order, circle };
}

/**
 * Groups things into components, each after what it reads. Things that read each other in a circle
 * are one component; that can be computed month by month where each way round passes a lag.
 * @param readings what each thing reads, by place
 */
export function componentsOf(readings: readonly (readonly Reading[])[]): Component[] {
  const index = new Int32Array(readings.length).fill(-1);
  const low = new Int32Array(readings.length);
  const onStack = new Uint8Array(readings.length);
  const stack: number[] = [];
  const components: Component[] = [];
  let next = 0;
  // Without recursion: a chain may be as long as there are streams.
  for (let root = 0; root < readings.length; root += 1) {
    if (index[root] !== -1) continue;
    const work: { at: number; edge: number }[] = [{ at: root, edge: 0 }];
    while (work.length > 0) {
      const frame = work.at(-1);
      if (!frame) break;
      const { at } = frame;
      if (frame.edge === 0 && index[at] === -1) {
        index[at] = next;
        low[at] = next;
        next += 1;
        stack.push(at);
        onStack[at] = 1;
      }
      const reading = readings[at]?.[frame.edge];
      if (reading) {
        frame.edge += 1;
        const { of } = reading;
        if (index[of] === -1) work.push({ at: of, edge: 0 });
        else if (onStack[of] === 1) low[at] = Math.min(low[at] ?? 0, index[of] ?? 0);
        continue;
      }
      work.pop();
      const above = work.at(-1);
      if (above) low[above.at] = Math.min(low[above.at] ?? 0, low[at] ?? 0);
      if (low[at] !== index[at]) continue;
      const parts: number[] = [];
      for (let member = -1; member !== at;) {
        member = stack.pop() ?? at;
        onStack[member] = 0;
        parts.push(member);
      }
      parts.reverse();
      const itself = (readings[at] ?? []).some(({ of }) => of === at);
      const together = parts.length > 1 || itself;
      const { order, circle } = together
        ? inMonth(parts, readings)
        : { order: parts, circle: null };
      components.push({ parts: order, together, circle });
    }
  }
  return components;
}
