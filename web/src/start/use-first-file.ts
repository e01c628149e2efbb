import {
  actualsOperations,
  forecastOperations,
  workspaceOperations,
  type FirstDimensionChoice,
  type FirstFileChoice,
  type FirstFileLook,
  type ImportPreview,
  type NewWorkspace,
  type ReadingChoice,
  type WorkspaceProposal,
} from '@dravex/contract';
import { daysBetween, monthFrom, monthText, readNumber } from '@dravex/core';
import { computed, ref, shallowRef } from 'vue';
import { codeFrom } from '../actuals/code-from.ts';
import { startOf } from '../actuals/mapping.ts';
import { useSession } from '../people/use-session.ts';
import { followNotices } from '../plan/follow-notices.ts';
import { ApiProblem, inWords } from '../shell/api.ts';
import { call, callWithFile } from '../shell/client.ts';
import { minorDigits } from './lists.ts';
import { TEXTS } from './texts.ts';

export type Step = 'file' | 'bare' | 'columns' | 'workspace' | 'check' | 'streams';

/** What a person says of the company; the rest is in the file. */
export interface Company {
  readonly name: string;
  readonly currency: string;
  readonly fiscalStart: number;
  readonly locale: string;
  /** Years that are planned after the last closed month. */
  readonly years: number;
}

/** Sales that end so many days ago are of today: the as-of date follows the day. */
const RECENT = 62;
/** So many faults are listed. */
const SHOWN = 8;

/** From a first file of sales to the first forecast, step by step; what was settled stays. */
export function useFirstFile() {
  const session = useSession();
  const step = ref<Step>('file');
  const file = shallowRef<File>();
  const choice = shallowRef<FirstFileChoice>({});
  const look = shallowRef<FirstFileLook>();
  const proposal = shallowRef<WorkspaceProposal>();
  const preview = shallowRef<ImportPreview>();
  const workspaceId = ref(0);
  const busy = ref('');
  /** How far what is under way is, where that is known. */
  const share = ref<number>();
  const failure = ref('');
  const faults = shallowRef<readonly string[]>([]);

  async function working(what: string, work: () => Promise<void>): Promise<void> {
    busy.value = what;
    failure.value = '';
    faults.value = [];
    try {
      await work();
    } catch (error) {
      failure.value = inWords(error);
      faults.value =
        error instanceof ApiProblem
          ? error.errors.slice(0, SHOWN).map(({ path, message }) => `${path}: ${message}`)
          : [];
    } finally {
      busy.value = '';
      share.value = undefined;
    }
  }
  /** A file is read while it is sent: how much of it is sent is how far it is. */
  const sending = {
    onProgress: (sent: number, total: number) =>
      (share.value = sent < total ? sent / total : undefined),
  };
  const sentAs = (name: string, reading: FirstFileChoice) => ({
    fileName: name,
    reading: JSON.stringify(reading),
  });

  async function lookAt(sent: File, next: FirstFileChoice): Promise<void> {
    const inputs = sentAs(sent.name, next);
    look.value = await callWithFile(
      workspaceOperations.lookAtFirstFile,
      inputs,
      startOf(sent),
      sending,
    );
    choice.value = next;
  }

  /** Looks at a file as it would be read. What it lacks is settled in the next step. */
  function choose(sent: File | undefined): Promise<void> {
    if (!sent) return Promise.resolve();
    return working(TEXTS.reading(sent.name), async () => {
      await lookAt(sent, {});
      file.value = sent;
      step.value = 'columns';
    });
  }
  /** Reads the same file in another way. */
  function readAs(next: FirstFileChoice): Promise<void> {
    const sent = file.value;
    if (!sent) return Promise.resolve();
    return working(TEXTS.readingAgain, () => lookAt(sent, next));
  }
  /** Says what a column holds: a field, a dimension, or nothing. */
  function assign(column: number, field: string): Promise<void> {
    const now = look.value;
    if (!now) return Promise.resolve();
    const codes = new Set(now.dimensions.map(({ code }) => code));
    const columns: Record<string, number | null> = {};
    for (const [key, at] of Object.entries(now.reading.columns)) {
      if (!codes.has(key)) columns[key] = at === column ? null : at;
    }
    const dimensions = now.dimensions.filter((one) => one.column !== column).map(asSaid);
    if (field === DIMENSION) {
      const heading = now.reading.header[column]?.trim() ?? '';
      dimensions.push({ column, name: heading === '' ? TEXTS.column(column + 1) : heading });
    } else if (field !== '' && !codes.has(field)) columns[field] = column;
    return readAs({ ...choice.value, columns, dimensions });
  }

  /** Says which dimensions have one value in all rows; those that are columns stay. */
  function fixDimensions(fixed: readonly { name: string; value: string }[]): Promise<void> {
    const now = look.value;
    if (!now) return Promise.resolve();
    const columns = now.dimensions.filter(({ column }) => column !== null).map(asSaid);
    return readAs({ ...choice.value, dimensions: [...columns, ...fixed] });
  }

  /** Reads the file whole: what a workspace is made from. */
  function propose(): Promise<void> {
    const [sent, now] = [file.value, look.value];
    if (!sent || !now) return Promise.resolve();
    return working(TEXTS.reading(sent.name), async () => {
      const dimensions = now.dimensions.map(asSaid);
      const codes = new Set(now.dimensions.map(({ code }) => code));
      const columns = Object.fromEntries(
        Object.entries(now.reading.columns).filter(([key]) => !codes.has(key)),
      );
      const inputs = sentAs(sent.name, { ...choice.value, columns, dimensions });
      proposal.value = await callWithFile(
        workspaceOperations.proposeWorkspace,
        inputs,
        sent,
        sending,
      );
      step.value = 'workspace';
    });
  }

  /** A company without a file: its dimensions with their members, as they are written. */
  function begin(dimensions: readonly { name: string; members: readonly string[] }[]): void {
    const today = new Date().toISOString().slice(0, 10);
    const before = monthText(monthFrom(today.slice(0, 7)) - 1);
    const coded = (names: readonly string[]) =>
      codesFor(names).map((code, place) => ({ code, name: names[place] ?? '' }));
    proposal.value = {
      ...{ rows: 0, totals: 0, faulty: 0, reading: {}, months: [] },
      calendar: { first: before, last: before, closedThrough: before, asOf: today, fiscalStart: 1 },
      dimensions: coded(dimensions.map(({ name }) => name)).map((dimension, place) => ({
        ...dimension,
        members: coded(dimensions[place]?.members ?? []).map((one) => ({ ...one, parent: null })),
      })),
    };
    file.value = undefined;
    step.value = 'workspace';
  }

  /** Makes the workspace, and checks the same file against it; without a file, one plans right away. */
  function make(
    { name, currency, fiscalStart, locale, years }: Company,
    done: () => Promise<unknown>,
  ): Promise<void> {
    const [found, sent] = [proposal.value, file.value];
    if (!found) return Promise.resolve();
    return working(TEXTS.creatingTheWorkspace, async () => {
      if (workspaceId.value === 0) {
        const { closedThrough, asOf } = found.calendar;
        const today = new Date().toISOString().slice(0, 10);
        const asOfBy = Math.abs(daysBetween(asOf, today)) <= RECENT ? 'day' : 'hand';
        const body: NewWorkspace = {
          name,
          locale,
          currency: { code: currency, minorDigits: minorDigits(currency) },
          calendar: {
            ...found.calendar,
            asOf: asOfBy === 'day' && today > asOf ? today : asOf,
            fiscalStart,
            last: monthText(monthFrom(closedThrough) + 12 * years),
          },
          dimensions: found.dimensions,
          asOfBy,
        };
        workspaceId.value = (await call(workspaceOperations.createWorkspace, {}, body)).id;
        await session.refresh();
        if (sent) await remember(sent.name, found.reading);
      }
      if (!sent) {
        await done();
        return;
      }
      const inputs = {
        workspaceId: workspaceId.value,
        fileName: sent.name,
        reading: JSON.stringify(found.reading),
      };
      preview.value = await callWithFile(actualsOperations.previewImport, inputs, sent, sending);
      step.value = 'check';
    });
  }

  /** The next file of this kind is read as this one. */
  async function remember(name: string, reading: ReadingChoice): Promise<void> {
    const { columns, constants, shape, values, fillDown, decimal, dates, turn } = reading;
    await call(
      actualsOperations.keepMapping,
      { workspaceId: workspaceId.value },
      {
        name: name.replace(/\.\w+$/, ''),
        kind: 'sales',
        header: look.value?.reading.header ?? [],
        reading: { columns, constants, shape, values, fillDown, decimal, dates, turn },
      },
    );
  }

  function apply(): Promise<void> {
    const checked = preview.value;
    if (!checked) return Promise.resolve();
    return working(TEXTS.importingSalesLines(checked.good), async () => {
      const inputs = { workspaceId: workspaceId.value, importId: checked.id };
      await call(actualsOperations.applyImport, inputs);
      step.value = 'streams';
    });
  }
  function forecast(done: () => Promise<unknown>): Promise<void> {
    return working(TEXTS.creatingTheForecast, async () => {
      const inputs = { workspaceId: workspaceId.value };
      const unfollow = followNotices(inputs.workspaceId, () => undefined);
      try {
        await call(
          forecastOperations.proposeStreams,
          inputs,
          {},
          { onShare: (known) => (share.value = known) },
        );
      } finally {
        unfollow();
      }
      await done();
    });
  }

  /** What a column or a whole file still lacks, in words. */
  const lacking = computed(() => {
    const now = look.value;
    if (!now) return [];
    const names = now.fields
      .filter(({ key, need }) => now.missing.includes(key) && need === 'always')
      .map(({ label }) => label.toLowerCase());
    const amounts = now.fields.some(
      ({ key, need }) => need === 'amount' && now.missing.includes(key),
    );
    return [
      ...names,
      ...(amounts ? [TEXTS.quantityOrNetAmount] : []),
      ...(now.dimensions.length === 0 ? [TEXTS.atLeastOneDimension] : []),
    ];
  });
  /** Amounts that seem to stand with the ledger's sign: most of the first rows are negative. */
  const negative = computed(() => {
    const now = look.value;
    if (!now) return [];
    const { reading, rows, fields } = now;
    return fields.filter(({ key, content }) => {
      const column = reading.columns[key];
      if (content !== 'number' || typeof column !== 'number' || key === 'line number') return false;
      const values = rows
        .map(({ cells }) => readNumber(cells[column] ?? '', reading.decimal, 2))
        .filter((value) => value !== 0 && !Number.isNaN(value));
      const below = values.filter((value) => value < 0).length;
      return below > values.length / 2 && !reading.turn.includes(key);
    });
  });
  /** Turns the sign of a field, or turns it back. */
  function turn(key: string): Promise<void> {
    const turned = look.value?.reading.turn ?? [];
    const next = turned.includes(key) ? turned.filter((one) => one !== key) : [...turned, key];
    return readAs({ ...choice.value, turn: next });
  }
  return {
    ...{ negative, turn },
    ...{
      step,
      file,
      choice,
      look,
      proposal,
      preview,
      workspaceId,
      busy,
      share,
      failure,
      faults,
      lacking,
    },
    ...{ begin, choose, readAs, assign, fixDimensions, propose, make, apply, forecast },
  };
}

/** A dimension of a look as it is said when the file is looked at again. */
function asSaid({
  column,
  value,
  name,
}: FirstFileLook['dimensions'][number]): FirstDimensionChoice {
  return column === null ? { name, value: value ?? '' } : { name, column };
}

/** A code for each name, no two the same. */
function codesFor(names: readonly string[]): string[] {
  const taken = new Set<string>();
  return names.map((name) => {
    const wanted = codeFrom(name).toLowerCase();
    let code = wanted;
    for (let more = 2; taken.has(code); more += 1) code = `${wanted}-${more}`;
    taken.add(code);
    return code;
  });
}

/** What a column holds that cuts sales. */
export const DIMENSION = '+dimension';
