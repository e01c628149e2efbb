/** The worker of the browser in this process: the same computation behind the same messages. */
import { expose } from 'comlink';
import { startComputation } from '../src/computation/computation.ts';

/** Lets `new Worker` begin the computation here, behind a channel of its own. */
export function workHere(): void {
  function worker(): MessagePort {
    const { port1, port2 } = new MessageChannel();
    expose(startComputation(), port2 as never);
    port1.start();
    port2.start();
    // What is waited for keeps the process; the ports alone do not.
    for (const port of [port1, port2]) (port as unknown as { unref?(): void }).unref?.();
    return port1;
  }
  Object.assign(globalThis, { Worker: worker });
}
