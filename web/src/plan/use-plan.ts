import type {
  KeptAssumption,
  Typing,
  TypingResult,
  Version,
  VersionCells,
  WorkspacePlan,
} from '@dravex/contract';
import { MemberTree, monthFrom, type Problem } from '@dravex/core';
import { wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef } from 'vue';
import { inWords, request } from '../shell/api.ts';
import type { Computation } from './computation.ts';

export type SaveState = 'saved' | 'saving' | 'failed';

function startWorker(): Remote<Computation> {
  const worker = new Worker(new URL('./compute-worker.ts', import.meta.url), { type: 'module' });
  return wrap<Computation>(worker);
}

/** What a workspace holds besides its numbers: the numbers stay in the worker. */
type Frame = Omit<WorkspacePlan, 'plan'> & {
  plan: Pick<WorkspacePlan['plan'], 'calendar' | 'currency' | 'dimensions' | 'drivers'> & {
    streams: number;
    combinations: number;
  };
};

/** The workspace in force: its frame, the worker that computes it, its versions, and saving. */
export const usePlan = defineStore('plan', () => {
  let worker: Remote<Computation> | undefined;
  const workspaceId = ref(0);
  const frame = shallowRef<Frame>();
  const assumptions = shallowRef<ReadonlyMap<number, KeptAssumption>>(new Map());
  const versions = shallowRef<readonly Version[]>([]);
  const missing = shallowRef<readonly Problem[]>([]);
  const failure = ref('');
  const saving = ref<SaveState>('saved');
  const savedAt = ref<Date>();
  /** Goes up whenever the worker would answer differently. */
  const tick = ref(0);
  let queue: Promise<unknown> = Promise.resolve();

  const tree = computed(() => new MemberTree(frame.value?.plan.dimensions ?? []));
  const closedThrough = computed(() =>
    monthFrom(frame.value?.plan.calendar.closedThrough ?? '1970-01'),
  );

  function path(rest: string): string {
    return `/workspaces/${workspaceId.value}${rest}`;
  }

  function compute(): Remote<Computation> {
    worker ??= startWorker();
    return worker;
  }

  async function read(): Promise<void> {
    const [loaded, list] = await Promise.all([
      request<WorkspacePlan>('GET', path('/plan')),
      request<Version[]>('GET', path('/versions')),
    ]);
    missing.value = await compute().load(loaded);
    const { plan } = loaded;
    assumptions.value = new Map(plan.assumptions.map((a) => [a.id, a]));
    frame.value = {
      ...loaded,
      plan: {
        calendar: plan.calendar,
        currency: plan.currency,
        dimensions: plan.dimensions,
        drivers: plan.drivers,
        streams: plan.streams.length,
        combinations: plan.combinations.length,
      },
    };
    versions.value = list;
    tick.value += 1;
  }

  /** Opens a workspace. @returns whether it could be opened; `failure` says why not */
  async function open(id: number): Promise<boolean> {
    if (workspaceId.value === id && frame.value) return true;
    workspaceId.value = id;
    failure.value = '';
    try {
      await read();
      return true;
    } catch (error) {
      workspaceId.value = 0;
      failure.value = inWords(error);
      return false;
    }
  }

  /** Loads everything anew, after an import or when something could not be saved. */
  const reload = read;

  /** Makes sure that the worker has a version's cells. */
  async function loadVersion(id: number): Promise<void> {
    if (await compute().hasVersion(id)) return;
    const cells = await request<VersionCells>('GET', path(`/versions/${id}/cells`));
    await compute().setVersion(id, cells);
  }

  function keep(result: TypingResult): void {
    const next = new Map(assumptions.value);
    for (const id of result.drop) next.delete(id);
    for (const row of result.put) next.set(row.id, row);
    assumptions.value = next;
  }

  /**
   * Shows typed values at once and saves them; several in a row are saved one after the other.
   * When they cannot be saved, what was there is shown again.
   * @throws ApiProblem with the reason
   */
  async function type(driver: string, typing: Typing): Promise<void> {
    saving.value = 'saving';
    // What is asked from now on waits in the worker behind the preview.
    const previewed = compute().preview(driver, typing.values, typing.totals);
    tick.value += 1;
    missing.value = await previewed;
    const save = queue.then(async () => {
      try {
        const result = await request<TypingResult>(
          'PUT',
          path(`/drivers/${driver}/values`),
          typing,
        );
        missing.value = await compute().settle(result);
        keep(result);
        saving.value = 'saved';
        savedAt.value = new Date();
      } catch (error) {
        saving.value = 'failed';
        await read().catch(() => undefined);
        throw error;
      } finally {
        tick.value += 1;
      }
    });
    queue = save.catch(() => undefined);
    return save;
  }

  /** Tells the foot that something else than a driver is being saved. */
  async function save<T>(work: () => Promise<T>): Promise<T> {
    saving.value = 'saving';
    try {
      const result = await work();
      saving.value = 'saved';
      savedAt.value = new Date();
      return result;
    } catch (error) {
      saving.value = 'failed';
      throw error;
    }
  }

  return {
    workspaceId,
    frame,
    assumptions,
    versions,
    missing,
    failure,
    saving,
    savedAt,
    tick,
    tree,
    closedThrough,
    path,
    compute,
    open,
    reload,
    loadVersion,
    type,
    save,
  };
});
