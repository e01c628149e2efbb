import { useLocalStorage } from '@vueuse/core';
import { computed, isRef, ref, watch, type Ref } from 'vue';

interface Foldable {
  readonly key: string;
  readonly level: number;
  readonly parent: boolean;
  /** A further line of the row before it: in sight wherever that is. */
  readonly line?: boolean;
}

/** What somebody turned in a table, as this browser remembers it. */
function foldedIn(name: string): Ref<string[]> {
  return useLocalStorage<string[]>(`dravex.folded.${name}`, []);
}

/**
 * Which rows of a tree are in sight. Rows deeper than `depth` are folded away until somebody opens
 * the row above them.
 * @param rows in the order of display, children after their parent
 * @param startDepth how deep rows are open; where it changes from outside, what was turned is forgotten
 * @param name under which this browser remembers what was turned; left out, it does not
 */
export function useFolding<R extends Foldable>(
  rows: Ref<readonly R[]>,
  startDepth: number | Ref<number>,
  name?: string,
) {
  const depth = isRef(startDepth) ? ref(startDepth.value) : ref(startDepth);
  if (isRef(startDepth)) watch(startDepth, showDepth);
  /** Rows whose state is not what the depth says. */
  const remembered = name === undefined ? undefined : foldedIn(name);
  const turned = ref<ReadonlySet<string>>(new Set(remembered?.value));
  watch(turned, (now) => {
    if (remembered) remembered.value = [...now];
  });

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

  function showDepth(level: number): void {
    depth.value = level;
    turned.value = new Set();
  }

  return { visible, toggle, depth, showDepth };
}
