import { onMounted, useTemplateRef } from 'vue';

/**
 * Gives a field the focus when a page opens. It gets it once, at once: the components' own
 * `autofocus` waits until the field is seen, and then takes the focus from wherever somebody is
 * typing by then.
 * @param name the field's `ref` in the template
 */
export function useFirstFocus(name: string): void {
  const field = useTemplateRef<{ focus(): void }>(name);
  onMounted(() => field.value?.focus());
}
