/** What every mounted component has around it: Vuetify as Dravex wears it, and a store. */
import { createPinia, setActivePinia } from 'pinia';
import { nextTick } from 'vue';
import { dravexVuetify } from '../src/kit/vuetify.ts';

/** Options for `mount`: on the page, dressed, with a fresh store. */
export function dressed() {
  const pinia = createPinia();
  setActivePinia(pinia);
  return { attachTo: document.body, global: { plugins: [pinia, dravexVuetify()] } };
}

/** Lets what follows from a change happen: drawing, then whatever waits for a frame. */
export async function settle(): Promise<void> {
  for (let turn = 0; turn < 4; turn += 1) {
    await nextTick();
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
}
