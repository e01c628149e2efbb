import { journalOperations, noticeSchema, progressSchema, type Notice } from '@dravex/contract';
import { hearProgress } from '../shell/api.ts';
import { addressOf } from '../shell/client.ts';

/** What was heard of a workspace: a write, or that a revision is there. */
export type Heard = Notice | { readonly revision: number };
/** What tabs of one browser tell each other of what comes in. */
type Message =
  | { readonly kind: 'heard'; readonly heard: Heard }
  | { readonly kind: 'progress'; readonly progress: unknown };

/**
 * Follows the change notices of a workspace, and how far its own long writes are. One tab of a
 * browser keeps the stream and tells the others; when it closes, another one takes over.
 * @returns how to stop
 */
export function followNotices(workspaceId: number, hear: (heard: Heard) => void): () => void {
  const channel = new BroadcastChannel(`dravex ${workspaceId}`);
  const take = (message: Message): void => {
    if (message.kind === 'heard') hear(message.heard);
    else hearProgress(progressSchema.parse(message.progress));
  };
  channel.onmessage = ({ data }: MessageEvent<Message>) => take(data);
  const ended = new AbortController();
  const open = (): Promise<void> =>
    new Promise((resolve) => {
      const stream = new EventSource(
        `/api${addressOf(journalOperations.followNotices, { workspaceId })}`,
      );
      const tell = (message: Message): void => {
        take(message);
        channel.postMessage(message);
      };
      const on = (event: string, tellOf: (data: unknown) => void): void =>
        stream.addEventListener(event, ({ data }: MessageEvent) =>
          tellOf(JSON.parse(String(data))),
        );
      on('change', (data) => tell({ kind: 'heard', heard: noticeSchema.parse(data) }));
      // After a break the stream starts anew and says where the workspace is.
      on('start', (data) => tell({ kind: 'heard', heard: data as { revision: number } }));
      on('progress', (progress) => tell({ kind: 'progress', progress }));
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
