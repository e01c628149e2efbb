import { expect } from 'chai';
import fc from 'fast-check';
import { M } from '../../../core/src/testing/small-plan.ts';
import { desk } from '../../testing/desk.ts';
import { presetsOf, useFrame } from './use-frame.ts';

/** A frame around a small plan. */
async function framed() {
  const { used: frame, router, end } = await desk(useFrame);
  await router.push('/');
  return { frame, at: () => router.currentRoute.value.fullPath, end };
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
      // A company of which nothing is sold yet is read in whole units of its money.
    ]).to.deep.equal([1, 'month', 'revenue', 'time']);
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
