/** What every mounted component has around it: Vuetify as Dravex wears it, and a store. */
import { createPinia, setActivePinia } from 'pinia';
import { mount } from '@vue/test-utils';
import { defineComponent, h, nextTick, type Plugin } from 'vue';
import { dravexVuetify } from '../src/kit/vuetify.ts';

/** Options for `mount`: on the page, dressed, with a fresh store. */
export function dressed() {
  const pinia = createPinia();
  setActivePinia(pinia);
  return { attachTo: document.body, global: { plugins: [pinia, dravexVuetify()] } };
}

/** Runs a composable inside a component, as a room does. */
export function within<T>(
  composable: () => T,
  options = dressed(),
  ...plugins: readonly Plugin[]
): { used: T; end(): void } {
  let used: T | undefined;
  const wrapper = mount(
    defineComponent({
      setup() {
        used = composable();
        return () => h('div');
      },
    }),
    { ...options, global: { plugins: [...options.global.plugins, ...plugins] } },
  );
  return { used: used as T, end: () => wrapper.unmount() };
}

/** Lets what follows from a change happen: drawing, then whatever waits for a frame. */
export async function settle(): Promise<void> {
  for (let turn = 0; turn < 4; turn += 1) {
    await nextTick();
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
}
