import type { PasswordLink, Session, WorkspacePerson } from '@dravex/contract';
import { assert } from 'chai';
import { SAMPLE, withSample } from '../testing/serve.ts';

const PEOPLE = `${SAMPLE}/people`;

describe('entry', () => {
  const sample = withSample();
  const people = async (): Promise<readonly WorkspacePerson[]> =>
    (await sample.planner.send<WorkspacePerson[]>('GET', PEOPLE)).body;
  const idOf = async (email: string): Promise<number> =>
    (await people()).find((one) => one.email === email)?.id ?? 0;
  const invite = (email: string, role = 'reader') =>
    sample.planner.send<{ id: number; link: PasswordLink | null }>('POST', `${PEOPLE}/invited`, {
      email,
      name: 'Somebody New',
      role,
    });

  it('lets the invited choose their own password, once', async () => {
    const { status, body } = await invite('Invited@ondwell.example');
    assert.equal(status, 201);
    const token = body.link?.token ?? '';
    assert.isTrue((await people()).find(({ id }) => id === body.id)?.invited);
    const visitor = sample.served.visitor();
    const whose = await visitor.send('POST', '/password-link', { token });
    assert.deepEqual(whose.body, { name: 'Somebody New', email: 'invited@ondwell.example' });
    const short = await visitor.send('PUT', '/password-link', { token, password: 'short' });
    assert.equal(short.status, 400);
    assert.equal(short.problem?.errors?.[0]?.path, 'password');
    const password = 'chosen by myself';
    assert.equal((await visitor.send('PUT', '/password-link', { token, password })).status, 204);
    assert.equal((await visitor.signIn('invited@ondwell.example', password)).status, 200);
    assert.isFalse((await people()).find(({ id }) => id === body.id)?.invited);
    // It works once.
    for (const [method, sent] of [
      ['POST', { token }],
      ['PUT', { token, password: 'another password' }],
    ] as const) {
      const again = await sample.served.visitor().send(method, '/password-link', sent);
      assert.equal(again.status, 404);
      assert.include(again.problem?.detail, 'ask for a new one');
    }
    assert.equal((await invite('invited@ondwell.example')).status, 409);
  });

  it('keeps only the hash of a link, and refuses one that is too old', async () => {
    const { body } = await invite('late@ondwell.example');
    const token = body.link?.token ?? '';
    const { pool } = sample.served.connections;
    const { rows } = await pool.query<{ hash: string }>(
      'select hash from password_link where person_id = $1',
      [body.id],
    );
    assert.lengthOf(rows, 1);
    assert.notInclude(rows[0]?.hash ?? '', token);
    await pool.query(`update password_link set expires_at = now() - interval '1 second'`);
    const late = await sample.served.visitor().send('POST', '/password-link', { token });
    assert.equal(late.status, 404);
  });

  it('lets somebody in who has an account already, under their own name and password', async () => {
    const made = await sample.planner.send<{ id: number }>('POST', PEOPLE, {
      email: 'twice@ondwell.example',
      name: 'Twice',
      password: 'long enough 1',
      role: 'reader',
    });
    const person = `${PEOPLE}/${made.body.id}`;
    assert.equal((await sample.planner.send('DELETE', person)).status, 204);
    const visitor = sample.served.visitor();
    await visitor.signIn('twice@ondwell.example', 'long enough 1');
    assert.equal((await visitor.send('GET', `${SAMPLE}/plan`)).status, 404);
    assert.equal((await invite('twice@ondwell.example')).status, 201);
    assert.equal((await visitor.send('GET', `${SAMPLE}/plan`)).status, 200);
    // Once they have come, their name is as it was.
    await visitor.send('GET', '/session');
    assert.equal((await people()).find(({ id }) => id === made.body.id)?.name, 'Twice');
  });

  it('changes roles and removes people, undone by who did it, and always leaves an owner', async () => {
    const reader = await idOf('reader@ondwell.example');
    const planner = await idOf('planner@ondwell.example');
    const roleOf = async (id: number) => (await people()).find((one) => one.id === id)?.role;
    for (const refused of [
      await sample.planner.send('PATCH', `${PEOPLE}/${planner}`, { role: 'reader' }),
      await sample.planner.send('DELETE', `${PEOPLE}/${planner}`),
    ]) {
      assert.equal(refused.status, 409);
      assert.include(refused.problem?.detail, 'needs an owner');
    }
    await sample.planner.send('PATCH', `${PEOPLE}/${reader}`, { role: 'planner' });
    assert.equal(await roleOf(reader), 'planner');
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal(await roleOf(reader), 'reader');
    await sample.planner.send('DELETE', `${PEOPLE}/${reader}`);
    assert.isUndefined(await roleOf(reader));
    await sample.planner.send('POST', `${SAMPLE}/undo`);
    assert.equal(await roleOf(reader), 'reader');
    const nobody = await sample.planner.send('PATCH', `${PEOPLE}/9999`, { role: 'reader' });
    assert.equal(nobody.status, 404);
  });

  it('resets a password by a link; all sessions of that person end', async () => {
    const made = await sample.planner.send<{ id: number }>('POST', PEOPLE, {
      email: 'forgetful@ondwell.example',
      name: 'Forgetful',
      password: 'long enough 1',
      role: 'reader',
    });
    const visitor = sample.served.visitor();
    await visitor.signIn('forgetful@ondwell.example', 'long enough 1');
    const path = `${PEOPLE}/${made.body.id}/password-link`;
    const { body } = await sample.planner.send<PasswordLink>('POST', path);
    // Until it is used, the old password holds.
    assert.equal((await visitor.send('GET', '/session')).status, 200);
    const { token } = body;
    await sample.served
      .visitor()
      .send('PUT', '/password-link', { token, password: 'a new one 12' });
    assert.equal((await visitor.send('GET', '/session')).status, 401);
    assert.equal((await visitor.signIn('forgetful@ondwell.example', 'long enough 1')).status, 401);
    assert.equal((await visitor.signIn('forgetful@ondwell.example', 'a new one 12')).status, 200);
  });

  it('resets nobody’s password who is in a workspace that one does not plan', async () => {
    const reader = await idOf('reader@ondwell.example');
    await sample.served.connections.pool.query(
      'update person set makes_workspaces = true where id = $1',
      [reader],
    );
    const own = await (
      await sample.served.reader()
    ).send('POST', '/workspaces', {
      name: 'Elsewhere',
      locale: 'en-IE',
      currency: { code: 'EUR', minorDigits: 2 },
      calendar: {
        first: '2026-01',
        last: '2026-12',
        closedThrough: '2026-06',
        asOf: '2026-07-01',
        fiscalStart: 1,
      },
      dimensions: [
        { code: 'channel', name: 'Channel', members: [{ code: 'web', name: 'Web', parent: null }] },
      ],
    });
    assert.equal(own.status, 201, own.text);
    const refused = await sample.planner.send('POST', `${PEOPLE}/${reader}/password-link`);
    assert.equal(refused.status, 403);
    assert.include(refused.problem?.detail, 'under their own settings');
  });

  it('changes one’s own password: it has to be known, and one’s other sessions end', async () => {
    const email = 'own@ondwell.example';
    await sample.planner.send('POST', PEOPLE, {
      email,
      name: 'Own',
      password: 'long enough 1',
      role: 'reader',
    });
    const [here, elsewhere] = [sample.served.visitor(), sample.served.visitor()];
    await here.signIn(email, 'long enough 1');
    await elsewhere.signIn(email, 'long enough 1');
    const change = (password: string, next: string) =>
      here.send('PUT', '/session/password', { password, next });
    const wrong = await change('guess', 'another one 1');
    assert.equal(wrong.status, 400);
    assert.equal(wrong.problem?.errors?.[0]?.path, 'password');
    assert.equal((await change('long enough 1', 'short')).status, 400);
    assert.equal((await change('long enough 1', 'another one 1')).status, 204);
    assert.equal((await here.send('GET', '/session')).status, 200);
    assert.equal((await elsewhere.send('GET', '/session')).status, 401);
    // Guessing at an open session is throttled as signing in is.
    const tries: number[] = [];
    for (let guess = 0; guess < 10; guess += 1) tries.push((await change('guess', 'x')).status);
    for (let guess = 0; guess < 10; guess += 1) {
      tries.push((await change('guess', 'long enough 2')).status);
    }
    assert.equal(tries.at(-1), 429);
  });

  it('remembers what a person prefers, on whatever machine', async () => {
    const preferences = { theme: 'dark', locale: 'de-DE', unit: 1, firstRoom: 'forecast' };
    const kept = await sample.planner.send('PUT', '/session/preferences', preferences);
    assert.equal(kept.status, 204, kept.text);
    const again = await sample.served.visitor().signIn('planner@ondwell.example', 'plan the year');
    assert.deepEqual((again.body as Session).preferences, preferences as Session['preferences']);
    for (const bad of [{ theme: 'pink' }, { locale: 'no locale' }, { unit: 7 }, { more: 1 }]) {
      assert.equal((await sample.planner.send('PUT', '/session/preferences', bad)).status, 400);
    }
  });
});
