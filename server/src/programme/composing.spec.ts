import { streamOf } from '@juncta/contract/events';
import { compose } from '@juncta/contract/programme';
import { TICKET_LIFE_MS } from '@juncta/contract/uplink';
import { createShow } from '@juncta/contract/shows';
import { changePassword, removeMember, signIn, signOut } from '@juncta/contract/team';
import { eventsAfter, lastSeq } from '../events/store';
import type { Client } from '../testing/client';
import { FakeRelay } from '../testing/fake-relay';
import { openHouse, PASSWORD, showText, type House } from '../testing/house';
import { readTicket } from '../testing/ticket';
import { until } from '../testing/until';

describe('who may compose', () => {
  let house: House;
  let relay: FakeRelay;
  let showId: string;
  const deskId = crypto.randomUUID();

  beforeEach(async () => {
    relay = await new FakeRelay().open();
    house = await openHouse({
      relay: relay.reached,
    });
    showId = crypto.randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
  });
  afterEach(async () => {
    await house.close();
    await relay.close();
  });

  const composeAs = async (who: Client) => {
    const body = { deskId, takeOver: false };
    const { ticket } = await who.get(compose, { params: { showId }, body });
    return readTicket(ticket);
  };
  const told = (order: string) => relay.heard.filter((one) => one === `PUT lease ${order}`).length;
  const REVOKED = '{"epoch":2,"isRevoked":true}';
  const revoked = () => until('the relay is told to cut the line', () => told(REVOKED) === 1);
  const another = async () => {
    const client = house.stranger();
    await client.get(signIn, { body: { email: 'host@house.example', password: PASSWORD } });
    return client;
  };

  it('has a ticket for minutes, renewed without a word to anybody', async () => {
    const first = await composeAs(house.as.host);
    const nowMs = house.securityClock.now();
    expect(first).toEqual({ showId, deskId, epoch: 1, may: 'compose', expiresAtMs: nowMs + TICKET_LIFE_MS });
    const { db } = house.server.app;
    const seq = await lastSeq(db, streamOf('programme', showId));
    house.securityClock.advance(60_000);
    expect((await composeAs(house.as.host)).expiresAtMs).toBe(nowMs + 60_000 + TICKET_LIFE_MS);
    const told = (await eventsAfter(db, streamOf('programme', showId), seq)).map(({ type }) => type);
    expect(told).not.toContain('composing.changed');
  });

  it('is nobody who was removed: the line is cut at once', async () => {
    await composeAs(house.as.host);
    await house.as.producer.get(removeMember, { params: { memberId: house.members.host.id } });
    await revoked();
    const body = { deskId, takeOver: true };
    expect((await house.as.host.ask(compose, { params: { showId }, body })).status).toBe(401);
  });

  it('is nobody who signed out; who signs in again gets the new epoch', async () => {
    await composeAs(house.as.host);
    await house.as.host.get(signOut);
    await revoked();
    expect((await composeAs(await another())).epoch).toBe(2);
  });

  it('is nobody whose password was changed elsewhere; whoever changed it goes on', async () => {
    const [elsewhere, here] = [await another(), await another()];
    await composeAs(elsewhere);
    await here.get(changePassword, { body: { current: PASSWORD, password: 'a longer one than that' } });
    await revoked();
    expect((await composeAs(here)).epoch).toBe(2);
    await here.get(changePassword, { body: { current: 'a longer one than that', password: PASSWORD } });
    await house.server.relay!.dropRevoked();
    expect(told('{"epoch":3,"isRevoked":true}')).toBe(0);
  }, 30_000);

  it('is nobody whose session ran out, or whose role may not run a show any longer', async () => {
    await composeAs(house.as.host);
    const { relay: link, app } = house.server;
    const { connection } = app;
    await connection.pool.query(`update member set role = 'moderator' where email like 'host@%'`);
    await link!.dropRevoked();
    expect(told(REVOKED)).toBe(1);
    await connection.pool.query(`update member set role = 'host' where email like 'host@%'`);
    await composeAs(house.as.host);
    house.securityClock.advance(8 * 24 * 3_600_000);
    await link!.dropRevoked();
    await link!.dropRevoked();
    expect(told('{"epoch":3,"isRevoked":true}')).withContext('once').toBe(1);
  });

  it('is who signs in again in the same browser, without a break', async () => {
    const browser = await another();
    await composeAs(browser);
    await browser.get(signIn, { body: { email: 'host@house.example', password: PASSWORD } });
    await house.server.relay!.dropRevoked();
    expect(relay.heard.some((one) => one.includes('"isRevoked":true'))).toBeFalse();
    expect((await composeAs(browser)).epoch).toBe(1);
  });

  it('is told once more to a relay that has forgotten it, also where no show runs', async () => {
    await composeAs(house.as.host);
    await house.as.host.get(signOut);
    await revoked();
    await relay.restart();
    // The desk is back before the server, with a ticket that has not run out.
    relay.change(showId, { deskId });
    // It may be told twice: the restart can take the answer to the first order away, which is then given once more.
    const again = () => relay.heard.filter((one) => one.includes('isRevoked'));
    await until('the relay is told again', () => again().length > 0);
    expect(new Set(again())).toEqual(new Set([`PUT lease ${REVOKED}`]));
  });
});
