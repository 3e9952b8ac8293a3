import type { Endpoint } from '@juncta/contract/http';
import { ROLES, can } from '@juncta/core/team';
import { createShow, listShows } from '@juncta/contract/shows';
import { readSession, signIn, signOut } from '@juncta/contract/team';
import type { IncomingMessage } from 'node:http';
import { houseOf, isSameSite } from './same-site';
import { mounted } from '../http/mount';
import { openHouse, PASSWORD, showText, type House } from '../testing/house';

/** Walks every door of the API, whichever there are, so that a new one cannot be forgotten. */
describe('every endpoint', () => {
  let house: House;
  let endpoints: Endpoint[];
  beforeAll(async () => {
    mounted.length = 0;
    house = await openHouse();
    endpoints = [...mounted];
  });
  afterAll(() => house.close());

  const anyParams = (endpoint: Endpoint) =>
    Object.fromEntries(
      [...endpoint.path.matchAll(/:(\w+)/g)].map(([, name]) => [name!, crypto.randomUUID()]),
    );

  it('is mounted once', () => {
    const names = endpoints.map(({ method, path }) => `${method} ${path}`);
    expect(names.length).toBeGreaterThan(15);
    expect(new Set(names).size).toBe(names.length);
  });

  it('is closed to strangers unless it says it is public', async () => {
    for (const endpoint of endpoints.filter(({ access }) => access.kind !== 'public')) {
      const reply = await house.stranger().ask(endpoint, { params: anyParams(endpoint) });
      expect(reply.status).withContext(`${endpoint.method} ${endpoint.path}`).toBe(401);
    }
  });

  it('is closed to every role without its right', async () => {
    for (const endpoint of endpoints) {
      const { access } = endpoint;
      if (access.kind !== 'right') continue;
      for (const role of ROLES) {
        const reply = await house.as[role].ask(endpoint, { params: anyParams(endpoint) });
        const name = `${role}: ${endpoint.method} ${endpoint.path}`;
        if (can(role, access.right)) expect(reply.status).withContext(name).not.toBe(403);
        else expect(reply.status).withContext(name).toBe(403);
      }
    }
  });

  it('of a show knows none that does not exist, and makes none', async () => {
    const ofShows = endpoints.filter(
      ({ path, access }) => path.includes(':showId') && access.kind !== 'guest',
    );
    expect(ofShows.length).toBeGreaterThan(40);
    for (const endpoint of ofShows) {
      const reply = await house.as.producer.ask(endpoint, { params: anyParams(endpoint) });
      expect(reply.status).withContext(`${endpoint.method} ${endpoint.path}`).toBe(404);
    }
  });

  it('that changes something is closed to other sites, with our cookies or without', async () => {
    const foreign: Record<string, string>[] = [
      { Origin: 'https://elsewhere.example' },
      { Origin: 'null' },
      { Origin: house.url.replace('http:', 'https:') },
      { 'Sec-Fetch-Site': 'cross-site' },
      { 'Sec-Fetch-Site': 'same-site' },
    ];
    for (const endpoint of endpoints.filter(({ method }) => method !== 'GET')) {
      for (const headers of foreign) {
        const reply = await house.as.producer.ask(endpoint, { params: anyParams(endpoint), headers });
        const body = reply.body as { code?: string };
        expect(body.code)
          .withContext(`${endpoint.path} ${JSON.stringify(headers)}`)
          .toBe('not_same_site');
      }
    }
  });

  it('that changes something wants the token that only our pages can read', async () => {
    const body = { id: crypto.randomUUID(), text: showText() };
    for (const token of ['', 'wrong', 'x'.repeat(43)]) {
      const refusal = await house.as.producer.refused(createShow, {
        body,
        headers: { 'x-juncta-csrf': token },
      });
      expect(refusal.code).toBe('not_same_site');
    }
    expect((await house.as.producer.get(createShow, { body })).id).toBe(body.id);
  });

  it('answers an unknown address in the same form as any other refusal', async () => {
    const response = await fetch(`${house.url}/api/nothing`);
    expect(response.status).toBe(404);
    expect(((await response.json()) as { code: string }).code).toBe('not_found');
  });

  it('goes by the host that a proxy names only where there is one to be trusted', () => {
    const headers = {
      host: 'inside:8420',
      'x-forwarded-host': 'juncta.example',
      origin: 'https://juncta.example',
    };
    const req = { headers } as unknown as IncomingMessage;
    expect(isSameSite(req, houseOf(req, true))).toBeTrue();
    expect(isSameSite(req, houseOf(req, false))).toBeFalse();
    const told = (proto: string) =>
      ({ headers: { ...headers, 'x-forwarded-proto': proto } }) as unknown as IncomingMessage;
    expect(isSameSite(told('https'), houseOf(told('https'), true))).toBeTrue();
    expect(isSameSite(told('http'), houseOf(told('http'), true)))
      .withContext('another scheme is another origin')
      .toBeFalse();
  });

  it('takes a made-up session for none', async () => {
    const visitor = house.stranger();
    visitor.cookies.set('juncta_session', 'A'.repeat(43));
    expect((await visitor.refused(listShows)).code).toBe('signed_out');
    visitor.cookies.set('juncta_session', '');
    expect((await visitor.refused(listShows)).code).toBe('signed_out');
  });

  it('sets cookies that scripts and other sites do not get', async () => {
    const reply = await house.stranger().ask(signIn, {
      body: { email: 'host@house.example', password: PASSWORD },
    });
    const [session] = reply.headers.getSetCookie().filter((cookie) => cookie.startsWith('juncta_session='));
    expect(session).toMatch(/; HttpOnly/);
    expect(session).toMatch(/; SameSite=Lax/);
  });

  it('takes over HTTPS only a session that no other host and no answer in the clear can have set', async () => {
    const behindProxy = await openHouse({ trustProxy: true });
    const visitor = behindProxy.stranger();
    const headers = { 'x-forwarded-proto': 'https' };
    const body = { email: 'host@house.example', password: PASSWORD };
    const reply = await visitor.ask(signIn, { body, headers });
    const [session] = reply.headers.getSetCookie().filter((cookie) => cookie.includes('juncta_session='));
    expect(session).toMatch(/^__Host-juncta_session=.*; Path=\/;.*; Secure/);
    expect(session).not.toMatch(/; Domain/);
    expect((await visitor.get(readSession, { headers })).member).not.toBeNull();
    // The same session under the name that anybody can plant is none.
    const planted = behindProxy.stranger();
    planted.cookies.set('juncta_session', visitor.cookies.get('__Host-juncta_session')!);
    expect((await planted.get(readSession, { headers })).member).toBeNull();
    expect((await visitor.get(readSession)).member).toBeNull();
    await visitor.get(signOut, { headers });
    expect(visitor.cookies.has('__Host-juncta_session')).toBeFalse();
    await behindProxy.close();
  });

  it('forbids framing and foreign scripts on every page', async () => {
    const page = await fetch(`${house.url}/shows`);
    expect(page.status).toBe(200);
    const policy = page.headers.get('content-security-policy')!;
    expect(policy).toContain("script-src 'self'");
    expect(policy).toContain("frame-ancestors 'none'");
    expect(page.headers.get('referrer-policy')).toBe('no-referrer');
    expect(page.headers.get('permissions-policy')).toContain('camera=(self)');
    expect(page.headers.get('permissions-policy')).toContain('geolocation=()');
  });
});
