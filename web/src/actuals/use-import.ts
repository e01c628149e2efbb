import type { ImportBatch, ImportPreview } from '@dravex/contract';
import { ref, shallowRef } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request } from '../shell/api.ts';

/** A file of sales lines on its way in: uploaded, previewed, applied or put away. */
export function useImport() {
  const plan = usePlan();
  const preview = shallowRef<ImportPreview>();
  const waiting = shallowRef<readonly ImportBatch[]>([]);
  /** Files whose sales lines count, newest first. */
  const applied = shallowRef<readonly ImportBatch[]>([]);
  const busy = ref('');
  const failure = ref('');
  const done = ref('');

  async function working(what: string, work: () => Promise<void>, saves = true): Promise<void> {
    busy.value = what;
    failure.value = '';
    done.value = '';
    try {
      await (saves ? plan.save(work) : work());
    } catch (error) {
      failure.value = inWords(error);
    } finally {
      busy.value = '';
    }
  }

  async function listWaiting(): Promise<void> {
    const batches = await request<ImportBatch[]>('GET', plan.path('/imports'));
    waiting.value = batches.filter(({ state }) => state === 'previewed');
    applied.value = batches.filter(({ state }) => state === 'applied');
  }

  /** Uploads and checks a file; nothing counts yet. */
  function upload(file: File): Promise<void> {
    return working(`Checking ${file.name}`, async () => {
      const name = encodeURIComponent(file.name);
      preview.value = undefined;
      preview.value = await request<ImportPreview>(
        'POST',
        plan.path(`/imports?fileName=${name}`),
        file,
      );
      await listWaiting();
    });
  }

  function show(id: number): Promise<void> {
    const read = async (): Promise<void> => {
      preview.value = await request<ImportPreview>('GET', plan.path(`/imports/${id}`));
    };
    return working('Opening', read, false);
  }

  /** Takes in the good rows as one unit; every total follows. */
  function apply(): Promise<void> {
    const shown = preview.value;
    if (!shown) return Promise.resolve();
    return working(`Applying ${shown.good} sales lines`, async () => {
      await request('POST', plan.path(`/imports/${shown.id}/apply`));
      await plan.reload();
      await listWaiting();
      done.value = `${shown.good} sales lines of ${shown.fileName} are in${shown.faulty > 0 ? `; ${shown.faulty} faulty rows are not` : ''}.`;
      preview.value = undefined;
    });
  }

  /** Takes the sales lines of a file out again; it waits to be applied as before. */
  function takeBack(batch: ImportBatch): Promise<void> {
    return working(`Taking back ${batch.fileName}`, async () => {
      await request('POST', plan.path(`/imports/${batch.id}/take-back`));
      await plan.reload();
      await listWaiting();
      done.value = `${batch.good} sales lines of ${batch.fileName} count no longer; the file waits to be applied.`;
    });
  }

  function discard(): Promise<void> {
    const shown = preview.value;
    if (!shown) return Promise.resolve();
    return working('Putting away', async () => {
      await request('DELETE', plan.path(`/imports/${shown.id}`));
      preview.value = undefined;
      await listWaiting();
    });
  }

  function close(): void {
    preview.value = undefined;
  }

  return {
    preview,
    waiting,
    applied,
    takeBack,
    busy,
    failure,
    done,
    listWaiting,
    upload,
    show,
    apply,
    discard,
    close,
  };
}
