import { ref, watch, type Ref } from 'vue';

/** What is being typed into a form. */
export interface Draft<T> {
  readonly form: Ref<T>;
  /** Begins anew, and lets go of what was typed. */
  begin(): void;
  /**
   * Remembers what is being sent. @returns called when it is kept: begins anew, unless the form is
   * of something else by now, or somebody has typed on meanwhile
   */
  sending(): () => void;
}

/**
 * A form that holds what was typed, whatever arrives: it begins anew for another thing only, and
 * what is known of the same thing goes into it while nobody has touched it.
 * @param key what the form is of
 * @param fresh the form as it begins, from what is known now; plain values
 */
export function useDraft<T>(key: () => string, fresh: () => T): Draft<T> {
  const form = ref(fresh()) as Ref<T>;
  let untouched = JSON.stringify(form.value);
  function begin(): void {
    form.value = fresh();
    untouched = JSON.stringify(form.value);
  }
  watch([key, () => JSON.stringify(fresh())], ([of], [before]) => {
    if (of !== before || JSON.stringify(form.value) === untouched) begin();
  });
  return {
    form,
    begin,
    sending() {
      const sent = JSON.stringify([key(), form.value]);
      return () => {
        if (JSON.stringify([key(), form.value]) === sent) begin();
      };
    },
  };
}
