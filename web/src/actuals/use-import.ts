import {
  figureColumn,
  actualsOperations,
  dimensionOperations,
  type ImportBatch,
  type ImportKind,
  type ImportPreview,
  type Mapping,
  type ReadingChoice,
  type Repair,
  type TableLook,
} from '@dravex/contract';
import { defineStore } from 'pinia';
import { ref, shallowRef } from 'vue';
import { usePlan } from '../plan/use-plan.ts';
import { inWords } from '../shell/api.ts';
import { callWithFile } from '../shell/client.ts';
import { codeFrom } from './code-from.ts';
import { lastingChoice, startOf } from './mapping.ts';
import { useWork, type Work } from '../writing/use-work.ts';
import { TEXTS } from './texts.ts';

const LOOK_AGAIN_MS = 700;

/**
 * A file on its way in: read, checked, repaired, imported or discarded. It goes on while one is in
 * another room.
 */
export const useImport = defineStore('import', () => {
  const plan = usePlan();
  const work = useWork();
  const file = shallowRef<File>();
  const kind = ref<ImportKind>('sales');
  /** How the file would be read, while that is being settled. */
  const look = shallowRef<TableLook>();
  const choice = shallowRef<ReadingChoice>({});
  const mappings = shallowRef<readonly Mapping[]>([]);
  const preview = shallowRef<ImportPreview>();
  const busy = ref('');
  const failure = ref('');
  const done = ref('');
  let stopping: AbortController | undefined;
  /** What the foot says of it. */
  let under: Work | undefined;
  function reach(share: number): void {
    if (!under) return;
    under.share = share;
    under.stop = () => void stop();
  }

  async function working(what: string, doing: () => Promise<void>, saves = true): Promise<void> {
    busy.value = what;
    failure.value = '';
    done.value = '';
    try {
      await work.during(what, async (said) => {
        under = said;
        await (saves ? plan.save(doing) : doing());
      });
    } catch (error) {
      failure.value = inWords(error);
    } finally {
      busy.value = '';
      under = undefined;
      stopping = undefined;
    }
  }

  /** Goes up when a file was uploaded, imported or discarded. */
  const listed = ref(0);

  /** What the address says of a file that is sent. */
  const sentAs = (name: string, reading: ReadingChoice | undefined) => ({
    workspaceId: plan.workspaceId,
    fileName: name,
    kind: kind.value,
    ...(reading ? { reading: JSON.stringify(reading) } : {}),
  });

  async function readLook(sent: File, reading: ReadingChoice): Promise<TableLook> {
    return callWithFile(actualsOperations.lookAtTable, sentAs(sent.name, reading), startOf(sent));
  }

  /**
   * Brings a file in. One that is understood is checked at once; else it is shown how it would be
   * read. A kept mapping of a file that looks alike is taken, and named.
   */
  function upload(sent: File, as: ImportKind): Promise<void> {
    kind.value = as;
    file.value = sent;
    preview.value = undefined;
    look.value = undefined;
    choice.value = {};
    return working(TEXTS.reading(sent.name), async () => {
      mappings.value = (await plan.ask(actualsOperations.listMappings, {})).filter(
        ({ kind }) => kind !== 'plan',
      );
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
    const held = amounts.every(({ key }) => reading.columns[key] !== null);
    return reading.shape === 'long' && (held || figureColumn(reading) !== undefined);
  }

  /** Sends the whole file and checks it; nothing counts yet. */
  async function check(sent: File): Promise<void> {
    busy.value = TEXTS.checking(sent.name);
    stopping = new AbortController();
    const reading = Object.keys(choice.value).length > 0 ? choice.value : undefined;
    const inputs = sentAs(sent.name, reading);
    preview.value = await callWithFile(actualsOperations.previewImport, inputs, sent, {
      signal: stopping.signal,
      onProgress: (sentBytes, total) => reach(sentBytes / total),
    });
    look.value = undefined;
    listed.value += 1;
  }

  /** Looks again with another way to read. */
  function readAs(next: ReadingChoice, as = kind.value): Promise<void> {
    const sent = file.value;
    if (!sent) return Promise.resolve();
    return working(
      TEXTS.readingAgain,
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
    return working(TEXTS.checking(sent.name), async () => {
      const { header, columns } = settled.reading;
      choice.value = { ...choice.value, columns };
      if (name !== '') {
        const reading = lastingChoice(settled);
        const mapping = { name, kind: kind.value, header, reading };
        await plan.ask(actualsOperations.keepMapping, {}, mapping);
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
      await plan
        .ask(actualsOperations.putAwayImport, { importId: shown.id })
        .catch(() => undefined);
      preview.value = undefined;
      listed.value += 1;
    }
  }

  function show(id: number): Promise<void> {
    const read = async (): Promise<void> => {
      file.value = undefined;
      look.value = undefined;
      preview.value = await plan.ask(actualsOperations.readImport, { importId: id });
    };
    return working(TEXTS.opening, read, false);
  }

  function repair(wanted: Repair): Promise<void> {
    const shown = preview.value;
    if (!shown) return Promise.resolve();
    return working(TEXTS.checkingAgain, async () => {
      preview.value = await plan.ask(
        actualsOperations.repairImport,
        { importId: shown.id },
        wanted,
      );
      listed.value += 1;
    });
  }

  /** Adds a code that nobody knew as a member, and reads the rows anew. */
  async function createMember(dimension: string, value: string): Promise<void> {
    const code = codeFrom(value);
    await working(TEXTS.addingTheMember, async () => {
      const member = { code, name: value, parent: null };
      await plan.ask(dimensionOperations.addMember, { dimension }, member);
      await plan.reload();
    });
    if (failure.value === '')
      await repair({ replace: [{ field: dimension, from: value, to: code }] });
  }

  /** Assigns a customer to a member for the whole calendar, and reads its rows anew. */
  async function assignCustomer(
    dimension: string,
    customer: string,
    member: string,
  ): Promise<void> {
    const from = plan.workspace?.plan.calendar.first;
    if (from === undefined) return;
    await working(TEXTS.assigningTheCustomer, async () => {
      const assignments = [{ customer, member, from: `${from}-01` }];
      await plan.ask(dimensionOperations.assignCustomers, { dimension }, { assignments });
    });
    if (failure.value === '') await repair({ again: [{ field: dimension, from: customer }] });
  }

  /** Takes in the good rows as one unit; every total follows. */
  function apply(): Promise<void> {
    const shown = preview.value;
    if (!shown) return Promise.resolve();
    return working(TEXTS.importingRows(shown.good), async () => {
      const at = { importId: shown.id };
      let batch = await plan.ask(actualsOperations.applyImport, at);
      while (batch.job?.state === 'waiting' || batch.job?.state === 'running') {
        reach(batch.job.step / Math.max(1, batch.job.steps));
        await new Promise((resolve) => setTimeout(resolve, LOOK_AGAIN_MS));
        batch = await plan.ask(actualsOperations.readImport, at);
      }
      if (batch.state !== 'applied')
        throw new Error(batch.job?.message ?? TEXTS.nothingWasImported);
      await plan.reload();
      listed.value += 1;
      const left = shown.faulty > 0 ? TEXTS.rowsWereExcluded(shown.faulty) : '';
      done.value = TEXTS.rowsOfAreImported(shown.good, shown.fileName, left);
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
    await plan.ask(actualsOperations.stopImport, { importId: shown.id }).catch((error: unknown) => {
      failure.value = inWords(error);
    });
  }

  /** Takes the rows of a file out again; it waits to be applied as before. */
  function takeBack(batch: ImportBatch): Promise<void> {
    return working(TEXTS.undoingImportOf(batch.fileName), async () => {
      await plan.ask(actualsOperations.takeBackImport, { importId: batch.id });
      await plan.reload();
      listed.value += 1;
      done.value = TEXTS.rowsOfNoLongerCount(batch.good, batch.fileName);
    });
  }

  function discard(): Promise<void> {
    const shown = preview.value;
    if (!shown) return Promise.resolve();
    return working(TEXTS.discarding, async () => {
      await plan.ask(actualsOperations.putAwayImport, { importId: shown.id });
      preview.value = undefined;
      listed.value += 1;
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
    busy,
    failure,
    done,
    listed,
    takeBack,
    createMember,
    assignCustomer,
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
});
