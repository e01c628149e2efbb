import { defineStore } from 'pinia';
import { ref } from 'vue';
import { useTrace } from '../trace/use-trace.ts';

/** The drawer with what was changed; it and the trace take the same place. */
export const useHistory = defineStore('history', () => {
  const open = ref(false);
  const trace = useTrace();
  function toggle(): void {
    open.value = !open.value;
    if (open.value) trace.close();
  }
  function close(): void {
    open.value = false;
  }
  return { open, toggle, close };
});
