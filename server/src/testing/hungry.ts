/** Runs a hungry thread in a process whose own heap is larger, and tells how it went. */
import { HttpProblem } from '../platform/errors.ts';
import { Thread } from '../platform/thread.ts';
import type { HungryCalls } from './hungry-thread.ts';

// A thread alone keeps no process waiting.
const waiting = setInterval(() => undefined, 1000);
const thread = new Thread<HungryCalls>(
  new URL('./hungry-thread.ts', import.meta.url),
  64,
  'It holds too much',
);
const little = await thread.call('eat', 1);
const refused = await thread.call('eat', 200).then(
  () => 0,
  (error: unknown) => (error instanceof HttpProblem ? error.status : -1),
);
process.send?.({ little, refused, isGone: thread.isGone });
clearInterval(waiting);
process.disconnect();
