import type { ProgrammeReport, RenditionRequest } from '@juncta/contract/relay';
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { TestDesk } from '../testing/desk';
import { makeMedia, packetsOf, type Media } from '../testing/media';
import { openPlace, until, type Place } from '../testing/place';
import { longestStep, probe } from '../testing/probe';
import { openRig, type InnerRig } from '../testing/rig';

const SMALL: RenditionRequest = {
  shape: 'landscape',
  height: 180,
  rateHz: 15,
  oneIn: 2,
  videoKbps: 250,
  keyframeS: 2,
};

/** Renditions at real receivers, by real encoders. */
describe('renditions of a programme', () => {
  const places: Place[] = [];
  const [whole, small, smallToo] = [randomUUID(), randomUUID(), randomUUID()];
  let media: Media;
  let rig: InnerRig;
  let line: TestDesk;

  beforeAll(async () => {
    for (let i = 0; i < 3; i++) places.push(await openPlace());
    media = makeMedia(60, '640x360', 900);
  }, 90_000);
  afterAll(async () => {
    for (const place of places) await place.close();
  });
  beforeEach(async () => {
    rig = await openRig();
    const session = randomUUID();
    line = await TestDesk.open(rig.port, rig.ticket(), session, { width: 640, height: 360 });
    await until('the desk is welcome', () => line.answers[0]?.type === 'welcome');
    line.play(packetsOf(media, session));
    await until('there is a programme', async () => (await rig.report()).state === 'source');
  });
  afterEach(async () => {
    line.kill();
    await rig.close();
  });

  const start = async (destinationId: string, place: Place, rendition?: RenditionRequest) =>
    rig.order('POST', `/feeds/${destinationId}/start`, {
      address: place.address,
      key: await place.key(),
      arrival: 'public',
      rendition,
    });
  const stateOf = (report: ProgrammeReport, id: string) =>
    report.feeds.find(({ destinationId }) => destinationId === id)?.state;
  const sending = (...ids: string[]) =>
    until('the feeds are sending', async () => {
      const report = await rig.report();
      return ids.every((id) => stateOf(report, id) === 'sending');
    });
  const arrival = async (place: Place) => (await place.arrivals()).at(-1)!;
  const pictures = (place: Place, count: number) =>
    until(`${count} more pictures arrived`, async () => (await arrival(place)).health.pictures >= count);
  const over = async (place: Place) =>
    until('the place has seen the end', async () => {
      const last = await arrival(place);
      return last.endedAtMs === null ? null : last;
    });
  const encoders = () => {
    try {
      const found = execFileSync('pgrep', ['-P', String(process.pid), '-f', 'superfast'], {
        encoding: 'utf8',
      });
      return found.trim().split('\n').map(Number);
    } catch {
      return [];
    }
  };

  it('go to the places that do not take the programme itself, which goes to the others as it is', async () => {
    await start(whole, places[0]!);
    await start(small, places[1]!, SMALL);
    await start(smallToo, places[2]!, SMALL);
    await sending(whole, small, smallToo);
    await pictures(places[1]!, 90);
    expect(encoders().length).toBe(1);
    const [rendition] = await until('it runs', async () => {
      const { renditions } = await rig.report();
      return renditions[0]?.state === 'running' && renditions[0].cores !== null ? renditions : null;
    });
    expect(rendition).toEqual({
      ...{ shape: 'landscape', height: 180, rateHz: 15, videoKbps: 250, keyframeS: 2, state: 'running' },
      destinationIds: [small, smallToo],
      cores: jasmine.any(Number),
    });
    // What each was sent can be looked at.
    const pictureAt = async (id: string) => {
      const still = await rig.ask(`/control/shows/${rig.showId}/feeds/${id}/still`);
      return [still.status, [...new Uint8Array(await still.arrayBuffer())].slice(0, 3)];
    };
    for (const id of [whole, small]) expect(await pictureAt(id)).toEqual([200, [0xff, 0xd8, 0xff]]);
    expect((await rig.ask(`/control/shows/${rig.showId}/feeds/${randomUUID()}/still`)).status).toBe(404);
    await rig.order('POST', '/end');
    const [large, one, other] = [await over(places[0]!), await over(places[1]!), await over(places[2]!)];
    expect([large.health.video!.height, one.health.video!.height, other.health.video!.height]).toEqual([
      360, 180, 180,
    ]);
    if (large.health.gaps.picture) console.log(JSON.stringify(large.health), rig.logged.join(''));
    expect(large.health.gaps).toEqual({ picture: 0, sound: 0, longestMs: 0 });
    expect(large.health.framesPerS).toBeCloseTo(30, 0);
    expect(one.health.framesPerS).toBeCloseTo(15, 0);
    for (const { health } of [large, one, other]) {
      expect(health.audio).toEqual({ codec: 'aac', rateHz: 48_000, channels: 2 });
      expect([health.notRising, health.formatChanges, health.gaps.sound]).toEqual([0, 0, 0]);
      expect(health.longestKeyframeS).toBeLessThan(2.2);
    }
    const got = probe(one.received);
    expect(got.videoFrames[0]).toEqual({ at: jasmine.any(Number), key: true });
    // Every second frame, at the time that it has in the programme.
    const steps = got.videoFrames
      .slice(1)
      .map(({ at }, i) => Math.round((at - got.videoFrames[i]!.at) * 1000));
    expect(steps.filter((ms) => ms < 65 || ms > 68)).toEqual([]);
    expect(longestStep(got.audioFrames)).toBeLessThan(0.03);
    // Its audio is no further from its video than a frame.
    expect(Math.abs(got.audioFrames.at(-1)! - got.videoFrames.at(-1)!.at)).toBeLessThan(1.6);
  }, 60_000);

  it('come back by themselves when their encoder dies: no connection is lost, and others notice nothing', async () => {
    await start(whole, places[0]!);
    await start(small, places[1]!, SMALL);
    await sending(whole, small);
    await pictures(places[1]!, 30);
    const before = await Promise.all(
      places.slice(0, 2).map(async (place) => (await place.arrivals()).length),
    );
    const [pid] = encoders();
    process.kill(pid!, 'SIGKILL');
    await until('it is begun again', async () => (await rig.report()).renditions[0]?.state === 'again');
    await until('it runs again', async () => (await rig.report()).renditions[0]?.state === 'running');
    const { pictures: had } = (await arrival(places[1]!)).health;
    await pictures(places[1]!, had + 30);
    expect(encoders()).not.toContain(pid!);
    await rig.order('POST', '/end');
    const [large, one] = [await over(places[0]!), await over(places[1]!)];
    expect(
      await Promise.all(places.slice(0, 2).map(async (place) => (await place.arrivals()).length)),
    ).toEqual(before);
    expect(large.health.gaps).toEqual({ picture: 0, sound: 0, longestMs: 0 });
    expect([one.health.gaps.sound, one.health.notRising, one.health.formatChanges]).toEqual([0, 0, 0]);
    expect(() => probe(one.received)).not.toThrow();
  }, 60_000);

  it('that do not keep pace are said to be behind, and go on at a keyframe with sound that never stopped', async () => {
    const stateIs = (wanted: string) =>
      until(`it is ${wanted}`, async () => (await rig.report()).renditions[0]?.state === wanted);
    await start(small, places[1]!, SMALL);
    await sending(small);
    await pictures(places[1]!, 30);
    const [pid] = encoders();
    process.kill(pid!, 'SIGSTOP');
    await stateIs('behind');
    // More goes by than is kept for it.
    const { sounds } = (await arrival(places[1]!)).health;
    await until(
      'five more seconds were heard',
      async () => (await arrival(places[1]!)).health.sounds > sounds + 235,
    );
    process.kill(pid!, 'SIGCONT');
    await stateIs('running');
    const had = (await arrival(places[1]!)).health.pictures;
    await pictures(places[1]!, had + 30);
    await rig.order('POST', '/end');
    const { health, received } = await over(places[1]!);
    expect([health.gaps.sound, health.notRising, health.formatChanges]).toEqual([0, 0, 0]);
    expect(health.gaps.picture).toBeGreaterThan(0);
    expect(() => probe(received)).not.toThrow();
  }, 90_000);

  it('end with the last feed that carries them', async () => {
    await start(small, places[1]!, SMALL);
    await start(smallToo, places[2]!, SMALL);
    await sending(small, smallToo);
    await rig.order('POST', `/feeds/${small}/stop`);
    await until('one is left', async () => {
      const { renditions } = await rig.report();
      return renditions[0]?.destinationIds.length === 1;
    });
    await until('it is encoded', () => encoders().length === 1);
    await rig.order('POST', `/feeds/${smallToo}/stop`);
    await until('none is encoded', async () => (await rig.report()).renditions.length === 0);
    await until('its encoder is gone', () => encoders().length === 0);
    expect(stateOf(await rig.report(), smallToo)).toBe('ended');
  }, 60_000);
});
