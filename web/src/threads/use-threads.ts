import { threadOperations, type Thread, type ThreadPlace, type ThreadRoom } from '@dravex/contract';
import { monthFrom, monthText, VERSION_CODES, type Scope, type Span } from '@dravex/core';
import { computed, ref, type ComputedRef } from 'vue';
import { useAnswer } from '../plan/use-answer.ts';
import { usePlan } from '../plan/use-plan.ts';
import { TEXTS } from './texts.ts';

/** A number of a table: what it measures, of what, in which months. */
export interface NumberPlace {
  readonly measure: string;
  readonly scope: Scope;
  readonly span: Pick<Span, 'from' | 'to'>;
}

/** Numbers are the same where they measure the same of the same in the same months. */
export function numberKey({ measure, scope, span }: NumberPlace): string {
  return `${measure} ${scope.toSorted((a, b) => a - b).join()} ${monthText(span.from)} ${monthText(span.to)}`;
}

/** What a table is told of comments: which numbers have an open one, and how to look at one’s. */
export interface CommentsOn {
  readonly open: ReadonlySet<string>;
  /** Nothing where the number is of a kind that is not commented on. */
  look(place: NumberPlace): void;
}

/** How many comments wait for an answer, as an entry of a menu. */
export function commentsInWords(open: number): string {
  return open > 0 ? TEXTS.allCommentsOpen(open) : TEXTS.allComments;
}

/** What changes at once is asked about once, in milliseconds. */
const TOGETHER_MS = 300;

/** What was said of the numbers of a room, of the sides that it shows. */
export function useThreads(
  room: ThreadRoom,
  sides: () => { readonly source: string; readonly against: string | null } | undefined,
) {
  const plan = usePlan();
  const { data, failure } = useAnswer(
    [() => plan.tick, () => plan.savedAt],
    () => plan.ask(threadOperations.readThreads, { room }),
    TOGETHER_MS,
  );
  const shown = computed(() => {
    const now = sides();
    return (data.value ?? []).filter(
      ({ source, against }) => source === now?.source && against === now.against,
    );
  });
  const keyOf = ({ measure, scope, from, to }: ThreadPlace): string =>
    numberKey({ measure, scope, span: { from: monthFrom(from), to: monthFrom(to) } });
  const open = computed(
    () => new Set(shown.value.flatMap((one) => (one.resolved ? [] : [keyOf(one)]))),
  );
  /** The number whose thread is looked at. */
  const looked = ref<ThreadPlace>();
  const thread = computed(() => {
    const key = looked.value && keyOf(looked.value);
    return shown.value.find((one) => keyOf(one) === key);
  });
  const on: ComputedRef<CommentsOn> = computed(() => ({
    open: open.value,
    look({ measure, scope, span }) {
      const now = sides();
      const code = VERSION_CODES.find((one) => one === measure);
      if (!now || !code) return;
      looked.value = {
        ...{ room, ...now, measure: code, scope: [...scope] },
        ...{ from: monthText(span.from), to: monthText(span.to) },
      };
    },
  }));
  const lookAt = ({ source, against, measure, scope, from, to }: Thread): void => {
    looked.value = { room, source, against, measure, scope, from, to };
  };
  const openCount = computed(() => open.value.size);
  return { threads: shown, failure, looked, thread, on, openCount, listing: ref(false), lookAt };
}
