/** Who comes in, and by what: passwords, second factors, sessions, guesses, and what is written down. */
import type { AuditEvent, NewFactor, OwnSession, Session } from '@dravex/contract';
import { assert } from 'chai';
import { Secret, TOTP } from 'otpauth';
import { SAMPLE, until, withSample, type Visitor } from '../testing/serve.ts';

const PASSWORD = 'correct horse, wrong battery';

/** The code of a secret, of this half minute or of one some steps later. */
const codeOf = (secret: string, later = 0): string =>
  new TOTP({ secret: Secret.fromBase32(secret) }).generate({
    timestamp: Date.now() + later * 30_000,
  });

describe('entering', () => {
  const sample = withSample();
  const invite = (email: string, name: string, role = 'reader') =>
    sample.planner.send<{ id: number; link: { token: string; expiresAt: string } }>(
      'POST',
      `${SAMPLE}/people/invited`,
      { email, name, role },
    );
  /** Somebody new, signed in. */
  async function newcomer(name: string, role = 'reader'): Promise<Visitor> {
    const email = `${name.toLowerCase()}@ondwell.example`;
    const { body, text } = await invite(email, name, role);
    assert.isDefined(body.link, text);
    const visitor = sample.served.visitor();
    const chosen = { token: body.link.token, password: PASSWORD };
    assert.equal((await visitor.send('PUT', '/password-link', chosen)).status, 204);
    assert.equal((await visitor.signIn(email, PASSWORD)).status, 200);
    return visitor;
  }
  const audit = async (query = ''): Promise<AuditEvent[]> =>
    (await sample.planner.send<AuditEvent[]>('GET', `${SAMPLE}/audit${query}`)).body;

  it('a link works once, for an hour', async () => {
    const { body } = await invite('once@ondwell.example', 'Once');
    const minutes = (Date.parse(body.link.expiresAt) - Date.now()) / 60_000;
    assert.approximately(minutes, 60, 1);
    const choose = { token: body.link.token, password: PASSWORD };
    const visitor = sample.served.visitor();
    const both = await Promise.all(
      [1, 2, 3].map(() => visitor.send('PUT', '/password-link', choose)),
    );
    assert.deepEqual(both.map(({ status }) => status).toSorted(), [204, 404, 404]);
    const { body: late } = await invite('late@ondwell.example', 'Late');
    await sample.served.connections.pool.query(
      `update password_link set expires_at = now() - interval '1 second'`,
    );
    const old = { token: late.link.token, password: PASSWORD };
    assert.equal((await visitor.send('PUT', '/password-link', old)).status, 404);
  });

  it('passwords that many people have, or with one’s own name, are refused', async () => {
    const { body } = await invite('petronella@ondwell.example', 'Petronella Quist');
    const visitor = sample.served.visitor();
    for (const [password, said] of [
      ['1234567890', 'Many people'],
      ['qwertyuiop', 'Many people'],
      ['Password123!!', 'Many people'],
      ['abababababab', 'Many people'],
      ['Petronella1', 'own name'],
      ['quist-2026!', 'own name'],
    ] as const) {
      const chosen = { token: body.link.token, password };
      const { status, problem } = await visitor.send('PUT', '/password-link', chosen);
      assert.equal(status, 400, password);
      assert.include(problem?.errors?.[0]?.message, said, password);
    }
    const good = { token: body.link.token, password: PASSWORD };
    assert.equal((await visitor.send('PUT', '/password-link', good)).status, 204);
    await visitor.signIn('petronella@ondwell.example', PASSWORD);
    const weak = { password: PASSWORD, next: 'letmein12345' };
    const changed = await visitor.send('PUT', '/session/password', weak);
    assert.equal(changed.problem?.errors?.[0]?.path, 'next', changed.text);
  });

  it('an invitation does not tell who has an account elsewhere', async () => {
    const owner = await newcomer('Elsewhere', 'owner');
    const made = await owner.send<{ id: number }>('POST', '/workspaces', {
      name: 'Elsewhere',
      locale: 'en-IE',
      calendar: {
        ...{ first: '2025-01', last: '2027-12', closedThrough: '2026-06', asOf: '2026-07-01' },
        fiscalStart: 1,
      },
      currency: { code: 'EUR', minorDigits: 2 },
      dimensions: [
        { code: 'place', name: 'Place', members: [{ code: 'a', name: 'A', parent: null }] },
      ],
    });
    assert.equal(made.status, 201, made.text);
    const there = `/workspaces/${made.body.id}`;
    const ask = (email: string, name: string) =>
      owner.send<{ id: number; link: { token: string } }>('POST', `${there}/people/invited`, {
        ...{ email, name, role: 'planner' },
      });
    const known = await ask('reader@ondwell.example', 'Somebody');
    const fresh = await ask('nobody-yet@ondwell.example', 'Somebody Else');
    assert.deepEqual([known.status, fresh.status], [201, 201]);
    assert.sameMembers(Object.keys(known.body), Object.keys(fresh.body));
    assert.sameMembers(Object.keys(known.body.link), Object.keys(fresh.body.link));
    // Under the name that was given, until they come.
    const people = await owner.send<{ name: string; invited: boolean }[]>('GET', `${there}/people`);
    assert.sameDeepMembers(
      people.body.flatMap(({ name, invited }) => (invited ? [name] : [])),
      ['Somebody', 'Somebody Else'],
    );
    const read = (token: string) => owner.send('POST', '/password-link', { token });
    assert.sameMembers(
      Object.keys((await read(known.body.link.token)).body as object),
      Object.keys((await read(fresh.body.link.token)).body as object),
    );
    const wrong = { token: known.body.link.token, password: 'not the one they have' };
    const refused = await owner.send('PUT', '/password-link', wrong);
    assert.equal(refused.status, 400);
    const right = { token: known.body.link.token, password: 'read the plan' };
    assert.equal((await owner.send('PUT', '/password-link', right)).status, 204);
    const reader = await sample.served.reader();
    const { body } = await reader.send<Session>('GET', '/session');
    assert.deepEqual(
      body.workspaces.map(({ name, role }) => [name, role]),
      [
        ['Ondwell', 'reader'],
        ['Elsewhere', 'planner'],
      ],
    );
  });

  it('only owners make workspaces, where nothing else is said', async () => {
    const reader = await sample.served.reader();
    const { body } = await reader.send<Session>('GET', '/session');
    const file = { dravex: 1 };
    const status = async (who: Visitor) =>
      (await who.send('POST', '/workspaces/plan-file', file)).status;
    assert.equal(
      body.makesWorkspaces,
      body.workspaces.some(({ role }) => role === 'owner'),
    );
    assert.equal(await status(sample.planner), 400, 'an owner is asked for the file');
    const contributor = await newcomer('Cora', 'reader');
    const look = await contributor.send(
      'POST',
      '/workspaces/first-file?fileName=a.csv',
      'a,b\n1,2\n',
      {
        'content-type': 'text/csv',
      },
    );
    assert.equal(look.status, 403, look.text);
  });

  it('a second factor is set up, asked for, taken once, and recovered from', async () => {
    const visitor = await newcomer('Fay');
    const email = 'fay@ondwell.example';
    const wrong = await visitor.send('POST', '/session/second-factor', {
      password: 'not this one',
    });
    assert.equal(wrong.status, 400);
    const begun = await visitor.send<NewFactor>('POST', '/session/second-factor', {
      password: PASSWORD,
    });
    assert.match(begun.body.uri, /^otpauth:\/\/totp\/Dravex:/);
    const { secret } = begun.body;
    assert.equal(
      (await visitor.send('PUT', '/session/second-factor', { code: '000000' })).status,
      400,
    );
    const confirmed = await visitor.send<{ codes: string[] }>('PUT', '/session/second-factor', {
      code: codeOf(secret),
    });
    assert.equal(confirmed.status, 200, confirmed.text);
    assert.lengthOf(new Set(confirmed.body.codes), 10);
    const { rows } = await sample.served.connections.pool.query<{ second_factor: string }>(
      `select second_factor from person where email = '${email}'`,
    );
    assert.notInclude(rows[0]?.second_factor, secret);

    const enter = (code?: string) => {
      const body = { email, password: PASSWORD, ...(code === undefined ? {} : { code }) };
      return sample.served.visitor().send('POST', '/session', body);
    };
    const asked = await enter();
    assert.equal(asked.status, 401);
    assert.equal(asked.problem?.errors?.[0]?.path, 'code');
    assert.equal(
      (await enter(codeOf(secret))).status,
      400,
      'the code that confirmed it is used up',
    );
    const next = codeOf(secret, 1);
    const twice = await Promise.all([enter(next), enter(next)]);
    assert.deepEqual(twice.map(({ status }) => status).toSorted(), [200, 400]);
    const [recovery = ''] = confirmed.body.codes;
    assert.equal((await enter(recovery.toLowerCase().replaceAll('-', ' '))).status, 200);
    assert.equal((await enter(recovery)).status, 400, 'a recovery code works once');
    const kinds = (await audit('?person=fay')).map(({ kind }) => kind);
    assert.includeMembers(kinds, ['secondFactorOn', 'recoveryCodeUsed', 'signInFailed']);
    // Who owns all of their workspaces helps whoever lost it.
    const { body: people } = await sample.planner.send<{ id: number; email: string }[]>(
      'GET',
      `${SAMPLE}/people`,
    );
    const id = people.find((one) => one.email === email)?.id ?? 0;
    const taken = await sample.planner.send('DELETE', `${SAMPLE}/people/${id}/second-factor`);
    assert.equal(taken.status, 204, taken.text);
    assert.equal((await enter()).status, 200);
  });

  it('a workspace that asks for a second factor stays closed without one', async () => {
    const closed = await sample.planner.send('PUT', `${SAMPLE}/entry-rules`, {
      secondFactor: true,
    });
    assert.equal(closed.status, 409, 'an owner without one would shut themselves out');
    const owner = await newcomer('Olga', 'owner');
    const begun = await owner.send<NewFactor>('POST', '/session/second-factor', {
      password: PASSWORD,
    });
    const code = codeOf(begun.body.secret);
    await owner.send('PUT', '/session/second-factor', { code });
    const rules = await owner.send('PUT', `${SAMPLE}/entry-rules`, { secondFactor: true });
    assert.equal(rules.status, 204, rules.text);
    const reader = await sample.served.reader();
    const refused = await reader.send('GET', `${SAMPLE}/plan`);
    assert.equal(refused.status, 403);
    assert.include(refused.problem?.detail, 'Set one up');
    const { body } = await reader.send<Session>('GET', '/session');
    assert.isTrue(body.workspaces.find(({ id }) => id === 1)?.closed);
    assert.equal((await owner.send('GET', `${SAMPLE}/plan`)).status, 200);
    await owner.send('PUT', `${SAMPLE}/entry-rules`, { secondFactor: false });
    assert.equal((await reader.send('GET', `${SAMPLE}/plan`)).status, 200);
  });

  it('sessions are listed and ended, what they hear too; they end by themselves', async () => {
    const [here, there] = [await newcomer('Sid'), sample.served.visitor()];
    await there.signIn('sid@ondwell.example', PASSWORD);
    const stream = await fetch(there.address(`${SAMPLE}/notices`), {
      headers: { cookie: there.cookie },
    });
    const { body } = await here.send<OwnSession[]>('GET', '/sessions');
    assert.lengthOf(body, 2);
    assert.deepEqual(body.map(({ own }) => own).toSorted(), [false, true]);
    assert.notInclude(JSON.stringify(body), here.cookie.slice(10, 30));
    assert.equal((await here.send('DELETE', '/sessions/others')).status, 204);
    assert.equal((await there.send('GET', '/session')).status, 401);
    let ended = false;
    void stream.text().then(() => (ended = true));
    await until(() => ended, 'the notices end with the session');
    assert.equal((await here.send('GET', '/session')).status, 200);
    assert.equal((await here.send('DELETE', '/sessions/none')).status, 404);
    // However busy: after its longest time a session is over.
    await sample.served.connections.pool.query(
      `update session set sess = jsonb_set(sess::jsonb, '{endsAt}', '1')::json
       where sess ->> 'personId' = (select id::text from person where email = 'sid@ondwell.example')`,
    );
    assert.equal((await here.send('GET', '/session')).status, 401);
  });

  it('a form of another page signs nobody in', async () => {
    const body = JSON.stringify({ email: 'planner@ondwell.example', password: 'plan the year' });
    for (const type of ['text/plain', 'application/x-www-form-urlencoded', '']) {
      const answer = await fetch(sample.planner.address('/session'), {
        method: 'POST',
        ...(type === '' ? {} : { headers: { 'content-type': type } }),
        body: type === '' ? new Blob([body]) : body,
      });
      assert.equal(answer.status, 415, type);
      assert.isEmpty(answer.headers.getSetCookie());
    }
  });

  it('of many guesses at once no more are tried than one after the other', async () => {
    await newcomer('Gus');
    const guess = () => sample.served.visitor().signIn('gus@ondwell.example', 'a guess');
    const answers = await Promise.all(Array.from({ length: 60 }, guess));
    const tried = answers.filter(({ status }) => status === 401).length;
    assert.isAtMost(tried, 8);
    assert.isTrue(answers.every(({ status }) => status === 401 || status === 429));
    const right = await sample.served.visitor().signIn('gus@ondwell.example', PASSWORD);
    assert.equal(right.status, 429);
    // Counts that are over go, and say nothing of what was typed.
    const { rows } = await sample.served.connections.pool.query<{ key: string }>(
      'select key from sign_in_throttle',
    );
    assert.isFalse(rows.some(({ key }) => key.includes('gus')));
  });

  it('guesses spread over accounts, or over addresses, end too', async () => {
    const from = (address: string, email: string) =>
      sample.served
        .visitor()
        .send('POST', '/session', { email, password: 'a guess' }, { 'x-forwarded-for': address });
    const accounts = await Promise.all(
      Array.from({ length: 130 }, (_, at) => from('203.0.113.7', `spread-${at}@ondwell.example`)),
    );
    assert.isAtLeast(accounts.filter(({ status }) => status === 429).length, 30);
    const addresses = await Promise.all(
      Array.from({ length: 80 }, (_, at) => from(`198.51.100.${at}`, 'target@ondwell.example')),
    );
    assert.isAtLeast(addresses.filter(({ status }) => status === 429).length, 30);
  }).timeout(60_000);

  it('what was done is in the audit log, for owners, filtered, and as a CSV', async () => {
    await sample.planner.send('POST', `${SAMPLE}/tokens`, { name: 'For a report' });
    await sample.planner.readFile(
      `${SAMPLE}/summary.csv?rows=channel&columns=month&from=2026-04&to=2026-06`,
    );
    const reader = await sample.served.reader();
    assert.equal((await reader.send('POST', `${SAMPLE}/versions`, {})).status, 403);
    await until(async () => {
      const kinds = new Set((await audit('?limit=500')).map(({ kind }) => kind));
      return (['tokenMade', 'exported', 'refused', 'signedIn', 'invited'] as const).every((kind) =>
        kinds.has(kind),
      );
    }, 'all of it is written down');
    const exported = await audit('?kind=exported&person=mara');
    assert.isNotEmpty(exported);
    assert.include(exported[0]?.detail, 'saveSummary');
    assert.isEmpty(await audit('?to=2020-01-01'));
    assert.equal((await reader.send('GET', `${SAMPLE}/audit`)).status, 403);
    const csv = await sample.planner.send('GET', `${SAMPLE}/audit.csv?kind=signedIn`);
    assert.match(csv.text, /at,what,person,e-mail,address,detail\r\n2\d\d\d-/);
    assert.notInclude(csv.text, PASSWORD);
  });

  it('nothing between the server and a person keeps what is theirs', async () => {
    for (const path of ['/session', `${SAMPLE}/plan`, `${SAMPLE}/people`, `${SAMPLE}/plan-file`]) {
      const answer = await fetch(sample.planner.address(path), {
        headers: { cookie: sample.planner.cookie },
      });
      assert.equal(answer.headers.get('cache-control'), 'no-store', path);
    }
  });
});
