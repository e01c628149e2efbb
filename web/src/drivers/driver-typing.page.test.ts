import { expect } from 'chai';
import { computed, ref } from 'vue';
import { assume, M } from '../../../core/src/testing/small-plan.ts';
import { desk, type DeskParts } from '../../testing/desk.ts';
import { refusal } from '../../testing/server.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useFrame } from '../shell/use-frame.ts';
import { useDriverGrid } from './use-driver-grid.ts';
import { useDriverTable } from './use-driver-table.ts';
import { useDriverTyping } from './use-driver-typing.ts';

const MONTH = 2026 * 12;
const prices = () => [assume('listPrice', [M.web], 20), assume('listPrice', [M.stores], 25)];

/** A driver's grid as its room has it. */
function room(code: string) {
  const plan = usePlan();
  const frame = useFrame();
  const driver = computed(() => plan.workspace?.plan.drivers.find((one) => one.code === code));
  const table = useDriverTable(driver);
  const lines = computed(() => table.data.value ?? []);
  const rows = computed(() => new Map(lines.value.map((row) => [row.key, row])));
  const shown = computed(() => ({
    driver: driver.value,
    from: MONTH,
    scope: frame.scope.value,
    codes: frame.rows.value,
  }));
  const grid = useDriverGrid({
    driver,
    rows: lines,
    open: computed(() => ({ from: MONTH, to: MONTH + 1 })),
    weightedBy: table.weightedBy,
    roomy: ref(true),
  });
  return { ...useDriverTyping(shown, rows, table.settled), table, lines, grid };
}
let records = 0;
const saved = () => {
  const none = { put: [], drop: [] };
  records += 1;
  return { body: { ...none, adjustments: none, revision: 1 + records, journal: records } };
};
const opened = (code: string, reply: NonNullable<DeskParts['reply']> = saved) =>
  desk(() => room(code), {
    ...{ assumptions: [...prices(), assume('grossUnits', [], 10)], reply },
    at: 'from=2026-01&to=2026-02&rows=channel',
  });
type Sent = Record<'values' | 'totals' | 'changes', { saw?: unknown }[]>;

describe('typing into a driver', () => {
  it('has a row for each channel, with whose each number is', async () => {
    const { used, done, end } = await opened('listPrice');
    const rows = used.grid.gridRows.value.filter(({ level }) => level < 2);
    const cells = rows.map(({ label, cells }) => [label, cells.at(1)?.text, cells.at(1)?.dress]);
    expect(cells).to.deep.equal([
      [rows[0]?.label, '22.50', 'mixed'],
      ['web', '20.00', 'typed'],
      ['stores', '25.00', 'typed'],
    ]);
    used.grid.turnOrder('2026-01');
    await done();
    const inOrder = used.grid.gridRows.value.filter(({ level }) => level === 1);
    expect(inOrder.map(({ label }) => label)).to.deep.equal(['stores', 'web']);
    end();
  });

  it('sends a value with what it saw, and can be given a reason', async () => {
    const { used, sent, done, end } = await opened('listPrice');
    const web = used.lines.value.find(({ label }) => label === 'web');
    used.edit([{ row: web?.key ?? '', column: '2026-02', text: '21', sure: true }]);
    await done();
    const body = sent().at(-1)?.body as Sent;
    expect(body.values).to.deep.equal([{ scope: [M.web], month: '2026-02', value: 21, saw: 20 }]);
    expect(used.journal.value).to.equal(records);
    end();
  });

  it('asks before different values become equal, and leaves them where they are not meant', async () => {
    const { used, plan, sent, done, end } = await opened('listPrice');
    const all = used.lines.value[0];
    const typed = () => used.edit([{ row: all?.key ?? '', column: '2026-01', text: '22' }]);
    typed();
    await done();
    expect(sent()).to.deep.equal([]);
    expect(used.flattening.inWords.value.join()).to.match(/one list price for 8 forecast lines/);
    expect(plan.unanswered).to.equal(1);
    used.flattening.leave();
    await done();
    expect([used.message.value, plan.unanswered]).to.deep.equal(['Nothing was changed.', 0]);
    typed();
    await done();
    used.flattening.flatten();
    await done();
    expect((sent().at(-1)?.body as Sent).values[0]).to.include({ value: 22 });
    end();
  });

  it('spreads a total of what adds up, and changes each value below by arithmetic', async () => {
    const { used, sent, done, end } = await opened('grossUnits');
    const all = used.lines.value[0]?.key ?? '';
    used.edit([{ row: all, column: '2026-01', text: '100' }]);
    await done();
    expect((sent().at(-1)?.body as Sent).totals[0]).to.include({ total: 100, saw: 80 });
    expect(used.message.value).to.equal('Spread over 8 forecast lines, in proportion.');
    used.edit([{ row: all, column: '2026-02', text: 'x1.1' }]);
    await done();
    expect((sent().at(-1)?.body as Sent).totals[0]).to.include({ total: 88, saw: 80 });
    end();
  });

  it('changes each value below a mean by arithmetic', async () => {
    const { used, sent, done, end } = await opened('listPrice');
    used.edit([{ row: used.lines.value[0]?.key ?? '', column: '2026-02', text: 'x1.1' }]);
    await done();
    expect((sent().at(-1)?.body as Sent).changes[0]).to.include({ kind: 'times', by: 1.1 });
    expect(used.message.value).to.equal('Each value below was changed by that.');
    end();
  });

  it('refuses at the cell what cannot be a value, and forgets it where something else is shown', async () => {
    const { used, sent, done, router, end } = await opened('listPrice');
    const web = used.lines.value.find(({ label }) => label === 'web')?.key ?? '';
    used.edit([{ row: web, column: '2026-01', text: 'dear' }]);
    used.edit([{ row: web, column: '2026-02', text: '-4', sure: true }]);
    await done();
    expect(sent()).to.deep.equal([]);
    expect([...used.refused.value.keys()]).to.deep.equal([`${web} 2026-01`, `${web} 2026-02`]);
    expect(used.failed.value).to.equal(true);
    await router.push('/w/1/room?from=2026-01&to=2026-02&rows=channel&scope=channel:web');
    await done();
    expect([used.refused.value.size, used.message.value]).to.deep.equal([0, '']);
    end();
  });

  it('shows what somebody else typed meanwhile, and goes over it only when it is told to', async () => {
    const conflicts = [{ path: 'values.0.value', saw: 20, now: 24, by: 'Ilse', at: 'now' }];
    let clashes = true;
    const { used, plan, sent, done, end } = await opened('listPrice', () =>
      clashes ? refusal(409, 'Changed', { conflicts }) : saved(),
    );
    const web = used.lines.value.find(({ label }) => label === 'web')?.key ?? '';
    used.edit([{ row: web, column: '2026-01', text: '21', sure: true }]);
    await done();
    expect(plan.clash?.rows[0]).to.include({ theirs: '24.00', mine: '21.00', by: 'Ilse' });
    const before = sent().length;
    clashes = false;
    await plan.clash?.insist();
    expect(sent().length).to.equal(before + 1);
    expect(used.message.value).to.equal('Your value is saved.');
    end();
  });
});
