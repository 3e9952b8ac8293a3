import {
  acceptInvitation,
  changePassword,
  changeRole,
  inviteMember,
  listDemoAccounts,
  listTeam,
  makePasswordLink,
  readInvitation,
  readPasswordLink,
  readSession,
  removeMember,
  signIn,
  signInToDemo,
  signOut,
  usePasswordLink,
} from '@juncta/contract/team';
import { createShow } from '@juncta/contract/shows';
import { SIGN_IN_LIMITS } from '../access/rate-limits';
import { IDLE_MS, LONGEST_MS } from '../access/sessions';
import { openHouse, PASSWORD, showText, type House } from '../testing/house';
import { checkPassword, hashPassword } from './passwords';

describe('sign-in', () => {
  let house: House;
  beforeEach(async () => (house = await openHouse()));
  afterEach(() => house.close());

  const credentials = { email: 'host@house.example', password: PASSWORD };

  it('lets in whoever has the password, by an address in any case', async () => {
    const visitor = house.stranger();
    const body = { ...credentials, email: ' Host@House.Example ' };
    expect((await visitor.get(signIn, { body })).member?.name).toBe('The host');
    expect((await visitor.get(readSession)).member?.role).toBe('host');
  });

  it('says the same of a wrong password and of an account there is not', async () => {
    const wrong = await house.stranger().refused(signIn, { body: { ...credentials, password: 'guess' } });
    const nobody = await house.stranger().refused(signIn, { body: { ...credentials, email: 'x@y.example' } });
    expect(wrong.code).toBe('wrong_credentials');
    expect(nobody.sentence).toBe(wrong.sentence);
  });

  it('ends when signed out, on the server too', async () => {
    const { cookies } = house.as.host;
    const kept = new Map(cookies);
    await house.as.host.get(signOut);
    for (const [name, value] of kept) cookies.set(name, value);
    expect((await house.as.host.get(readSession)).member).toBeNull();
  });

  it('refuses a thousand tries after the first few, without looking at the password', async () => {
    const body = { ...credentials, password: 'guess' };
    const replies: number[] = [];
    for (let round = 0; round < 20; round++) {
      const batch = Array.from({ length: 50 }, () => house.stranger().ask(signIn, { body }));
      replies.push(...(await Promise.all(batch)).map((reply) => reply.status));
    }
    expect(replies.filter((status) => status === 401).length).toBe(SIGN_IN_LIMITS.accountFromAddress.points);
    expect(replies.filter((status) => status === 429).length).toBe(
      1000 - SIGN_IN_LIMITS.accountFromAddress.points,
    );
    const right = await house.stranger().ask(signIn, { body: credentials });
    expect(right.status).toBe(429);
    expect(Number(right.headers.get('retry-after'))).toBeGreaterThan(0);
  }, 30_000);

  it('ends a session that nobody used, and any after its longest life', async () => {
    house.securityClock.advance(IDLE_MS - 1000);
    expect((await house.as.host.get(readSession)).member).not.toBeNull();
    house.securityClock.advance(IDLE_MS - 1000);
    expect((await house.as.host.get(readSession)).member).not.toBeNull();
    house.securityClock.advance(IDLE_MS + 1000);
    expect((await house.as.host.get(readSession)).member).toBeNull();

    for (let used = 0; used < LONGEST_MS; used += IDLE_MS / 2) {
      await house.as.producer.ask(readSession);
      house.securityClock.advance(IDLE_MS / 2);
    }
    expect((await house.as.producer.get(readSession)).member).toBeNull();
  });

  it('ends every session of a removed member at once', async () => {
    await house.as.producer.get(removeMember, { params: { memberId: house.members.host.id } });
    const refusal = await house.as.host.refused(createShow, {
      body: { id: crypto.randomUUID(), text: showText() },
    });
    expect(refusal.code).toBe('signed_out');
    expect((await house.stranger().refused(signIn, { body: credentials })).code).toBe('wrong_credentials');
    const { members } = await house.as.producer.get(listTeam);
    expect(members.map((member) => member.role)).toEqual(['moderator', 'producer']);
  });

  it('does not let a producer remove themselves', async () => {
    const params = { memberId: house.members.producer.id };
    expect((await house.as.producer.refused(removeMember, { params })).code).toBe('forbidden');
  });

  it('changes a password and ends the other sessions', async () => {
    const other = house.stranger();
    await other.get(signIn, { body: credentials });
    const wrong = await house.as.host.refused(changePassword, {
      body: { current: 'not it', password: 'a longer one than that' },
    });
    expect(wrong.fields?.[0]?.field).toBe('current');
    await house.as.host.get(changePassword, {
      body: { current: PASSWORD, password: 'a longer one than that' },
    });
    expect((await other.get(readSession)).member).toBeNull();
    expect((await house.as.host.get(readSession)).member).not.toBeNull();
    expect((await house.stranger().ask(signIn, { body: credentials })).status).toBe(401);
  });

  it('has no demo accounts where no demo is', async () => {
    expect((await house.stranger().get(listDemoAccounts)).accounts).toEqual([]);
    const body = { memberId: house.members.producer.id };
    expect((await house.stranger().refused(signInToDemo, { body })).code).toBe('not_found');
  });

  it('keeps passwords and tokens out of the log and the database', async () => {
    await house.stranger().ask(signIn, { body: credentials });
    const tables = await house.server.app.connection.pool.query(
      'select password_hash as kept from member union all select token_hash from session',
    );
    const kept = JSON.stringify(tables.rows) + house.logged.join('');
    expect(kept).not.toContain(PASSWORD);
    for (const client of Object.values(house.as)) {
      for (const value of client.cookies.values()) expect(kept).not.toContain(value);
    }
  });
});

describe('invitations', () => {
  let house: House;
  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());

  const newcomer = (token: string) => ({
    token,
    name: 'Nils',
    email: `${token.slice(0, 8).toLowerCase()}@house.example`,
    password: PASSWORD,
  });

  it('let one person in, once, in the role they name', async () => {
    const { token } = await house.as.producer.get(inviteMember, { body: { role: 'moderator' } });
    expect((await house.stranger().get(readInvitation, { body: { token } })).role).toBe('moderator');
    const first = await house.stranger().get(acceptInvitation, { body: newcomer(token) });
    expect(first.member?.role).toBe('moderator');
    const second = { ...newcomer(token), email: 'other@house.example' };
    expect((await house.stranger().refused(acceptInvitation, { body: second })).code).toBe('gone');
  });

  it('expire after three days', async () => {
    const { token } = await house.as.producer.get(inviteMember, { body: { role: 'host' } });
    house.securityClock.advance(3 * 86_400_000 + 1);
    expect((await house.stranger().refused(acceptInvitation, { body: newcomer(token) })).code).toBe('gone');
    house.securityClock.advance(-3 * 86_400_000 - 1);
  });

  it('do not give two people one address, and are still good after the refusal', async () => {
    const { token } = await house.as.producer.get(inviteMember, { body: { role: 'host' } });
    const taken = { ...newcomer(token), email: 'HOST@house.example' };
    const refusal = await house.stranger().refused(acceptInvitation, { body: taken });
    expect(refusal.fields).toEqual([jasmine.objectContaining({ field: 'email', code: 'taken' })]);
    await house.stranger().get(acceptInvitation, { body: newcomer(token) });
  });

  const wrong: [string, object, string][] = [
    ['a short password', { password: 'short' }, 'password'],
    ['no name', { name: '  ' }, 'name'],
    ['an address without an at', { email: 'nils' }, 'email'],
  ];
  for (const [what, change, field] of wrong) {
    it(`are refused with ${what}, naming the field`, async () => {
      const { token } = await house.as.producer.get(inviteMember, { body: { role: 'host' } });
      const body = { ...newcomer(token), ...change };
      const refusal = await house.stranger().refused(acceptInvitation, { body });
      expect(refusal.fields?.map((error) => error.field)).toEqual([field]);
    });
  }
});

describe('roles', () => {
  let house: House;
  beforeEach(async () => (house = await openHouse()));
  afterEach(() => house.close());

  it('are changed by another producer, and end every session of the member', async () => {
    const params = { memberId: house.members.moderator.id };
    const changed = await house.as.producer.get(changeRole, { params, body: { role: 'producer' } });
    expect(changed.role).toBe('producer');
    expect((await house.as.moderator.get(readSession)).member).toBeNull();
    const again = house.stranger();
    await again.get(signIn, { body: { email: house.members.moderator.email, password: PASSWORD } });
    expect((await again.get(readSession)).member?.role).toBe('producer');
    // Now there are two, and each can give the other another role.
    await again.get(changeRole, {
      params: { memberId: house.members.producer.id },
      body: { role: 'moderator' },
    });
    const params2 = { memberId: house.members.host.id };
    expect((await house.as.producer.refused(removeMember, { params: params2 })).code).toBe('signed_out');
  });

  it('stay where they are changed to what they were: nobody is signed out', async () => {
    const params = { memberId: house.members.host.id };
    await house.as.producer.get(changeRole, { params, body: { role: 'host' } });
    expect((await house.as.host.get(readSession)).member?.role).toBe('host');
  });

  it('are not changed for oneself, by whoever is no producer, or of nobody', async () => {
    const { producer, host } = house.members;
    const refusals = [
      await house.as.producer.refused(changeRole, {
        params: { memberId: producer.id },
        body: { role: 'host' },
      }),
      await house.as.host.refused(changeRole, { params: { memberId: host.id }, body: { role: 'producer' } }),
      await house.as.producer.refused(changeRole, {
        params: { memberId: crypto.randomUUID() },
        body: { role: 'host' },
      }),
    ];
    expect(refusals.map(({ code }) => code)).toEqual(['forbidden', 'forbidden', 'not_found']);
  });

  it('leave one producer of two who take each other’s role at the same instant', async () => {
    const params = { memberId: house.members.host.id };
    await house.as.producer.get(changeRole, { params, body: { role: 'producer' } });
    const second = house.stranger();
    await second.get(signIn, { body: { email: house.members.host.email, password: PASSWORD } });
    const answers = await Promise.all([
      house.as.producer.ask(changeRole, { params, body: { role: 'moderator' } }),
      second.ask(changeRole, {
        params: { memberId: house.members.producer.id },
        body: { role: 'moderator' },
      }),
    ]);
    expect(answers.filter(({ status }) => status === 200).length).toBe(1);
    const kept = await house.server.app.connection.pool.query(
      "select count(*)::int as n from member where role = 'producer'",
    );
    expect(kept.rows).toEqual([{ n: 1 }]);
  });
});

describe('password links', () => {
  let house: House;
  beforeEach(async () => (house = await openHouse()));
  afterEach(() => house.close());

  const password = 'bread rises at night';
  const makeLink = async () => {
    const params = { memberId: house.members.host.id };
    return (await house.as.producer.get(makePasswordLink, { params })).token;
  };

  it('let a member in once with a new password, and end their sessions and the old password', async () => {
    const token = await makeLink();
    const visitor = house.stranger();
    expect(await visitor.get(readPasswordLink, { body: { token } })).toEqual(
      jasmine.objectContaining({ name: 'The host', email: 'host@house.example' }),
    );
    // Until it is used, everything is as it was.
    expect((await house.as.host.get(readSession)).member).not.toBeNull();
    const session = await visitor.get(usePasswordLink, { body: { token, password } });
    expect(session.member?.id).toBe(house.members.host.id);
    expect((await house.as.host.get(readSession)).member).toBeNull();
    const email = 'host@house.example';
    expect((await house.stranger().ask(signIn, { body: { email, password: PASSWORD } })).status).toBe(401);
    expect((await house.stranger().ask(signIn, { body: { email, password } })).status).toBe(200);
    expect((await visitor.refused(usePasswordLink, { body: { token, password } })).code).toBe('gone');
  });

  it('are used by one of two who come at the same instant', async () => {
    const token = await makeLink();
    const answers = await Promise.all(
      [1, 2].map(() => house.stranger().ask(usePasswordLink, { body: { token, password } })),
    );
    expect(answers.map(({ status }) => status).sort()).toEqual([200, 410]);
  });

  const GONE: readonly (readonly [string, () => Promise<unknown>])[] = [
    [
      'a day has passed',
      () => {
        house.securityClock.advance(86_400_000 + 1);
        return Promise.resolve();
      },
    ],
    ['a newer one was made', makeLink],
    [
      'the member was removed',
      () => house.as.producer.get(removeMember, { params: { memberId: house.members.host.id } }),
    ],
  ];
  for (const [when, happens] of GONE) {
    it(`are no good once ${when}`, async () => {
      const token = await makeLink();
      await happens();
      const visitor = house.stranger();
      expect((await visitor.refused(readPasswordLink, { body: { token } })).code).toBe('gone');
      expect((await visitor.refused(usePasswordLink, { body: { token, password } })).code).toBe('gone');
    });
  }

  it('are good still after a password that is too short', async () => {
    const token = await makeLink();
    const refusal = await house.stranger().refused(usePasswordLink, { body: { token, password: 'short' } });
    expect(refusal.fields?.map(({ field }) => field)).toEqual(['password']);
    await house.stranger().get(usePasswordLink, { body: { token, password } });
  });

  it('are made by producers only, and kept as a hash', async () => {
    const params = { memberId: house.members.producer.id };
    expect((await house.as.host.refused(makePasswordLink, { params })).code).toBe('forbidden');
    const token = await makeLink();
    const kept = await house.server.app.connection.pool.query('select * from password_link');
    expect(kept.rows.length).toBe(1);
    expect(JSON.stringify(kept.rows) + house.logged.join('')).not.toContain(token);
  });
});

describe('demo accounts', () => {
  it('let anybody in with one click while the demo is on', async () => {
    const house = await openHouse({ demo: true });
    const visitor = house.stranger();
    const { accounts } = await visitor.get(listDemoAccounts);
    expect(accounts.map((account) => account.role).sort()).toEqual(['host', 'moderator', 'producer']);
    const session = await visitor.get(signInToDemo, { body: { memberId: accounts[0]!.id } });
    expect(session.member?.name).toBe(accounts[0]!.name);
    expect((await visitor.get(listTeam)).members.length).toBe(3);
    await house.close();
  });
});

describe('passwords', () => {
  it('are checked against their hash only', async () => {
    const stored = await hashPassword(PASSWORD);
    expect(await checkPassword(PASSWORD, stored)).toBeTrue();
    expect(await checkPassword(`${PASSWORD} `, stored)).toBeFalse();
    expect(await checkPassword(PASSWORD, null)).toBeFalse();
  });

  it('are the same whichever way a keyboard composes a letter', async () => {
    expect(
      await checkPassword(
        'cre\u0300me bru\u0302le\u0301e',
        await hashPassword('cr\u00e8me br\u00fbl\u00e9e'),
      ),
    ).toBeTrue();
  });
});
