import { usePlan } from '../plan/use-plan.ts';
import { inWords, keepFile, receiveFile } from '../shell/api.ts';
import { useWork } from './use-work.ts';

/** Saves what the server makes as a file; the foot says how much has arrived, and stops it. */
export function useSaving() {
  const plan = usePlan();
  const work = useWork();

  /** @param what the file, in words; @param address where the server makes it */
  return function save(what: string, address: string): Promise<void> {
    return work.during(what, async (said) => {
      const stopping = new AbortController();
      said.stop = () => stopping.abort();
      try {
        const received = await receiveFile(address, stopping.signal, (bytes) => {
          said.arrived = bytes;
        });
        keepFile(received);
      } catch (error) {
        plan.said = { text: inWords(error) };
      }
    });
  };
}
