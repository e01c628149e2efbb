import { sessionOperations, type Layout } from '@dravex/contract';
import { useDebounceFn } from '@vueuse/core';
import { call } from '../shell/client.ts';
import { useSession } from './use-session.ts';

/** What is laid out in one go, by dragging, is sent once. */
const KEEP_MS = 400;
/** So many are remembered; of more, those that were laid out first are forgotten. */
const MOST = 2000;

function newest<T>(record: Readonly<Record<string, T>>): Record<string, T> {
  return Object.fromEntries(Object.entries(record).slice(-MOST));
}

/** How the person who is signed in has laid out tables: it is the same on every machine. */
export function useLayout() {
  const session = useSession();
  const layout = (): Layout => session.session?.layout ?? { widths: {}, folded: {} };
  /** What is not kept is forgotten at the next sign-in; nobody is bothered with it. */
  const keep = useDebounceFn(
    () => call(sessionOperations.keepLayout, {}, layout()).catch(() => undefined),
    KEEP_MS,
  );
  function change(part: Partial<Layout>): void {
    if (!session.session) return;
    session.session.layout = { ...layout(), ...part };
    void keep();
  }
  return {
    widthOf: (column: string): number | undefined => layout().widths[column],
    /** As it was dragged; undefined as its numbers need it. */
    setWidth(column: string, width: number | undefined): void {
      const { [column]: _, ...others } = layout().widths;
      change({ widths: newest(width === undefined ? others : { ...others, [column]: width }) });
    },
    /** The rows of a table that are not as they are at first. */
    turnedIn: (table: string): readonly string[] => layout().folded[table] ?? [],
    setTurned(table: string, rows: readonly string[]): void {
      const { [table]: _, ...others } = layout().folded;
      change({ folded: newest({ ...others, [table]: rows.slice(0, MOST) }) });
    },
  };
}
