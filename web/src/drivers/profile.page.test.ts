import { expect } from 'chai';
import { assume, M } from '../../../core/src/testing/small-plan.ts';
import { desk } from '../../testing/desk.ts';
import { settle } from '../../testing/mounting.ts';
import { usePlan } from '../plan/use-plan.ts';
import { useProfile } from './use-profile.ts';

/** What a year of history says of the list price in the web shop: about twenty. */
const said = {
  reference: { lastYear: 20, lowest: 18, highest: 22 },
  season: null,
  history: Array.from({ length: 12 }, () => 20),
};
const opened = () =>
  desk(
    () => {
      const plan = usePlan();
      const driver = plan.workspace?.plan.drivers.find(({ code }) => code === 'listPrice');
      if (!driver) throw new Error('There is no list price');
      return useProfile(() => ({ driver, scope: [M.web], said: said as never }));
    },
    { assumptions: [assume('grossUnits', [], 10), assume('listPrice', [], 20)] },
  );

describe('a profile that is being set', () => {
  it('begins with the last year, and is drawn after what happened', async () => {
    const { used, end } = await opened();
    expect(used.form.value.value).to.equal('20');
    expect(used.against.value).to.equal('last 12 months 20.00, 0.0%');
    await settle();
    expect(used.assumption.value).to.deep.include({ driver: 'listPrice', scope: [M.web] });
    const { closed, line } = used.chart.value;
    expect([closed, line[0], line.at(-1), line.length]).to.deep.equal([12, 20, 20, 24]);
    expect(used.strange.value).to.equal('');
    end();
  });

  it('says where it lies above or below whatever was seen, and by how much it grows', async () => {
    const { used, end } = await opened();
    used.form.value.value = '25';
    await settle();
    expect(used.strange.value).to.equal(
      'Higher than any month so far: 25.00, the highest was 22.00',
    );
    expect(used.against.value).to.equal('last 12 months 20.00, +25.0%');
    used.form.value.value = '5';
    await settle();
    expect(used.strange.value).to.contain('Lower than any month so far: 5.00');
    used.form.value.value = 'much';
    await settle();
    expect([used.complete.value, used.against.value]).to.deep.equal([false, '']);
    end();
  });
});
