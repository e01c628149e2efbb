import type {
  ImportBatch,
  ImportKind,
  ImportPreview,
  Mapping,
  ReadingChoice,
  Repair,
  TableLook,
} from '@dravex/contract';
import { ref, shallowRef } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords, request, sendFile } from '../shell/api.ts';

/** So much of a CSV is enough to say how it is read. */
const HEAD = 256 * 1024;
const LOOK_AGAIN_MS = 700;

/** A file on its way in: looked at, checked, repaired, applied or put away. */
export function useImport() {
  const plan = usePlan();
  const file = shallowRef<File>();
  const kind = ref<ImportKind>('sales');
  /** How the file would be read, while that is being settled. */
  const look = shallowRef<TableLook>();
  const choice = shallowRef<ReadingChoice>({});
  const mappings = shallowRef<readonly Mapping[]>([]);
  const preview = shallowRef<ImportPreview>();
  const waiting = shallowRef<readonly ImportBatch[]>([]);
  /** Files whose rows count, newest first. */
  const applied = shallowRef<readonly ImportBatch[]>([]);
  const busy = ref('');
  /** The share of a file that is sent, while it is. */
  const share = ref<number>();
  const failure = ref('');
  const done = ref('');
  let stopping: AbortController | undefined;

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
      share.value = undefined;
      stopping = undefined;
    }
  }

  async function listWaiting(): Promise<void> {
    const batches = await request<ImportBatch[]>('GET', plan.path('/imports'));
    waiting.value = batches.filter(({ state }) => state === 'previewed');
    applied.value = batches.filter(({ state }) => state === 'applied');
  }

  function address(path: string, name: string, reading: ReadingChoice | undefined): string {
    const query = new URLSearchParams({ fileName: name, kind: kind.value });
    if (reading) query.set('reading', JSON.stringify(reading));
    return plan.path(`${path}?${query.toString()}`);
  }

  /** The start of a file that can be read by its start, else the whole. */
  function startOf(sent: File): Blob {
    return /\.(csv|txt|tsv)$/i.test(sent.name) ? sent.slice(0, HEAD) : sent;
  }

  async function readLook(sent: File, reading: ReadingChoice): Promise<TableLook> {
    return sendFile<TableLook>(address('/imports/look', sent.name, reading), startOf(sent));
  }

  /**
   * Brings a file in. One that is understood is checked at once; else it is shown how it would be
   * read. A kept mapping of a file that looks alike is taken, and named.
   */
  function upload(sent: File): Promise<void> {
    file.value = sent;
    preview.value = undefined;
    look.value = undefined;
    choice.value = {};
    return working(`Looking at ${sent.name}`, async () => {
      mappings.value = await request<Mapping[]>('GET', plan.path('/mappings'));
      const found = await readLook(sent, {});
      const kept = mappings.value.find(({ id }) => id === found.mapping?.id);
      if (kept) {
        choice.value = { ...kept.reading };
        const like = await readLook(sent, choice.value);
        if (like.missing.length === 0) {
          await check(sent);
          return;
        }
        look.value = like;
        return;
      }
      if (found.missing.length === 0 && isPlain(found)) await check(sent);
      else look.value = found;
    });
  }

  /** Whether nothing is left to ask: an ordinary table whose headings name every amount. */
  function isPlain({ reading, fields }: TableLook): boolean {
    const amounts = fields.filter(({ need }) => need === 'amount');
    return reading.shape === 'long' && amounts.every(({ key }) => reading.columns[key] !== null);
  }

  /** Sends the whole file and checks it; nothing counts yet. */
  async function check(sent: File): Promise<void> {
    busy.value = `Checking ${sent.name}`;
    stopping = new AbortController();
    const reading = Object.keys(choice.value).length > 0 ? choice.value : undefined;
    preview.value = await sendFile<ImportPreview>(address('/imports', sent.name, reading), sent, {
      signal: stopping.signal,
      onProgress: (sentBytes, total) => (share.value = sentBytes / total),
    });
    look.value = undefined;
    await listWaiting();
  }

  /** Looks again with another way to read. */
  function readAs(next: ReadingChoice, as = kind.value): Promise<void> {
    const sent = file.value;
    if (!sent) return Promise.resolve();
    return working(
      'Looking again',
      async () => {
        const before = kind.value;
        kind.value = as;
        try {
          const found = await readLook(sent, next);
          choice.value = next;
          look.value = found;
        } catch (error) {
          kind.value = before;
          throw error;
        }
      },
      false,
    );
  }

  /** Checks the file as it is settled now; a mapping is kept when it was given a name. */
  function settle(name: string): Promise<void> {
    const sent = file.value;
    const settled = look.value;
    if (!sent || !settled) return Promise.resolve();
    return working(`Checking ${sent.name}`, async () => {
      const { columns, constants, shape, values, fillDown, decimal, dates } = settled.reading;
      choice.value = { ...choice.value, columns };
      if (name !== '') {
        const { header, turn } = settled.reading;
        const reading = { columns, constants, shape, values, fillDown, decimal, dates, turn };
        await request('PUT', plan.path('/mappings'), { name, kind: kind.value, header, reading });
      }
      await check(sent);
    });
  }

  /** Goes back from the preview to how the file is read. */
  async function changeReading(): Promise<void> {
    const shown = preview.value;
    if (!shown || !file.value) return;
    await readAs(choice.value);
    if (look.value) {
      await request('DELETE', plan.path(`/imports/${shown.id}`)).catch(() => undefined);
      preview.value = undefined;
      await listWaiting();
    }
  }

  function show(id: number): Promise<void> {
    const read = async (): Promise<void> => {
      file.value = undefined;
      look.value = undefined;
      preview.value = await request<ImportPreview>('GET', plan.path(`/imports/${id}`));
    };
    return working('Opening', read, false);
  }

  function repair(wanted: Repair): Promise<void> {
    const shown = preview.value;
    if (!shown) return Promise.resolve();
    return working('Checking again', async () => {
      const path = plan.path(`/imports/${shown.id}/repair`);
      preview.value = await request<ImportPreview>('POST', path, wanted);
      await listWaiting();
    });
  }

  /** Takes in the good rows as one unit; every total follows. */
  function apply(): Promise<void> {
    const shown = preview.value;
    if (!shown) return Promise.resolve();
    return working(`Applying ${shown.good} rows`, async () => {
      let batch = await request<ImportBatch>('POST', plan.path(`/imports/${shown.id}/apply`));
      while (batch.job?.state === 'waiting' || batch.job?.state === 'running') {
        share.value = batch.job.step / Math.max(1, batch.job.steps);
        await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
        batch = await request<ImportBatch>('GET', plan.path(`/imports/${shown.id}`));
      }
      if (batch.state !== 'applied') throw new Error(batch.job?.message ?? 'Nothing was applied');
      await plan.reload();
      await listWaiting();
      const left = shown.faulty > 0 ? `; ${shown.faulty} rows were left out` : '';
      done.value = `${shown.good} rows of ${shown.fileName} are in${left}.`;
      preview.value = undefined;
    });
  }

  /** Stops what is under way: the sending of a file, or its being applied. */
  async function stop(): Promise<void> {
    if (stopping) {
      stopping.abort();
      return;
    }
    const shown = preview.value;
    if (!shown) return;
    await request('POST', plan.path(`/imports/${shown.id}/stop`)).catch((error: unknown) => {
      failure.value = inWords(error);
    });
  }

  /** Takes the rows of a file out again; it waits to be applied as before. */
  function takeBack(batch: ImportBatch): Promise<void> {
    return working(`Taking back ${batch.fileName}`, async () => {
      await request('POST', plan.path(`/imports/${batch.id}/take-back`));
      await plan.reload();
      await listWaiting();
      done.value = `${batch.good} rows of ${batch.fileName} count no longer; the file waits to be applied.`;
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
    look.value = undefined;
  }

  return {
    file,
    kind,
    look,
    choice,
    mappings,
    preview,
    waiting,
    applied,
    busy,
    share,
    failure,
    done,
    takeBack,
    listWaiting,
    upload,
    readAs,
    settle,
    changeReading,
    show,
    repair,
    apply,
    stop,
    discard,
    close,
  };
}
