import type { ZodType } from 'zod';
import { computed, reactive, ref, watch } from 'vue';
import { useDraft } from './use-draft.ts';
import { useWriting } from './use-writing.ts';

/** What a form is of, how it begins, and what is sent. */
export interface FormOptions<T extends object, Sent> {
  /** What the form is of: for another thing it begins anew. */
  readonly of?: () => string;
  /** The form as it begins, from what is known now; plain values. */
  readonly fresh: () => T;
  /** The contract's own schema of what is sent. */
  readonly schema?: ZodType<unknown, Sent>;
  /** What is sent, from what was typed; without it the form as it was then. */
  readonly body?: (typed: T) => Sent;
  readonly send: (body: Sent) => Promise<unknown>;
  /** What follows when it is kept: the form may have begun anew by then. */
  readonly done?: (sent: Sent) => unknown;
}

const placeOf = (path: readonly PropertyKey[]): string => path.map(String).join('.');

/**
 * A form: it is checked by the contract's own schema as one types, its messages stand at the
 * fields, those of the server at the same places, and nothing that was typed is lost by a refusal
 * or by what others change.
 */
export function useForm<T extends object, Sent = T>(options: FormOptions<T, Sent>) {
  const { form, begin, sending } = useDraft(options.of ?? (() => ''), options.fresh);
  const { busy, failure, errors, write, forget } = useWriting();
  /** Fields that were left, and all of them once it was tried: only these complain. */
  const left = ref(new Set<string>());
  const tried = ref(false);

  const bodyOf = (): Sent => (options.body?.(form.value) ?? { ...form.value }) as Sent;
  const mistakes = computed<ReadonlyMap<string, string>>(() => {
    const issues = options.schema?.safeParse(bodyOf()).error?.issues ?? [];
    return new Map(issues.map(({ path, message }) => [placeOf(path), message]));
  });
  const refused = computed(() => new Map(errors.value.map((e) => [e.path, e.message])));

  /** Places whose messages stand at their fields. */
  const atFields = new Set<string>();
  /** What is wrong with a field, as `error-messages` takes it. */
  function wrong(place: string): string[] {
    atFields.add(place);
    const mistake = tried.value || left.value.has(place) ? mistakes.value.get(place) : undefined;
    const message = mistake ?? refused.value.get(place);
    return message === undefined ? [] : [message];
  }
  /** What a field of the form is bound to: its value, its message, and that it was left. */
  function field<Name extends keyof T & string>(name: Name) {
    return {
      modelValue: form.value[name],
      'onUpdate:modelValue': (value: T[Name]) => {
        form.value[name] = value;
      },
      onBlur: () => left.value.add(name),
      errorMessages: wrong(name),
    };
  }
  function anew(): void {
    begin();
    left.value = new Set();
    tried.value = false;
    forget();
  }
  watch(() => options.of?.(), anew);

  /** Sends what was typed, unless something is wrong with it. @returns whether it was kept */
  async function submit(): Promise<boolean> {
    tried.value = true;
    if (mistakes.value.size > 0) {
      // What no field shows is said above the buttons.
      const hidden = [...mistakes.value].find(([place]) => !atFields.has(place));
      failure.value = hidden?.[1] ?? '';
      return false;
    }
    const kept = sending();
    const body = bodyOf();
    const done = await write(
      () => options.send(body),
      async () => {
        kept();
        tried.value = false;
        left.value = new Set();
        await options.done?.(body);
      },
    );
    if (errors.value.some(({ path, message }) => message === failure.value && atFields.has(path))) {
      failure.value = '';
    }
    return done;
  }
  /** What a `FormDialog` is bound to. */
  const dialog = reactive({ busy, failure, onSubmit: submit });
  return { form, field, wrong, mistakes, submit, busy, failure, dialog, begin: anew };
}
