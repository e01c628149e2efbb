import { computed, isRef, ref, watch, type Ref } from 'vue';
import { useLayout } from '../people/use-layout.ts';

interface Foldable {
  readonly key: string;
  readonly level: number;
  readonly parent: boolean;
  /** A further line of the row before it: in sight wherever that is. */
  readonly line?: boolean;
}

/**
 * Which rows of a tree are in sight. Rows deeper than `depth` are folded away until somebody opens
 * the row above them.
 * @param rows in the order of display, children after their parent
 * @param startDepth how deep rows are open; where it changes from outside, what was turned is forgotten
 * @param name under which it is remembered for the person what was turned; left out, it is not
 */
export function useFolding<R extends Foldable>(
  rows: Ref<readonly R[]>,
  startDepth: number | Ref<number>,
  name?: string,
) {
  const depth = isRef(startDepth) ? ref(startDepth.value) : ref(startDepth);
  if (isRef(startDepth)) watch(startDepth, showDepth);
  /** Rows whose state is not what the depth says. */
  const layout = name === undefined ? undefined : useLayout();
  const turned = ref<ReadonlySet<string>>(new Set(layout?.turnedIn(name ?? '')));
  watch(turned, (now) => layout?.setTurned(name ?? '', [...now]));

  function isFolded(row: Foldable): boolean {
    return row.parent && row.level >= depth.value !== turned.value.has(row.key);
  }

  const visible = computed(() => {
    const shown: (R & { folded: boolean })[] = [];
    let hiddenBelow = Number.POSITIVE_INFINITY;
    for (const row of rows.value) {
      if (row.level > hiddenBelow) continue;
      if (row.line) {
        shown.push({ ...row, folded: false });
        continue;
      }
      const folded = isFolded(row);
      hiddenBelow = folded ? row.level : Number.POSITIVE_INFINITY;
      shown.push({ ...row, folded });
    }
    return shown;
  });

  function toggle(key: string): void {
    const next = new Set(turned.value);
    if (!next.delete(key)) next.add(key);
    turned.value = next;
  }

  /** Brings a row into sight: everything above it is opened. */
  function unfold(key: string): void {
    const path: R[] = [];
    for (const row of rows.value) {
      path.length = Math.min(path.length, row.level);
      path.push(row);
      if (row.key === key) break;
    }
    const next = new Set(turned.value);
    for (const row of path.slice(0, -1)) {
      if (isFolded(row) && !next.delete(row.key)) next.add(row.key);
    }
    turned.value = next;
  }

  function showDepth(level: number): void {
    depth.value = level;
    turned.value = new Set();
  }

  return { visible, toggle, unfold, depth, showDepth };
}
