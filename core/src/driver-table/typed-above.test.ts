/** What typing above several values of a driver does. */
import { assert } from 'chai';
import fc from 'fast-check';
import { change } from '../forecast/change.ts';
import { compile, evaluate, planOf, totalOf } from '../forecast/run.ts';
import { streamsIn } from '../forecast/structure.ts';
import { assume, COMBINATIONS, M } from '../testing/small-plan.ts';
import { driverTable } from './driver-table.ts';
import { changeProblems, flattened, typeInto, typedThere } from './type-into.ts';
import {
  JANUARY,
  AT,
  NOTHING,
  modelOf,
  typeIn,
  value,
  traced,
  prices,
} from '../testing/driver-rows.ts';

describe('a change typed above several values', () => {
  it('changes each value below by it, and the trace says so; taken back it is as before', () => {
    const model = modelOf(prices());
    const before = totalOf(model, 'revenue', [0, 1, 2, 3, 4, 5, 6, 7], { from: AT, to: AT });
    const edit = typeInto(model, 'listPrice', {
      ...NOTHING,
      changes: [{ scope: [M.web], month: JANUARY, kind: 'times', by: 1.04 }],
    });
    change(model, edit);
    assert.equal(value(model, 'listPrice', 0), 104);
    assert.closeTo(value(model, 'listPrice', 2), 291.2, 1e-9);
    assert.equal(value(model, 'listPrice', 4), 100, 'the stores keep theirs');
    assert.equal(value(model, 'listPrice', 0, '2026-02'), 100, 'and so does February');
    const trace = traced(model, 'listPrice', COMBINATIONS[2]?.members ?? []);
    assert.equal(trace.shape, 'product');
    assert.deepEqual(
      trace.parts.map((part) => part.value),
      [280, 1.04],
    );
    const id = edit.adjustments?.put[0]?.id ?? 0;
    assert.deepEqual(trace.parts[1]?.source, { kind: 'adjustment', id });
    const after = totalOf(model, 'revenue', [0, 1, 2, 3, 4, 5, 6, 7], { from: AT, to: AT });
    assert.closeTo(after - before, 0.04 * (before / 2), 1e-9);
    const put = edit.adjustments?.put ?? [];
    change(model, { put: [], drop: [], adjustments: { put: [], drop: put.map(({ id }) => id) } });
    assert.equal(value(model, 'listPrice', 2), 280);
  });

  it('reaches values that a narrower assumption gives', () => {
    const model = modelOf([
      ...prices(),
      assume('discount', [], 0.1),
      assume('discount', [M.web, M.carafe, M.north], 0.2),
    ]);
    typeIn(model, 'discount', {
      changes: [{ scope: [], month: JANUARY, kind: 'plus', by: -0.01 }],
    });
    assert.closeTo(value(model, 'discount', 0), 0.19, 1e-12);
    assert.closeTo(value(model, 'discount', 5), 0.09, 1e-12);
  });

  it('is refused where a value below would leave its bounds, with the bound and the line', () => {
    const model = modelOf([...prices(), assume('discount', [M.web], 0.005)]);
    const [refusal] = changeProblems(model, 'discount', [
      { scope: [], month: JANUARY, kind: 'plus', by: -0.01 },
    ]);
    assert.match(
      refusal?.message ?? '',
      /below the minimum of 0 %, for web · carafe · north in 2026-01/,
    );
  });

  it('is made once where a selection holds a row and what lies below it', () => {
    const model = modelOf(prices());
    const change1 = { month: JANUARY, kind: 'times', by: 2 } as const;
    typeIn(model, 'listPrice', {
      changes: [
        { ...change1, scope: [M.carafe] },
        { ...change1, scope: [M.web, M.carafe] },
        { ...change1, scope: [M.carafe] },
      ],
    });
    assert.equal(value(model, 'listPrice', 0), 200);
  });
});

describe('a value typed above several values', () => {
  it('says what it flattens, and sets all of them', () => {
    const model = modelOf(prices());
    assert.deepEqual(flattened(model, 'listPrice', [M.hardware], JANUARY), {
      streams: 8,
      values: 2,
    });
    typeIn(model, 'listPrice', { values: [{ scope: [M.hardware], month: JANUARY, value: 150 }] });
    assert.deepEqual(
      [0, 1, 2, 3].map((place) => value(model, 'listPrice', place)),
      [150, 150, 150, 150],
    );
    assert.equal(typedThere(model, 'listPrice', [M.hardware], JANUARY)?.value, 150);
    typeIn(model, 'listPrice', { values: [{ scope: [M.hardware], month: JANUARY, value: null }] });
    assert.equal(value(model, 'listPrice', 2), 280, 'taken back');
  });

  it('becomes an ordinary assumption where that holds by itself', () => {
    const model = modelOf([assume('grossUnits', [], 10), assume('listPrice', [], 100)]);
    const edit = typeInto(model, 'listPrice', {
      ...NOTHING,
      values: [{ scope: [M.web], month: JANUARY, value: 90 }],
    });
    assert.lengthOf(edit.put, 1);
    assert.isUndefined(edit.adjustments);
  });

  it('holds as it was typed, whatever was typed before', () => {
    const scope = fc.constantFrom(
      [],
      [M.web],
      [M.carafe],
      [M.web, M.carafe, M.north],
      [M.carafe, M.tap],
    );
    const typed = fc.record({
      scope,
      value: fc.integer({ min: 1, max: 99 }),
      change: fc.boolean(),
    });
    fc.assert(
      fc.property(fc.array(typed, { minLength: 1, maxLength: 6 }), (list) => {
        const model = modelOf(prices());
        for (const { scope: where, value: number, change: times } of list) {
          const by = 1 + number / 100;
          typeIn(
            model,
            'listPrice',
            times
              ? { changes: [{ scope: where, month: JANUARY, kind: 'times', by }] }
              : { values: [{ scope: where, month: JANUARY, value: number }] },
          );
          if (times) continue;
          for (const index of streamsIn(model, where)) {
            assert.equal(value(model, 'listPrice', index), number);
          }
        }
        const anew = evaluate(compile(planOf(model)));
        model.streams.forEach((_, index) =>
          assert.equal(value(model, 'listPrice', index), value(anew, 'listPrice', index)),
        );
      }),
    );
  });

  it('never reaches beyond what is in sight', () => {
    const model = modelOf(prices());
    const rows = driverTable(model, {
      driver: 'listPrice',
      rows: ['product'],
      scope: [M.carafe, M.north],
      span: { from: AT, to: AT },
    });
    const hardware = rows.find(({ label }) => label === 'hardware');
    assert.sameMembers([...(hardware?.scope ?? [])], [M.carafe, M.north]);
    typeIn(model, 'listPrice', {
      values: [{ scope: hardware?.scope ?? [], month: JANUARY, value: 50 }],
    });
    assert.equal(value(model, 'listPrice', 0), 50);
    assert.equal(value(model, 'listPrice', 1), 100, 'the coast is out of sight');
    assert.equal(value(model, 'listPrice', 2), 280, 'and so is the tap');
  });
});
