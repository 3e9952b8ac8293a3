import {
  enterAsGuest,
  listGuestLinks,
  makeGuestLink,
  readGuestView,
  revokeGuestLink,
  showGuestLink,
} from '@juncta/contract/people';
import { createShow, listShows, saveShow, type Show } from '@juncta/contract/shows';
import { openHouse, showText, type House } from '../testing/house';

describe('a guest’s personal link', () => {
  let house: House;
  let show: Show;
  const personId = crypto.randomUUID();
  const guest = { id: personId, memberId: null, name: 'Wanjiru Halloran', part: 'guest', about: '' } as const;

  beforeAll(async () => (house = await openHouse()));
  afterAll(() => house.close());
  beforeEach(async () => {
    const host = {
      ...guest,
      id: crypto.randomUUID(),
      memberId: house.members.host.id,
      name: 'The host',
      part: 'host',
    } as const;
    const body = { id: crypto.randomUUID(), text: showText({ people: [host, guest] }) };
    show = await house.as.producer.get(createShow, { body });
  });

  const params = () => ({ showId: show.id, personId });
  const makeLink = () => house.as.host.get(makeGuestLink, { params: params() });

  it('lets the guest see the show, and nothing of the team’s', async () => {
    const { token } = await makeLink();
    const visitor = house.stranger();
    await visitor.get(enterAsGuest, { body: { token } });
    expect(await visitor.get(readGuestView)).toEqual({
      personId,
      name: 'Wanjiru Halloran',
      showTitle: 'Rye and patience',
      startsAtMs: show.startsAtMs,
      zone: 'Europe/Lisbon',
      plannedMinutes: 60,
      hosts: ['The host'],
      pictureFormat: '720p30',
    });
    expect((await visitor.refused(listShows)).code).toBe('signed_out');
    const { links } = await house.as.producer.get(listGuestLinks, { params: { showId: show.id } });
    expect(links).toEqual([jasmine.objectContaining({ personId, usedAtMs: house.securityClock.now() })]);
  });

  it('is shown again for an hour, as long as it is good, to those who may invite', async () => {
    const { token, link } = await makeLink();
    const HOUR_MS = 3_600_000;
    expect(link.shownUntilMs).toBe(house.securityClock.now() + HOUR_MS);
    expect(await house.as.producer.get(showGuestLink, { params: params() })).toEqual({ token });
    expect((await house.as.moderator.refused(showGuestLink, { params: params() })).code).toBe('forbidden');
    // Nothing of it was ended by that.
    await house.stranger().get(enterAsGuest, { body: { token } });
    house.securityClock.nowMs += HOUR_MS;
    expect((await house.as.producer.refused(showGuestLink, { params: params() })).code).toBe('gone');
    const { links } = await house.as.producer.get(listGuestLinks, { params: { showId: show.id } });
    expect(links.map(({ shownUntilMs }) => shownUntilMs)).toEqual([null]);

    await makeLink();
    await house.as.producer.get(revokeGuestLink, { params: params() });
    expect((await house.as.producer.refused(showGuestLink, { params: params() })).code).toBe('gone');
  });

  it('stops working when it is revoked, for whoever is in as well', async () => {
    const { token } = await makeLink();
    const visitor = house.stranger();
    await visitor.get(enterAsGuest, { body: { token } });
    await house.as.producer.get(revokeGuestLink, { params: params() });
    expect((await visitor.refused(readGuestView)).code).toBe('signed_out');
    expect((await house.stranger().refused(enterAsGuest, { body: { token } })).code).toBe('gone');
  });

  it('is replaced by a newer one', async () => {
    const [first, second] = [await makeLink(), await makeLink()];
    expect((await house.stranger().refused(enterAsGuest, { body: { token: first.token } })).code).toBe(
      'gone',
    );
    await house.stranger().get(enterAsGuest, { body: { token: second.token } });
  });

  it('expires a day after the show’s start, with the session that came by it', async () => {
    const { token, link } = await makeLink();
    expect(link.expiresAtMs).toBe(show.startsAtMs! + 86_400_000);
    const visitor = house.stranger();
    const before = house.securityClock.nowMs;
    house.securityClock.nowMs = link.expiresAtMs - 1000;
    await visitor.get(enterAsGuest, { body: { token } });
    house.securityClock.advance(1001);
    expect((await visitor.refused(readGuestView)).code).toBe('signed_out');
    expect((await house.stranger().refused(enterAsGuest, { body: { token } })).code).toBe('gone');
    house.securityClock.nowMs = before;
  });

  it('goes when the guest is taken off the show, and stays when the show is edited otherwise', async () => {
    const { token } = await makeLink();
    const edited = await house.as.host.get(saveShow, {
      params: { showId: show.id },
      body: { version: 1, text: { ...show.text, title: 'Rye', people: [guest] } },
    });
    const visitor = house.stranger();
    await visitor.get(enterAsGuest, { body: { token } });
    expect((await visitor.get(readGuestView)).showTitle).toBe('Rye');
    await house.as.host.get(saveShow, {
      params: { showId: show.id },
      body: { version: 2, text: { ...edited.text, people: [] } },
    });
    expect((await visitor.refused(readGuestView)).code).toBe('signed_out');
  });

  it('is made for guests only', async () => {
    const host = show.text.people[0]!;
    const refusal = await house.as.producer.refused(makeGuestLink, {
      params: { showId: show.id, personId: host.id },
    });
    expect(refusal.code).toBe('not_found');
  });

  it('does not take over the session of a member who tries it out', async () => {
    const { token } = await makeLink();
    expect((await house.as.host.refused(enterAsGuest, { body: { token } })).code).toBe('forbidden');
    expect((await house.as.host.get(listShows)).shows.length).toBeGreaterThan(0);
  });
});
