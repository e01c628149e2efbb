import { mount } from '@vue/test-utils';
import { expect } from 'chai';
import fc from 'fast-check';
import { createPinia, setActivePinia } from 'pinia';
import { defineComponent, h } from 'vue';
import { createMemoryHistory, createRouter } from 'vue-router';
import { M, smallPlan } from '../../../core/src/testing/small-plan.ts';
import { usePlan } from '../plan/use-plan.ts';
import { presetsOf, useFrame } from './use-frame.ts';

type Frame = ReturnType<typeof useFrame>;

/** A frame in a page of its own, around a small plan. */
async function framed(): Promise<{ frame: Frame; at: () => string; end(): void }> {
  const pinia = createPinia();
  setActivePinia(pinia);
  const plan = smallPlan([]);
  usePlan().workspace = {
    ...{ id: 1, name: 'Small', locale: 'en-IE', revision: 1 },
    plan: { ...plan, streams: 0, combinations: 0 },
  } as never;
  const page = { component: defineComponent({ setup: () => () => h('div') }) };
  const router = createRouter({
    history: createMemoryHistory(),
    routes: [{ path: '/', ...page }],
  });
  await router.push('/');
  let frame: Frame | undefined;
  const wrapper = mount(
    defineComponent({
      setup() {
        frame = useFrame();
        return () => h('div');
      },
    }),
    { global: { plugins: [pinia, router] } },
  );
  return {
    frame: frame as Frame,
    at: () => router.currentRoute.value.fullPath,
    end: () => wrapper.unmount(),
  };
}

const members = fc.uniqueArray(
  fc.constantFrom(M.web, M.stores, M.carafe, M.tap, M.north, M.coast),
  { maxLength: 4 },
);

describe('the frame', () => {
  it('reads from an address what was put into it', async () => {
    const { frame, end } = await framed();
    const [first, last] = [frame.calendarSpan.value.from, frame.calendarSpan.value.to];
    const span = fc
      .tuple(fc.integer({ min: first, max: last }), fc.integer({ min: first, max: last }))
      .map(([a, b]) => ({ from: Math.min(a, b), to: Math.max(a, b) }));
    await fc.assert(
      fc.asyncProperty(
        span,
        members,
        fc.constantFrom(1, 1000, 1_000_000),
        fc.constantFrom('month', 'quarter', 'year'),
        fc.boolean(),
        async (months, scope, unit, grain, books) => {
          await frame.setSpan(months.from, months.to);
          await frame.setScope(scope);
          await frame.set({ unit: String(unit), grain, origin: books ? 'books' : undefined });
          expect(frame.span.value).to.deep.equal(months);
          expect([...frame.scope.value].sort()).to.deep.equal([...scope].sort());
          expect([frame.unit.value, frame.grain.value, frame.books.value]).to.deep.equal([
            unit,
            grain,
            books,
          ]);
        },
      ),
      { numRuns: 60 },
    );
    end();
  });

  it('takes the year in force where an address says nothing it can use', async () => {
    const { frame, end } = await framed();
    const year = presetsOf(frame.calendar.value)['This year'];
    for (const query of [
      { from: '2031-01', to: '2031-12' },
      { from: '2025-09', to: '2025-02' },
      { from: 'soon', to: 'later' },
    ]) {
      await frame.set(query);
      expect(frame.span.value).to.deep.equal(year);
    }
    await frame.set({ scope: 'channel:nowhere,colour:red,channel:web' });
    expect(frame.scope.value).to.deep.equal([M.web]);
    await frame.set({ unit: '7', grain: 'week', measure: 'beauty', columns: 'taste' });
    expect([
      frame.unit.value,
      frame.grain.value,
      frame.measure.value,
      frame.columns.value,
    ]).to.deep.equal([1000, 'month', 'revenue', 'time']);
    end();
  });

  it('says the scope in words, and whose number it is', async () => {
    const { frame, at, end } = await framed();
    expect(frame.subject.value).to.equal('Small');
    await frame.setScope([M.web, M.stores]);
    expect(frame.subject.value).to.equal('web and stores');
    expect(decodeURIComponent(at())).to.contain('scope=channel:web,channel:stores');
    end();
  });
});
