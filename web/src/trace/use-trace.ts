import type { TraceNode, TraceQuestion } from '@dravex/core';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';

/** What is explained: a number that the core is asked for, or one whose explanation is at hand. */
export type Asked =
  | { readonly kind: 'question'; readonly question: TraceQuestion }
  | { readonly kind: 'node'; readonly node: TraceNode; readonly about: string };

/** Asks the core how a number came about. */
export function questioned(question: TraceQuestion): Asked {
  return { kind: 'question', question };
}

/** The drawer that explains a number. Stays closed until somebody asks, and closed when they close it. */
export const useTrace = defineStore('trace', () => {
  const open = ref(false);
  /** What was asked, the newest last; one goes back the way one came. */
  const way = shallowRef<readonly Asked[]>([]);
  const asked = computed(() => way.value.at(-1));

  /** Shows how a number came about. */
  function ask(about: Asked): void {
    follow(about);
    open.value = true;
  }
  /** Explains this number where the drawer is open, and when it is opened. */
  function follow(about: Asked): void {
    way.value = [about];
  }
  /** Goes one step deeper. */
  function deeper(next: Asked): void {
    way.value = [...way.value, next];
  }
  function back(): void {
    if (way.value.length > 1) way.value = way.value.slice(0, -1);
  }
  function close(): void {
    open.value = false;
  }
  /** @returns whether there was something to open or close */
  function toggle(): boolean {
    if (way.value.length === 0) return false;
    open.value = !open.value;
    return true;
  }
  /** Opens the explanation of the cell that was gone to last. */
  function unfold(): void {
    if (way.value.length > 0) open.value = true;
  }
  /** Forgets what was asked: another room has other numbers. */
  function leave(): void {
    way.value = [];
    open.value = false;
  }
  return { open, way, asked, ask, follow, deeper, back, close, toggle, unfold, leave };
});
