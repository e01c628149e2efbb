import { MEASURES } from '@dravex/core';
import { expect } from 'chai';
import { assume, M } from '../../../core/src/testing/small-plan.ts';
import { desk, type DeskParts } from '../../testing/desk.ts';
import { refusal } from '../../testing/server.ts';
import type { usePlan } from '../plan/use-plan.ts';
import { useOverrides } from './use-overrides.ts';

const MONTH = 2026 * 12;
/** Eight lines of ten units at twenty each, in open months. */
const assumptions = [assume('grossUnits', [], 10), assume('listPrice', [], 20)];
const typed = (text: string, part: object = {}) => [
  {
    ...{ row: 'web', column: '2026-01', text, scope: [M.web], measure: 'revenue' as const },
    ...{ span: { from: MONTH, to: MONTH }, ...part },
  },
];
const opened = (reply?: NonNullable<DeskParts['reply']>, at = 'unit=1') =>
  desk(() => useOverrides(() => Promise.resolve()), {
    ...{ assumptions, at },
    reply: reply ?? (() => ({ body: { cells: 4 } })),
  });

/** What the forecast of the month comes to in the worker. */
const now = ({ plan }: { plan: ReturnType<typeof usePlan> }) =>
  plan.compute().forecastNow([M.web], { from: MONTH, to: MONTH }, 'revenue');

describe('typing over the forecast', () => {
  it('shows its effect before it is kept, and what was there where it is refused', async () => {
    const seen: (number | null)[] = [];
    const opening = await opened(async () => {
      seen.push(await now(opening));
      return refusal(422, 'The period is locked');
    });
    const { used, done, end } = opening;
    expect(await now(opening)).to.equal(800);
    used.edit(typed('900'));
    await done();
    expect(seen, 'while the server is asked').to.deep.equal([900]);
    expect(await now(opening)).to.equal(800);
    end();
  });

  it('sends the number with what it saw, in full, and says over how many cells', async () => {
    const { used, sent, done, end } = await opened();
    used.why.value = 'A fair';
    used.edit(typed('900'));
    expect(used.waiting.value.get('web 2026-01'), 'shown at once').to.equal('900');
    await done();
    expect(sent().at(-1)?.body).to.deep.equal({
      typed: [
        {
          ...{ scope: [M.web], from: '2026-01', to: '2026-01' },
          ...{ measure: 'revenue', total: 900, saw: 800 },
        },
      ],
      why: 'A fair',
    });
    expect(used.message.value).to.equal('4 cells overridden, in proportion.');
    expect([used.why.value, used.waiting.value.size]).to.deep.equal(['', 0]);
    end();
  });

  it('reads what is typed in the unit that is shown, changes what is there by arithmetic', async () => {
    const { used, sent, done, end } = await opened(undefined, 'unit=1000');
    used.edit(typed('1.5'));
    used.edit(typed('+10%'));
    used.edit(typed('60', { measure: 'units' }));
    await done();
    const totals = sent().flatMap(({ body }) =>
      (body as { typed: { total: number }[] }).typed.map(({ total }) => total),
    );
    expect(totals, 'ten percent more than what was typed before').to.deep.equal([1500, 1650, 60]);
    end();
  });

  it('leaves closed months alone, and takes what they sold off a total', async () => {
    const { used, sent, done, end } = await opened();
    used.edit(typed('5', { span: { from: MONTH - 2, to: MONTH - 1 } }));
    used.edit(typed('1200', { column: 'total', span: { from: MONTH - 1, to: MONTH } }));
    await done();
    expect(used.refused.value.get('web 2026-01')).to.equal(
      'This month is closed; it shows actuals',
    );
    const body = sent().at(-1)?.body as { typed: { from: string; total: number }[] };
    expect(body.typed[0]).to.include({ from: '2026-01', total: 1200 });
    end();
  });

  it('refuses what is no number, asks about what may be a slip, and keeps the old value', async () => {
    const { used, sent, done, end } = await opened();
    used.edit(typed('many'));
    used.edit(typed('3', { measure: 'averagePrice', row: 'price' }));
    used.edit(typed('800000', { row: 'slip' }));
    await done();
    expect(sent()).to.deep.equal([]);
    expect(used.refused.value.get('web 2026-01')).to.equal('“many” is not a number');
    expect(used.refused.value.get('price 2026-01')).to.contain(MEASURES.averagePrice.name);
    expect(used.doubts.value.map(({ typed, meant }) => [typed, meant])).to.deep.equal([
      ['800,000.00 €', '800.00 €'],
    ]);
    used.settle('meant');
    await done();
    const body = sent().at(-1)?.body as { typed: { total: number }[] };
    expect(body.typed[0]?.total).to.equal(800);
    end();
  });

  it('shows what somebody else changed meanwhile, and insists only when it is told to', async () => {
    const conflict = { path: 'typed.0.total', saw: 800, now: 850, by: 'Ilse', at: 'now' };
    let clashes = true;
    const { used, plan, sent, done, end } = await opened(() =>
      clashes ? refusal(409, 'Changed', { conflicts: [conflict] }) : { body: { cells: 4 } },
    );
    used.edit(typed('900'));
    await done();
    expect(plan.clash?.rows[0]).to.include({ by: 'Ilse', theirs: '850.00', mine: '900.00' });
    clashes = false;
    await plan.clash?.insist();
    const body = sent().at(-1)?.body as { typed: { total: number; saw: number }[] };
    expect(body.typed[0]).to.include({ total: 900, saw: 850 });
    end();
  });

  it('says what the server refused, and that the old value stays', async () => {
    const { used, done, end } = await opened(() => refusal(422, 'The period is locked'));
    used.edit(typed('900'));
    await done();
    expect([used.message.value, used.failed.value]).to.deep.equal([
      'The period is locked. The old value stays.',
      true,
    ]);
    used.edit(typed(''));
    await done();
    expect(used.message.value).to.equal('There is no override here.');
    end();
  });
});
