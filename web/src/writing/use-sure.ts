import { computed, watch, type Ref } from 'vue';

/**
 * A form whose server asks whether something is meant: what it asks is said, and the same button
 * does it then. Whoever changes something else in the form is asked anew.
 * @param wrong what the server refused at a field, as `useForm` gives it
 * @returns what is asked; empty while nothing is
 */
export function useSure<T extends { sure: boolean }>(
  form: Ref<T>,
  wrong: (place: string) => string[],
) {
  const refused = computed(() => wrong('sure').join(' '));
  watch(refused, (text) => {
    if (text !== '') form.value.sure = true;
  });
  watch(
    () => JSON.stringify({ ...form.value, sure: false }),
    () => (form.value.sure = false),
  );
  return computed(() => (form.value.sure ? refused.value : ''));
}
