/** A round of budget sheets: handed out, filled in, handed in, sent back, agreed; by whom, and by whom not. */
import {
  sheetOperations,
  type FilledSheet,
  type Sheet,
  type SheetLine,
  type VersionCells,
  type WorkspacePlan,
} from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample, type Visitor } from '../testing/serve.ts';

describe('budget sheets', () => {
  const sample = withSample();
  const SHEETS = `${SAMPLE}/sheets`;
  const at = ({ id }: Pick<Sheet, 'id'>, rest = ''): string => `${SHEETS}/${id}${rest}`;

  let ada: Visitor;
  let adaId: number;
  let bo: Visitor;
  let boId: number;
  let manager: Visitor;
  let north: number;
  let coast: number;
  let version: number;

  async function enter(role: string, called: string): Promise<[Visitor, number]> {
    const email = `${called}@ondwell.example`;
    const person = { email, name: called, password: 'long enough 1', role };
    const made = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/people`, person);
    assert.equal(made.status, 201, made.text);
    const visitor = sample.served.visitor();
    await visitor.signIn(email, person.password);
    return [visitor, made.body.id];
  }
  before(async () => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const region = body.plan.dimensions.find(({ code }) => code === 'region');
    [north = 0, coast = 0] = region?.members.map(({ id }) => id) ?? [];
    const kept = await sample.planner.send<{ id: number }>('POST', `${SAMPLE}/versions`, {
      ...{ name: 'Budget FY 2028', from: '2027-04', to: '2028-03' },
    });
    assert.equal(kept.status, 201, kept.text);
    version = kept.body.id;
    [ada, adaId] = await enter('contributor', 'Ada');
    [bo, boId] = await enter('contributor', 'Bo');
    [manager] = await enter('manager', 'Cy');
  });

  async function added(person: number, scope: number[], more: object = {}): Promise<Sheet> {
    const said = {
      ...{ title: `Sheet ${person} ${scope.join()}`, version, person, scope },
      ...{ rows: ['channel', 'product'], due: '2026-11-13', ...more },
    };
    const made = await sample.planner.send<Sheet>('POST', SHEETS, said);
    assert.equal(made.status, 201, made.text);
    return made.body;
  }
  const step = (who: Visitor, sheet: Sheet, state: string, text = '') =>
    who.send<Sheet>('POST', at(sheet, '/state'), { state, text });
  async function handedOut(person: number, scope: number[], more: object = {}): Promise<Sheet> {
    const sheet = await added(person, scope, more);
    const { status, body, text } = await step(sample.planner, sheet, 'handedOut');
    assert.equal(status, 200, text);
    return body;
  }
  async function filled(who: Visitor, sheet: Sheet): Promise<FilledSheet> {
    const { status, body, text } = await who.send<FilledSheet>('GET', at(sheet));
    assert.equal(status, 200, text);
    return body;
  }
  const leaves = ({ lines }: FilledSheet): SheetLine[] => lines.filter(({ parent }) => !parent);
  const sum = (lines: readonly SheetLine[]): number =>
    lines.reduce((all, { plan }) => all + plan, 0);
  const type = (who: Visitor, sheet: Sheet, line: SheetLine, total: number, saw = line.plan) =>
    who.send('POST', at(sheet, '/entries'), { typed: [{ scope: line.scope, total, saw }] });
  const say = (who: Visitor, sheet: Sheet, line: SheetLine, change: object) =>
    who.send<FilledSheet>('PATCH', at(sheet, '/lines'), { scope: line.scope, ...change });
  async function revenueOfVersion(): Promise<number> {
    const { body } = await sample.planner.send<VersionCells>(
      'GET',
      `${SAMPLE}/versions/${version}/cells`,
    );
    return body.revenue.reduce((all, one) => all + one, 0);
  }
  function required<T>(value: T | undefined): T {
    assert.exists(value);
    return value;
  }

  it('add up: lines to their totals, and the sheets of all regions to the version', async () => {
    const { body } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const regions = body.plan.dimensions.find(({ code }) => code === 'region')?.members ?? [];
    let whole = 0;
    for (const { id } of regions.filter(({ parent }) => parent === null)) {
      const sheet = await added(adaId, [id]);
      const { lines } = await filled(sample.planner, sheet);
      const [total] = lines;
      assert.equal(sum(lines.filter(({ parent }) => !parent)), required(total).plan);
      assert.equal(sum(lines.filter(({ level }) => level === 1)), required(total).plan);
      whole += required(total).plan;
      await sample.planner.send('DELETE', at(sheet), {});
    }
    assert.equal(whole, await revenueOfVersion());
  });

  it('go out, come in, come back with a question, and are agreed; each step is on record', async () => {
    const sheet = await added(adaId, [north]);
    assert.isEmpty((await ada.send<Sheet[]>('GET', SHEETS)).body, 'in draft it is the planner’s');
    assert.equal((await ada.send('GET', at(sheet))).status, 403);
    await step(sample.planner, sheet, 'handedOut');
    const [own] = (await ada.send<Sheet[]>('GET', SHEETS)).body;
    assert.deepInclude(own, { id: sheet.id, state: 'handedOut', due: '2026-11-13', open: true });
    const before = await filled(ada, sheet);
    const line = required(leaves(before).find(({ plan }) => plan > 0));
    assert.equal((await type(ada, sheet, line, line.plan + 12_345)).status, 200);
    const after = await filled(ada, sheet);
    assert.equal(required(after.lines[0]).plan, required(before.lines[0]).plan + 12_345);
    assert.equal((await step(ada, sheet, 'handedIn')).status, 200);
    const twice = await step(ada, sheet, 'handedIn');
    assert.equal(twice.status, 409);
    assert.include(twice.problem?.detail, 'is handed in');
    const late = await type(ada, sheet, line, 1, line.plan + 12_345);
    assert.equal(late.status, 409, 'handed in, it takes no numbers');
    assert.equal(
      (await step(sample.planner, sheet, 'questioned')).status,
      400,
      'say what is asked',
    );
    await step(sample.planner, sheet, 'questioned', 'Is the fair in it?');
    assert.isTrue((await filled(ada, sheet)).sheet.open);
    await step(ada, sheet, 'handedIn', 'It is');
    assert.equal((await step(ada, sheet, 'agreed')).status, 403, 'nobody agrees their own');
    await step(sample.planner, sheet, 'agreed');
    const { sheet: now } = await filled(ada, sheet);
    assert.isFalse(now.open);
    assert.deepEqual(
      now.steps.map(({ state, by, text }) => [state, by, text]),
      [
        ['draft', 'Mara Ellingsen', ''],
        ['handedOut', 'Mara Ellingsen', ''],
        ['handedIn', 'Ada', ''],
        ['questioned', 'Mara Ellingsen', 'Is the fair in it?'],
        ['handedIn', 'Ada', 'It is'],
        ['agreed', 'Mara Ellingsen', ''],
      ],
    );
  });

  it('divide what is typed over a total among the lines that are not locked', async () => {
    const sheet = await handedOut(boId, [coast]);
    const before = await filled(bo, sheet);
    const group = required(
      before.lines.find(({ parent, level, plan }) => parent && level === 1 && plan > 0),
    );
    const start = before.lines.indexOf(group);
    const of = ({ lines }: FilledSheet): SheetLine[] => {
      const end = lines.findIndex(({ level }, place) => place > start && level <= group.level);
      return lines.slice(start + 1, end < 0 ? undefined : end).filter(({ parent }) => !parent);
    };
    const locked = required(of(before).find(({ plan }) => plan > 0));
    const said = await say(bo, sheet, locked, { locked: true, comment: 'Signed already' });
    assert.equal(said.status, 200, said.text);
    const refused = await type(bo, sheet, locked, 1);
    assert.equal(refused.status, 400);
    assert.include(refused.text, 'is locked');
    const total = group.plan + 100_001;
    const typed = await type(bo, sheet, group, total);
    assert.equal(typed.status, 200, typed.text);
    const after = await filled(bo, sheet);
    assert.equal(required(after.lines[start]).plan, total);
    assert.equal(sum(of(after)), total);
    const same = required(after.lines.find(({ key }) => key === locked.key));
    assert.deepInclude(same, { plan: locked.plan, comment: 'Signed already', locked: true });
    const less = await type(bo, sheet, required(after.lines[start]), locked.plan - 1);
    assert.equal(less.status, 400);
    assert.include(less.text, 'locked');
    // One act, one undo, of whoever typed it; what was said of the line before it comes next.
    assert.equal((await bo.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.deepEqual(
      (await filled(bo, sheet)).lines.map(({ plan }) => plan),
      before.lines.map(({ plan }) => plan),
    );
    assert.equal((await bo.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.deepEqual(await filled(bo, sheet), before);
    assert.equal((await bo.send('POST', `${SAMPLE}/redo`)).status, 200);
    // Once it is handed in, nothing of it is undone any more.
    await step(bo, sheet, 'handedIn');
    assert.equal((await bo.send('POST', `${SAMPLE}/undo`)).status, 403);
  });

  it('divide a line over its months as it says, and show the slice’s own past', async () => {
    const sheet = await handedOut(boId, [coast], { rows: ['product'], measure: 'units' });
    const before = await filled(bo, sheet);
    const line = required(leaves(before).find(({ plan }) => plan > 100));
    assert.isAbove(line.lastTwelve ?? 0, 0);
    assert.isAbove(line.lastYear ?? 0, 0);
    assert.isAbove(line.forecast ?? 0, 0);
    await say(bo, sheet, line, { basis: 'equal' });
    assert.equal((await type(bo, sheet, line, 1200)).status, 200);
    const { body } = await sample.planner.send<VersionCells>(
      'GET',
      `${SAMPLE}/versions/${version}/cells`,
    );
    const { body: plan } = await sample.planner.send<WorkspacePlan>('GET', `${SAMPLE}/plan`);
    const inside = new Set(
      plan.plan.combinations
        .filter(({ members }) => line.scope.every((id) => members.includes(id)))
        .map(({ id }) => id),
    );
    const byMonth = new Map<string, number>();
    body.combination.forEach((combination, place) => {
      if (!inside.has(combination)) return;
      const month = body.month[place] ?? '';
      byMonth.set(month, (byMonth.get(month) ?? 0) + (body.units[place] ?? 0));
    });
    assert.deepEqual([...new Set(byMonth.values())], [100]);
  });

  it('say of a number that somebody else typed meanwhile what it is now', async () => {
    const sheet = await handedOut(adaId, [north], { rows: ['channel'] });
    const { lines } = await filled(ada, sheet);
    const line = required(leaves({ lines } as FilledSheet).find(({ plan }) => plan > 0));
    assert.equal((await type(sample.planner, sheet, line, line.plan + 500)).status, 200);
    for (const one of [line, required(lines[0])]) {
      const clash = await type(ada, sheet, one, one.plan + 7);
      assert.equal(clash.status, 409, clash.text);
      const [conflict] = clash.problem?.conflicts ?? [];
      assert.deepInclude(conflict, { saw: one.plan, now: one.plan + 500, by: 'Mara Ellingsen' });
    }
  });

  it('take one of several totals that are typed at once, and say so of the others', async () => {
    const sheet = await handedOut(adaId, [north], { rows: ['channel'] });
    const [total] = (await filled(ada, sheet)).lines;
    const { plan } = required(total);
    const answers = await Promise.all(
      [1, 2, 3, 4].map((more) => type(ada, sheet, required(total), plan + more)),
    );
    assert.deepEqual(answers.map(({ status }) => status).sort(), [200, 409, 409, 409]);
    const now = required((await filled(ada, sheet)).lines[0]).plan;
    const taken = answers.findIndex(({ status }) => status === 200);
    assert.equal(now, plan + taken + 1);
    for (const { problem } of answers.filter(({ status }) => status === 409)) {
      assert.deepInclude(problem?.conflicts?.[0], { path: 'typed.0', saw: plan, now });
    }
  });

  it('are open to nobody else, by any route', async () => {
    const sheet = await handedOut(adaId, [north]);
    const { lines } = await filled(ada, sheet);
    const line = required(lines[1]);
    const BYTES = { 'content-type': 'application/octet-stream' };
    type Tried = [string, string, (object | string)?, Record<string, string>?];
    const tried: Readonly<Record<string, Tried>> = {
      saveSheet: ['GET', at(sheet, '/file.csv')],
      bringSheet: ['POST', at(sheet, '/file'), 'key,Plan\n', BYTES],
      readSheet: ['GET', at(sheet)],
      stepSheet: ['POST', at(sheet, '/state'), { state: 'handedIn' }],
      changeSheetLine: ['PATCH', at(sheet, '/lines'), { scope: line.scope, comment: 'Mine' }],
      typeIntoSheet: [
        'POST',
        at(sheet, '/entries'),
        { typed: [{ scope: line.scope, total: 1, saw: line.plan }] },
      ],
    };
    for (const [name, { access }] of Object.entries(sheetOperations)) {
      if (access !== 'part' || name === 'listSheets') continue;
      const [method, path, body, headers] = required(tried[name]);
      for (const who of [bo, manager]) {
        const { status } = await who.send(method, path, body, headers);
        assert.equal(status, 403, name);
      }
    }
    assert.isEmpty((await manager.send<Sheet[]>('GET', SHEETS)).body);
    assert.isFalse((await bo.send<Sheet[]>('GET', SHEETS)).body.some(({ id }) => id === sheet.id));
    // Whoever reads all sees it, and fills in nothing.
    const reader = await sample.served.reader();
    assert.equal((await reader.send('GET', at(sheet))).status, 200);
    const [method, path, body] = required(tried['typeIntoSheet']);
    assert.equal((await reader.send(method, path, body)).status, 403);
    assert.deepEqual((await filled(ada, sheet)).lines, lines);
    // One’s own sheet opens nothing else of the version.
    const cells = await ada.send('GET', `${SAMPLE}/versions/${version}/cells`);
    assert.equal(cells.status, 403);
    const elsewhere = await ada.send('POST', at(sheet, '/entries'), {
      typed: [{ scope: [coast], total: 1, saw: 0 }],
    });
    assert.equal(elsewhere.status, 400);
    assert.include(elsewhere.text, 'no line of the sheet');
  });

  it('refuse what cannot be: people who only read, members and dimensions that are not there', async () => {
    const said = { title: 'Wrong', version, person: adaId, scope: [], rows: ['product'] };
    const reader = (
      await sample.planner.send<{ id: number; role: string }[]>('GET', `${SAMPLE}/people`)
    ).body.find(({ role }) => role === 'reader');
    for (const [more, status, words] of [
      [{ person: reader?.id ?? 0 }, 400, 'only reads'],
      [{ person: 9999 }, 400, 'no such person'],
      [{ scope: [99_999] }, 400, 'no member'],
      [{ rows: ['colour'] }, 400, 'no dimension'],
      [{ rows: [] }, 400, 'choose what the lines are'],
      [{ rows: ['product', 'product'] }, 400, 'once'],
      [{ version: 999 }, 404, 'version'],
      [{ due: '2026-13-01' }, 400, 'date'],
      [{ title: '' }, 400, ''],
    ] as const) {
      const refused = await sample.planner.send('POST', SHEETS, { ...said, ...more });
      assert.equal(refused.status, status, `${JSON.stringify(more)}: ${refused.text}`);
      assert.include(refused.text, words);
    }
    const none = await sample.planner.send('GET', `${SHEETS}/none`);
    assert.equal(none.status, 404);
  });

  it('take nothing once their version is sealed', async () => {
    const sheet = await handedOut(adaId, [north]);
    const { lines } = await filled(ada, sheet);
    const sealed = await sample.planner.send('POST', `${SAMPLE}/versions/${version}/seal`);
    assert.equal(sealed.status, 200, sealed.text);
    const refused = await type(ada, sheet, required(lines[0]), 1);
    assert.equal(refused.status, 409);
    assert.include(refused.text, 'is locked');
    assert.equal((await sample.planner.send('POST', `${SAMPLE}/undo`)).status, 200);
    assert.deepEqual((await filled(ada, sheet)).lines, lines);
  });
});
