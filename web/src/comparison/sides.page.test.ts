import type { Version } from '@dravex/contract';
import { expect } from 'chai';
import { computed } from 'vue';
import { assume } from '../../../core/src/testing/small-plan.ts';
import { desk } from '../../testing/desk.ts';
import { settle } from '../../testing/mounting.ts';
import { useAcross } from './use-across.ts';
import { useComparison } from './use-comparison.ts';
import { useMateriality } from './use-materiality.ts';
import { useSides } from './use-sides.ts';

const version = (id: number, name: string, part: object = {}): Version =>
  ({
    ...{ id, name, from: '2026-01', to: '2026-12' },
    ...{ note: '', cells: 0, state: 'open', putAway: false, lastEntry: 0, budgetOf: 2026 },
    ...{ createdBy: 'Mara', createdAt: '2026-01-05T10:00:00Z', ...part },
  }) as never;

describe('what is compared with what', () => {
  it('is in the address, and a version that is chosen holds in other rooms too', async () => {
    const { used, query, end } = await desk(useSides, {
      versions: [version(3, 'Budget 2026'), version(4, 'Outlook', { budgetOf: null })],
      at: 'from=2026-01&to=2026-12',
    });
    expect([used.of.value.value, used.against.value.value]).to.deep.equal(['actual', 'version:3']);
    await used.hold('version:4');
    expect(query()).to.include({ version: '4' });
    await used.hold('lastYear');
    expect(query()['against']).to.equal('lastYear');
    await used.compare('forecast');
    expect(used.of.value.name).to.equal('Forecast');
    await used.compare('actual');
    expect(query()['of'], 'what is usual is not in the address').to.equal(undefined);
    end();
  });

  it('has others beside it, but none twice, and no target against a target', async () => {
    const { used, query, end } = await desk(useSides, {
      versions: [version(3, 'Budget 2026')],
      at: 'from=2026-01&to=2026-12&against=target',
    });
    expect(used.ofOffered.value.some(({ value }) => value === 'target')).to.equal(false);
    await used.putBeside('forecast');
    await used.putBeside('lastYear');
    expect(used.beside.value.map(({ value }) => value)).to.deep.equal(['forecast', 'lastYear']);
    await used.putBeside('forecast');
    expect(query()['beside']).to.equal('lastYear');
    expect(used.besideOffered.value.map(({ value }) => value)).to.not.include('target');
    end();
  });

  it('takes what stands across and from which size on it matters from the address', async () => {
    const { used, query, end } = await desk(() => ({ ...useAcross(), ...useMateriality() }), {
      at: 'across=measures&measures=units,nonsense&least=5000&leastShare=2.5',
    });
    expect(used.measures.value).to.deep.equal(['units']);
    expect(used.least.value).to.deep.equal({ amount: 5000, share: 0.025 });
    await used.turnMeasure('units');
    expect(query()['measures'], 'the last one stays').to.equal('units');
    await used.turnMeasure('revenue');
    expect(query()['measures']).to.equal('units,revenue');
    await used.stand('none');
    expect([query()['across'], query()['measures']]).to.deep.equal([undefined, undefined]);
    await used.setLeast({ amount: 0, share: 0.1 });
    expect([query()['least'], query()['leastShare']]).to.deep.equal([undefined, '10']);
    end();
  });

  it('is computed from the plan, and says where a target or who sold is not known', async () => {
    const assumptions = [assume('grossUnits', [], 10), assume('listPrice', [], 20)];
    const asks = () => {
      const sides = useSides();
      return {
        ...sides,
        ...useComparison({ ...sides, ...useAcross(), byDriver: computed(() => false) }),
      };
    };
    const { used, router, end } = await desk(asks, {
      assumptions,
      at: 'from=2026-01&to=2026-03&of=forecast&against=lastYear',
      reply: () => ({ body: { objectives: [], objective: null, nodes: [] } }),
    });
    await settle();
    // Eight lines of ten units at twenty, three months; nothing was sold the year before.
    expect(used.data.value?.comparison.total?.actual.value).to.equal(8 * 10 * 20 * 3);
    expect([used.targetMissing.value, used.unknown.value]).to.deep.equal([false, undefined]);
    await router.push('/w/1/room?from=2026-01&to=2026-03&of=forecast&against=target');
    await settle();
    expect(used.targetMissing.value).to.equal(true);
    await router.push('/w/1/room?from=2026-01&to=2026-03&of=forecast&rows=seller');
    await settle();
    expect([used.byPeople.value, used.unknown.value?.value]).to.deep.equal([true, 'forecast']);
    end();
  });
});
