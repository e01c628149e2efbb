import type { Notice } from '@dravex/contract';
import { onBeforeUnmount, watch } from 'vue';
import { WORDS } from '../format/words.ts';
import { useSession } from '../people/use-session.ts';
import { followNotices, type Heard } from './follow-notices.ts';
import { TEXTS } from './texts.ts';
import { usePlan } from './use-plan.ts';

/** What a room is called in a sentence. */
const ROOM_NAMES: Readonly<Record<Notice['room'], string>> = {
  dimensions: 'dimensions',
  actuals: WORDS.actuals,
  drivers: WORDS.drivers,
  forecast: WORDS.forecast,
  targets: WORDS.targets,
  budget: WORDS.budget,
  closing: WORDS.closing,
  people: 'people',
  workspace: TEXTS.theWorkspace,
};

/** Follows the change notices of the workspace in force. */
export function useNotices(): void {
  const plan = usePlan();
  const session = useSession();
  let stop: (() => void) | undefined;

  function hear(heard: Heard): void {
    if ('by' in heard) {
      const others = heard.by !== session.person?.name;
      void plan.hear(heard.revision, others ? heard.by : undefined, ROOM_NAMES[heard.room]);
    } else void plan.hear(heard.revision);
  }

  watch(
    () => plan.workspaceId,
    (id) => {
      stop?.();
      stop = id > 0 ? followNotices(id, hear) : undefined;
    },
    { immediate: true },
  );
  onBeforeUnmount(() => stop?.());
}
