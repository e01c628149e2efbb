import type { Version, VersionCells } from '@dravex/contract';
import { monthText } from '@dravex/core';
import { expect } from 'chai';
import { computed } from 'vue';
import { assume, COMBINATIONS, M } from '../../../core/src/testing/small-plan.ts';
import { desk, type DeskParts } from '../../testing/desk.ts';
import { refusal } from '../../testing/server.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useEntries } from './use-entries.ts';
import { useWarnings } from './use-warnings.ts';

const MONTH = 2026 * 12;
const version: Version = {
  ...{ id: 3, name: 'Budget 2026', from: '2026-01', to: '2026-12', note: '', cells: 96 },
  ...{ state: 'open', budgetOf: 2026, putAway: false, lastEntry: 0 },
  ...{ createdBy: 'Mara', createdAt: '2026-01-05T10:00:00Z' },
};
/** Ten units at twenty of each combination, each month. */
const places = COMBINATIONS.flatMap(({ id }) =>
  Array.from({ length: 12 }, (_, t) => ({ combination: id, month: monthText(MONTH + t) })),
);
const cells: VersionCells = {
  combination: places.map(({ combination }) => combination),
  month: places.map(({ month }) => month),
  units: places.map(() => 10),
  revenue: places.map(() => 20_000),
  cost: places.map(() => null),
};
const opened = (write: NonNullable<DeskParts['reply']>, at = 'unit=1') =>
  desk(
    () => {
      const plan = usePlan();
      return {
        ...useEntries(
          () => plan.versions[0],
          () => Promise.resolve(),
        ),
        warnings: useWarnings(
          () => plan.versions[0],
          () => [],
        ),
        known: computed(() => plan.versions.length),
      };
    },
    {
      ...{ at: `from=2026-01&to=2026-12&${at}`, versions: [version] },
      assumptions: [assume('grossUnits', [], 10), assume('listPrice', [], 20)],
      reply: (asked) =>
        asked.path.includes('/cells')
          ? { body: cells }
          : asked.method === 'GET'
            ? { body: [] }
            : write(asked),
    },
  );
const saved = (count = 4) => ({ body: { cells: count, lastEntry: 1, revision: 1, journal: 8 } });
const typed = (text: string, part: object = {}) => [
  {
    ...{ row: 'web', column: '2026-01', text, scope: [M.web] },
    ...{ span: { from: MONTH, to: MONTH }, ...part },
  },
];
type Sent = { typed: { total: number; saw: number; basis: string; keeps?: string }[] };

describe('typing into a budget', () => {
  it('becomes entries in minor units, spread, and can be divided by another basis', async () => {
    const { used, plan, sent, done, end } = await opened(() => saved());
    expect(await plan.loadVersion(3)).to.equal(undefined);
    used.edit(typed('1000'));
    await done();
    const first = sent().at(-1)?.body as Sent;
    // Four lines of the web shop at 200 each.
    expect(first.typed[0]).to.include({ total: 100_000, saw: 80_000 });
    expect([used.spread.value?.cells, used.journal.value]).to.deep.equal([4, 8]);
    await used.respread('equal');
    expect((sent().at(-1)?.body as Sent).typed[0]).to.include({
      ...{ total: 100_000, saw: 100_000, basis: 'equal' },
    });
    expect(used.spread.value?.basis).to.equal('equal');
    plan.undone += 1;
    await done();
    expect(used.spread.value, 'what was taken back is not divided').to.equal(undefined);
    expect(used.journal.value).to.equal(null);
    end();
  });

  it('says that months lie outside of it, that a measure is calculated, and what went below zero', async () => {
    const { used, sent, done, router, end } = await opened(() => saved(1));
    used.edit(typed('5', { span: { from: MONTH + 12, to: MONTH + 12 } }));
    await done();
    expect(used.message.value).to.contain('does not cover these months');
    used.edit([{ ...typed('-50')[0], sure: true } as never]);
    await done();
    expect(used.message.value).to.contain('negative now');
    const before = sent().length;
    await router.push('/w/1/room?from=2026-01&to=2026-12&measure=margin');
    await done();
    expect(used.message.value).to.equal('');
    used.edit(typed('5'));
    await done();
    expect(used.message.value).to.contain('is calculated; enter revenue, units or cost');
    expect(sent().length).to.equal(before);
    end();
  });

  it('shows what somebody else typed, and says what the server refused', async () => {
    const conflicts = [{ path: 'typed.0.total', saw: 1, now: 90_000, by: 'Ilse', at: 'now' }];
    let refuses = true;
    const { used, plan, done, end } = await opened(() =>
      refuses ? refusal(422, 'The budget is locked') : refusal(409, 'Changed', { conflicts }),
    );
    used.edit(typed('1000'));
    await done();
    expect([used.message.value, used.failed.value]).to.deep.equal([
      'The budget is locked. The old value stays.',
      true,
    ]);
    refuses = false;
    used.edit(typed('1000'));
    await done();
    expect(plan.clash?.rows[0]).to.include({ theirs: '900.00', mine: '1,000.00', by: 'Ilse' });
    end();
  });

  it('is asked for by several parts of a room at once, and read once', async () => {
    const { plan, asked, end } = await opened(() => saved());
    const reads = () => asked.filter(({ path }) => path.includes('/cells')).length;
    const before = reads();
    // Something was entered since: the cells at hand are old.
    plan.versions = [{ ...version, lastEntry: 7 }];
    await Promise.all([plan.loadVersion(3), plan.loadVersion(3), plan.loadVersion(3)]);
    expect(reads() - before).to.equal(1);
    await plan.loadVersion(3);
    expect(reads() - before, 'what is there is not asked for').to.equal(1);
    end();
  });
});
