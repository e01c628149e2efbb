import {
  budgetOperations,
  driversOperations,
  forecastOperations,
  journalOperations,
  readsAllOf,
  type AnswerOf,
  type AskedRecord,
  type BodyOf,
  type InputsOf,
  type JournalRoom,
  type KeptAdjustment,
  type KeptAdjustmentChange,
  type KeptAssumption,
  type Operation,
  type Typing,
  type TypingResult,
  type UndoResult,
  type Version,
  type WorkspacePlan,
} from '@dravex/contract';
import {
  MemberTree,
  monthFrom,
  monthText,
  type Problem,
  versionIn,
  type Source,
} from '@dravex/core';
import { wrap, type Remote } from 'comlink';
import { defineStore } from 'pinia';
import { computed, ref, shallowRef, watch } from 'vue';
import { usualUnit, type Unit } from '../format/numbers.ts';
import { useSession } from '../people/use-session.ts';
import { ApiProblem, inWords, sitting, whenReached } from '../shell/api.ts';
import type { Computation } from '../computation/computation.ts';
import { call, type Rest } from '../shell/client.ts';
import { Line } from './line.ts';
import { TEXTS } from './texts.ts';

export type SaveState = 'saved' | 'saving' | 'failed';

/** What undo or redo would reach out of sight, until somebody says whether it shall. */
export interface Asking {
  readonly record: AskedRecord;
  readonly which: 'undo' | 'redo';
}

/** Something that two people changed at once: both values, and how to insist on one's own. */
export interface Clash {
  readonly rows: readonly {
    readonly label: string;
    readonly theirs: string;
    readonly mine: string;
    readonly by: string;
    readonly at: string;
  }[];
  /** Writes one's own values over theirs. */
  readonly insist: () => Promise<void>;
}

/** What happened last, to be read in the foot. */
export interface Said {
  readonly text: string;
  /** The room in which it can be undone by the button beside it. */
  readonly undo?: JournalRoom;
  /** The record of one's own change, which can be given a reason. */
  readonly journal?: number | null;
}

function startWorker(): Remote<Computation> {
  const worker = new Worker(new URL('../computation/compute-worker.ts', import.meta.url), {
    type: 'module',
  });
  return wrap<Computation>(worker);
}

/** A selected cell: its number, and in what it is. */
export interface SelectedCell {
  readonly value: number | null;
  readonly unit: string;
}

/** What a workspace holds besides its numbers: the numbers stay in the worker. */
type WorkspaceInForce = Omit<WorkspacePlan, 'plan'> & {
  plan: Pick<WorkspacePlan['plan'], 'calendar' | 'currency' | 'dimensions' | 'drivers'> & {
    streams: number;
    combinations: number;
    /** The unit in which its money is read where nobody chose another one. */
    unit: Unit;
  };
};

/** What was sold in the last twelve closed months, in whole units of the currency. */
function yearlyRevenue({ actuals, calendar, currency }: WorkspacePlan['plan']): number {
  const after = monthText(monthFrom(calendar.closedThrough) - 12);
  const sum = actuals.revenue.reduce(
    (all, amount, place) => ((actuals.month[place] ?? '') > after ? all + amount : all),
    0,
  );
  return sum / 10 ** currency.minorDigits;
}

/** Between two questions of what others changed, in milliseconds. */
const TOGETHER_MS = 700;

/** The workspace in force: what it is, the worker that computes it, its versions, and saving. */
export const usePlan = defineStore('plan', () => {
  const session = useSession();
  let worker: Remote<Computation> | undefined;
  const workspaceId = ref(0);
  const workspace = shallowRef<WorkspaceInForce>();
  const assumptions = shallowRef<ReadonlyMap<number, KeptAssumption>>(new Map());
  const adjustments = shallowRef<ReadonlyMap<number, KeptAdjustment>>(new Map());
  const versions = shallowRef<readonly Version[]>([]);
  const missing = shallowRef<readonly Problem[]>([]);
  const failure = ref('');
  const saving = ref<SaveState>('saved');
  const savedAt = ref<Date>();
  /** Goes up whenever the worker would answer differently. */
  const tick = ref(0);
  /** The revision of the workspace that is shown. */
  const revision = ref(0);
  const said = shallowRef<Said>();
  /** How often something was undone or done again here: what was offered before is no more. */
  const undone = ref(0);
  const clash = shallowRef<Clash>();
  /** Whether a cell is open for typing: what others change waits until it is closed. */
  const editing = ref(false);
  /** The cells that are selected, where it is more than one. */
  const selection = shallowRef<readonly SelectedCell[]>([]);
  const asking = shallowRef<Asking>();
  const line = new Line();
  const inLine = line.join.bind(line);
  /** How many changes are not kept yet. */
  const pending = line.waiting;
  /** How many typed values wait for somebody's answer. */
  const unanswered = ref(0);
  /** Whether the server cannot be reached: what is typed waits until it can. */
  const unreachable = ref(false);
  whenReached((reached) => (unreachable.value = !reached));
  window.addEventListener('beforeunload', (event) => {
    if (pending.value > 0 || unanswered.value > 0) event.preventDefault();
  });

  /** How numbers and dates are written: as the person prefers, else as the workspace has it. */
  const locale = computed(
    () => session.preferences.locale ?? workspace.value?.locale ?? navigator.language,
  );
  const tree = computed(() => new MemberTree(workspace.value?.plan.dimensions ?? []));
  const closedThrough = computed(() =>
    monthFrom(workspace.value?.plan.calendar.closedThrough ?? '1970-01'),
  );

  function path(rest: string): string {
    return `/workspaces/${workspaceId.value}${rest}`;
  }

  /** Asks the server for what an operation of the contract does in this workspace; see {@link call}. */
  function ask<O extends Operation>(
    operation: O,
    inputs: Omit<InputsOf<O>, 'workspaceId'>,
    ...rest: Rest<O>
  ): Promise<AnswerOf<O>> {
    return call(
      operation,
      { ...inputs, workspaceId: workspaceId.value } as unknown as InputsOf<O>,
      ...rest,
    );
  }

  function compute(): Remote<Computation> {
    worker ??= startWorker();
    return worker;
  }

  /** Whether all of the plan is in sight, or only a part of the targets. */
  const readsAll = (): boolean => readsAllOf(session.roleIn(workspaceId.value));

  async function read(): Promise<void> {
    const [loaded, list] = await Promise.all([
      ask(forecastOperations.readPlan, {}),
      readsAll() ? ask(budgetOperations.listVersions, {}) : [],
    ]);
    missing.value = await compute().load(loaded);
    const { plan } = loaded;
    assumptions.value = new Map(plan.assumptions.map((a) => [a.id, a]));
    adjustments.value = new Map(plan.adjustments.map((a) => [a.id, a]));
    workspace.value = {
      ...loaded,
      plan: {
        calendar: plan.calendar,
        currency: plan.currency,
        dimensions: plan.dimensions,
        drivers: plan.drivers,
        streams: plan.streams.length,
        combinations: plan.combinations.length,
        // Of a part, nothing is known of the company's size.
        unit: readsAll() ? usualUnit(yearlyRevenue(plan)) : 1000,
      },
    };
    versions.value = list;
    revision.value = loaded.revision;
    tick.value += 1;
  }

  /** Opens a workspace. @returns whether it could be opened; `failure` says why not */
  async function open(id: number): Promise<boolean> {
    if (workspaceId.value === id && workspace.value) return true;
    // What was typed in another workspace is kept there first.
    if (pending.value > 0) await inLine(() => Promise.resolve());
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

  /** Versions on their way to the worker: several parts of a room ask for the same one at once. */
  const comingVersions = new Map<string, Promise<void>>();
  /** Makes sure that the worker has a version's cells as they are now. */
  function loadVersion(id: number, at?: string): Promise<void> {
    const lastEntry = versions.value.find((version) => version.id === id)?.lastEntry ?? 0;
    const name = [workspaceId.value, id, at, lastEntry].join();
    const coming =
      comingVersions.get(name) ??
      bringVersion(id, at, lastEntry).finally(() => comingVersions.delete(name));
    comingVersions.set(name, coming);
    return coming;
  }
  async function bringVersion(
    id: number,
    at: string | undefined,
    lastEntry: number,
  ): Promise<void> {
    if (await compute().hasVersion({ id, at }, lastEntry)) return;
    const moment = at === undefined ? {} : { at };
    const cells = await ask(budgetOperations.readVersionCells, { versionId: id, ...moment });
    await compute().setVersion({ id, at }, lastEntry, cells);
  }

  /** The same for whatever version a source of numbers needs. */
  async function loadSource(source: Source): Promise<void> {
    const version = versionIn(source);
    if (version !== undefined) await loadVersion(version.id, version.at);
  }

  /** Brings in what was changed since, by others or in another tab: little by little where it can. */
  async function catchUp(): Promise<void> {
    if (!readsAll()) {
      await read();
      return;
    }
    const since = revision.value;
    const changes = await ask(forecastOperations.readChanges, { since }, undefined, {
      patient: true,
    });
    if (changes.revision <= since) return;
    if (changes.whole) {
      await read();
      return;
    }
    missing.value = await compute().merge(changes);
    keep(changes);
    if (changes.versions.length > 0) {
      versions.value = await ask(budgetOperations.listVersions, {});
    }
    revision.value = changes.revision;
    tick.value += 1;
  }

  /** What was heard while a cell was open: it is followed when the cell is closed. */
  let heardMeanwhile: { heard: number; by?: string; room?: string } | undefined;
  watch(editing, (open) => {
    const later = heardMeanwhile;
    if (open || !later) return;
    heardMeanwhile = undefined;
    // The edit that was open stands in line already: it goes first, and says what it saw.
    void follow(later.heard, later.by, later.room);
  });

  /** What was heard since it was last asked what changed, and whether that is asked in a moment. */
  let lately: { heard: number; by?: string | undefined; room?: string | undefined } | undefined;
  let askedAt = 0;
  /**
   * Hears that a revision is there. Where many people type, what they do is asked for together,
   * little later: each of them would ask for each number of everybody else.
   */
  async function hear(heard: number, by?: string, room?: string): Promise<void> {
    if (lately) {
      lately = heard > lately.heard ? { heard, by, room } : lately;
      return;
    }
    lately = { heard, by, room };
    const wait = Math.max(0, askedAt + TOGETHER_MS - Date.now());
    await new Promise((resolve) => setTimeout(resolve, wait));
    const last = lately;
    lately = undefined;
    await follow(last.heard, last.by, last.room);
  }

  /** What is on the screen follows, unless somebody is typing. */
  async function follow(heard: number, by?: string, room?: string): Promise<void> {
    await inLine(async () => {
      if (heard <= revision.value) return;
      if (editing.value) {
        heardMeanwhile = { heard, ...(by ? { by } : {}), ...(room ? { room } : {}) };
        return;
      }
      askedAt = Date.now();
      await catchUp();
      if (by) said.value = { text: TEXTS.changedOf(by, room ?? TEXTS.thePlan) };
    }).catch(() => undefined);
  }

  /**
   * Takes back what was done last, or does it again, when everything before it is kept. What was
   * not done in this sitting and in the room in sight is left, and asked about.
   */
  async function undoOrRedo(which: 'undo' | 'redo', room: JournalRoom): Promise<void> {
    const here = { sitting: sitting(), room };
    await bringBack(which, () => write(journalOperations[which], here));
  }
  /** The same for what was asked about. */
  async function goOn(): Promise<void> {
    const asked = asking.value;
    asking.value = undefined;
    if (!asked) return;
    const operation =
      asked.which === 'undo' ? journalOperations.takeBack : journalOperations.doAgain;
    await bringBack(asked.which, () => write(operation, { journalId: asked.record.journal }));
  }
  async function bringBack(which: 'undo' | 'redo', work: () => Promise<UndoResult>): Promise<void> {
    await inLine(async () => {
      try {
        const { record } = await work();
        said.value = { text: record.what };
        undone.value += 1;
      } catch (error) {
        saving.value = 'saved';
        if (error instanceof ApiProblem && error.asks) asking.value = { record: error.asks, which };
        else said.value = { text: inWords(error) };
        return;
      }
      await catchUp();
    });
  }

  /** Rows by id, as they are now. */
  function renewed<Row extends { readonly id: number }>(
    rows: ReadonlyMap<number, Row>,
    { put, drop }: { readonly put: readonly Row[]; readonly drop: readonly number[] },
  ): ReadonlyMap<number, Row> {
    const next = new Map(rows);
    for (const id of drop) next.delete(id);
    for (const row of put) next.set(row.id, row);
    return next;
  }
  function keep(
    edit: Pick<TypingResult, 'put' | 'drop'> & { readonly adjustments: KeptAdjustmentChange },
  ): void {
    assumptions.value = renewed(assumptions.value, edit);
    adjustments.value = renewed(adjustments.value, edit.adjustments);
  }

  /** Shows an effect before it is kept. What is asked from now on waits in the worker behind it. */
  async function show(
    preview: (computing: Remote<Computation>) => Promise<Problem[]>,
  ): Promise<void> {
    const shown = preview(compute());
    tick.value += 1;
    missing.value = await shown;
  }

  /**
   * Shows typed values at once and saves them. Whoever calls stands in line. When they cannot be
   * saved, what was there is shown again.
   * @returns the record in the journal, and whether any number became another one
   * @throws ApiProblem with the reason
   */
  async function type(
    driver: string,
    typing: Typing,
  ): Promise<{ journal: number | null; unchanged: boolean }> {
    saving.value = 'saving';
    // What is asked from now on waits in the worker behind the preview.
    const { values, totals, changes } = typing;
    const previewed = compute().preview(driver, { values, totals, changes });
    tick.value += 1;
    const { problems, seen, unchanged } = await previewed;
    missing.value = problems;
    const sent: Typing = {
      ...typing,
      values: typing.values.map((value, i) => ({ saw: seen.values[i] ?? null, ...value })),
      totals: typing.totals.map((total, i) => ({ saw: seen.totals[i] ?? null, ...total })),
    };
    try {
      const result = await ask(driversOperations.typeIntoDriver, { driver }, sent, {
        patient: true,
      });
      missing.value = await compute().acceptKept(result);
      keep(result);
      // Others may have written between; then the notice of it brings the rest.
      if (result.revision === revision.value + 1) revision.value = result.revision;
      saving.value = 'saved';
      savedAt.value = new Date();
      return { journal: result.journal, unchanged };
    } catch (error) {
      saving.value = 'failed';
      await read().catch(() => undefined);
      throw error;
    } finally {
      tick.value += 1;
    }
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

  /** Sends what somebody typed or took back; it is not given up while the server cannot be reached. */
  function write<O extends Operation>(
    operation: O,
    inputs: Omit<InputsOf<O>, 'workspaceId'>,
    body?: BodyOf<O>,
  ): Promise<AnswerOf<O>> {
    const rest = [body, { patient: true }] as unknown as Rest<O>;
    return save(() => ask(operation, inputs, ...rest));
  }

  return {
    workspaceId,
    workspace,
    assumptions,
    adjustments,
    versions,
    missing,
    failure,
    saving,
    savedAt,
    tick,
    tree,
    locale,
    closedThrough,
    path,
    ask,
    compute,
    open,
    reload,
    loadVersion,
    loadSource,
    revision,
    said,
    clash,
    editing,
    selection,
    undone,
    inLine,
    catchUp,
    hear,
    line: () => line,
    pending,
    unanswered,
    unreachable,
    asking,
    goOn,
    undo: (room: JournalRoom) => undoOrRedo('undo', room),
    redo: (room: JournalRoom) => undoOrRedo('redo', room),
    write,
    show,
    type,
    save,
  };
});
