import { noticeSchema, type Notice } from '@dravex/contract';
import { onBeforeUnmount, watch } from 'vue';
import { useSession } from '../people/use-session.ts';
import { usePlan } from './use-plan.ts';

/** What tabs of one browser tell each other: a notice, or that a revision is there. */
type Message = Notice | { readonly revision: number };

/** What a room is called in a sentence. */
const ROOM_NAMES: Readonly<Record<Notice['room'], string>> = {
  dimensions: 'dimensions',
  actuals: 'Actuals',
  drivers: 'Drivers',
  forecast: 'Forecast',
  targets: 'Targets',
  budget: 'Budget',
  closing: 'Closing',
  people: 'people',
  workspace: 'the workspace',
};

/**
 * Follows the change notices of the workspace in force. One tab of a browser keeps the stream and
 * tells the others; when it closes, another one takes over.
 */
export function useNotices(): void {
  const plan = usePlan();
  const session = useSession();
  let stop: (() => void) | undefined;

  function hear(message: Message): void {
    if ('by' in message) {
      const others = message.by !== session.person?.name;
      void plan.hear(message.revision, others ? message.by : undefined, ROOM_NAMES[message.room]);
    } else void plan.hear(message.revision);
  }

  function follow(workspaceId: number): () => void {
    const channel = new BroadcastChannel(`dravex ${workspaceId}`);
    channel.onmessage = ({ data }: MessageEvent<Message>) => hear(data);
    const ended = new AbortController();
    const open = (): Promise<void> =>
      new Promise((resolve) => {
        const stream = new EventSource(`/api${plan.path('/notices')}`);
        const tell = (message: Message): void => {
          hear(message);
          channel.postMessage(message);
        };
        stream.addEventListener('change', ({ data }) =>
          tell(noticeSchema.parse(JSON.parse(String(data)))),
        );
        // After a break the stream starts anew and says where the workspace is.
        stream.addEventListener('start', ({ data }) =>
          tell({ revision: (JSON.parse(String(data)) as { revision: number }).revision }),
        );
        ended.signal.addEventListener('abort', () => {
          stream.close();
          resolve();
        });
      });
    // Locks need a secure context; without them every tab keeps a stream of its own.
    const locks = (navigator as { locks?: LockManager }).locks;
    if (locks) {
      const name = `dravex notices ${workspaceId}`;
      locks.request(name, { signal: ended.signal }, open).catch(() => undefined);
    } else void open();
    return () => {
      ended.abort();
      channel.close();
    };
  }

  watch(
    () => plan.workspaceId,
    (id) => {
      stop?.();
      stop = id > 0 ? follow(id) : undefined;
    },
    { immediate: true },
  );
  onBeforeUnmount(() => stop?.());
}
