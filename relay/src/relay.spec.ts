import type { ProgrammeReport } from '@juncta/contract/relay';
import type { Packet } from '@juncta/core/media/packets';
import { randomUUID } from 'node:crypto';
import { readFileSync, readdirSync } from 'node:fs';
import path from 'node:path';
import { storedPackets } from './testing/stored';
import { TestDesk } from './testing/desk';
import { makeMedia, packetsOf, slatePackets, type Media } from './testing/media';
import { openPlace, until, type Place } from './testing/place';
import { longestStep, probe, rises } from './testing/probe';
import { openRig, type InnerRig } from './testing/rig';

/** From a desk's packets to a place outside and a recording, over the network, with real media. */
describe('the relay', () => {
  let place: Place;
  let rig: InnerRig;
  let media: Media;
  const destination = randomUUID();

  beforeAll(async () => {
    place = await openPlace();
    media = makeMedia(30);
  }, 60_000);
  afterAll(() => place.close());
  beforeEach(async () => {
    rig = await openRig();
  });
  afterEach(async () => {
    await rig.close();
    await place.faults({});
  });

  const feedOf = (report: ProgrammeReport, id = destination) =>
    report.feeds.find((feed) => feed.destinationId === id);
  const state = async (wanted: string, patienceMs?: number, id = destination) =>
    until(`the feed is ${wanted}`, async () => feedOf(await rig.report(), id)?.state === wanted, patienceMs);
  const start = async (change: object = {}, id = destination) =>
    rig.order('POST', `/feeds/${id}/start`, {
      address: place.address,
      key: await place.key(),
      arrival: 'public',
      ...change,
    });
  /** A desk that has sent its slate and plays on from `fromUs` of its own clock. */
  const desk = async (session: string = randomUUID(), shown = media) => {
    const line = await TestDesk.open(rig.port, rig.ticket(), session);
    await until('the desk is welcome', () => line.answers[0]?.type === 'welcome');
    line.sendAll(slatePackets(shown, session, 1));
    line.play(packetsOf(shown, session).map((packet) => ({ ...packet, number: packet.number + 60 })));
    await until('there is a programme', async () => (await rig.report()).state === 'source');
    return line;
  };
  const latest = async () => (await place.arrivals()).at(-1)!;
  const finished = () =>
    until(
      'the recordings are ready',
      async () => {
        const { recordings } = await rig.report();
        return recordings.length === 2 && recordings.every(({ status }) => status === 'ready');
      },
      // Made by whatever time is left over.
      40_000,
    );
  const fileOf = (runId: string, kind: string) =>
    path.join(rig.dir, 'shows', rig.showId, runId, `${kind}.mp4`);

  it('sends what is composed to a place, and records it twice', async () => {
    const runId = randomUUID();
    const line = await desk();
    await rig.order('PUT', '/run', { runId });
    await start();
    await state('sending');
    await until('six seconds were recorded', async () => ((await rig.report()).showTimeMs ?? 0) > 6000);
    await rig.order('POST', '/end');
    await state('ended');
    const { health, received, endedCleanly } = await until('the place has seen the end', async () => {
      const arrival = await latest();
      return arrival.endedAtMs === null ? null : arrival;
    });
    expect(endedCleanly).toBeTrue();
    expect(health.video).toEqual(jasmine.objectContaining({ codec: 'h264', width: 320, height: 180 }));
    expect(health.audio).toEqual({ codec: 'aac', rateHz: 48_000, channels: 2 });
    expect(health.longestKeyframeS).toBeCloseTo(2, 1);
    expect([health.notRising, health.formatChanges, health.gaps.picture, health.gaps.sound]).toEqual([
      0, 0, 0, 0,
    ]);
    expect(health.framesPerS).toBeCloseTo(30, 0);
    const got = probe(received);
    expect(got.streams.map(({ codec_name }) => codec_name).sort()).toEqual(['aac', 'h264']);
    expect(got.videoFrames[0]).toEqual({ at: 0, key: true });

    await finished();
    for (const kind of ['programme', 'aired']) {
      const file = probe(fileOf(runId, kind));
      expect(file.streams.map(({ codec_name }) => codec_name).sort())
        .withContext(kind)
        .toEqual(['aac', 'h264']);
      expect(file.durationS).withContext(kind).toBeGreaterThan(5);
      expect(rises(file.videoFrames.map(({ at }) => at)))
        .withContext(kind)
        .toBeTrue();
      expect(longestStep(file.videoFrames.map(({ at }) => at)))
        .withContext(kind)
        .toBeLessThan(0.07);
      expect(longestStep(file.audioFrames)).withContext(kind).toBeLessThan(0.03);
    }
    line.kill();
  }, 60_000);

  it('is not covered any longer once a show has ended behind the slate', async () => {
    const line = await desk();
    await rig.order('PUT', '/run', { runId: randomUUID() });
    await start();
    await state('sending');
    await rig.order('POST', '/cover', { on: true });
    expect((await rig.report()).state).toBe('covered');
    await rig.order('POST', '/end');
    await state('ended');
    await until('the next programme can be seen', async () => (await rig.report()).state === 'source');
    expect(line.answers.flatMap((one) => (one.type === 'covered' ? [one.on] : [])).slice(-2)).toEqual([
      true,
      false,
    ]);
    line.kill();
  }, 60_000);

  it('holds everything back as long as the show wants, and the panic key keeps what waits from viewers', async () => {
    const delayMs = 2500;
    await rig.order('PUT', '/delay', { delayMs });
    const cameAt = performance.now();
    const line = await desk();
    // At least so late; how much later is the machine's affair.
    expect(performance.now() - cameAt).toBeGreaterThan(delayMs);
    expect((await rig.report()).delayMs).toBe(delayMs);
    await start();
    await state('sending');
    await rig.order('POST', '/cover', { on: true });
    expect((await rig.report()).state).toBe('covered');
    const coveredAt = performance.now();
    await until('something happens while viewers are covered', () =>
      Promise.resolve(performance.now() - coveredAt > delayMs / 2),
    );
    const uncoveredAt = performance.now();
    await rig.order('POST', '/cover', { on: false });
    await until('the programme is back', async () => (await rig.report()).state === 'source');
    // What had waited is gone, and so is what came meanwhile: the first that is seen came after the key.
    expect(performance.now() - uncoveredAt).toBeGreaterThan(delayMs);
    await rig.order('PUT', '/run', { runId: randomUUID() });
    expect((await rig.order('PUT', '/delay', { delayMs: 0 })).delayMs)
      .withContext('within a run')
      .toBe(delayMs);
    const { health } = await latest();
    expect([health.notRising, health.gaps.picture, health.gaps.sound]).toEqual([0, 0, 0]);
    line.kill();
  }, 60_000);

  it('keeps the feed with the slate while the desk is gone, and takes up what it missed', async () => {
    const runId = randomUUID();
    const session = randomUUID();
    const arrivedBefore = (await place.arrivals()).length;
    const line = await desk(session);
    await rig.order('PUT', '/run', { runId });
    await start();
    await until('three seconds were recorded', async () => ((await rig.report()).showTimeMs ?? 0) > 3000);
    line.kill();
    await until('viewers see the slate', async () => (await rig.report()).state === 'slate', 3000);
    // It comes back where its own clock has come to; what it composed meanwhile follows on the second lane.
    const all = packetsOf(media, session).map((packet) => ({ ...packet, number: packet.number + 60 }));
    const back = await TestDesk.open(rig.port, rig.ticket(), session);
    await until('the desk is welcome', () => back.answers[0]?.type === 'welcome');
    const resumeAt = all.findIndex(
      ({ timeUs, key, track }) => track === 'video' && key && timeUs >= 8_000_000,
    );
    back.play(all.slice(resumeAt));
    const backlog = await TestDesk.open(rig.port, rig.ticket(), session, { lane: 'backlog' });
    backlog.sendAll(all.slice(0, resumeAt));
    await until('the backlog is on disk', () => backlog.acknowledged === resumeAt + 60);
    await until('the programme is back', async () => (await rig.report()).state === 'source');
    await until('some more was recorded', async () => ((await rig.report()).showTimeMs ?? 0) > 9000);
    await rig.order('POST', '/end');
    await finished();
    const { health } = await latest();
    expect([health.notRising, health.formatChanges, health.gaps.picture, health.gaps.sound]).toEqual([
      0, 0, 0, 0,
    ]);
    expect((await place.arrivals()).length)
      .withContext('one connection')
      .toBe(arrivedBefore + 1);
    const composed = probe(fileOf(runId, 'programme'));
    expect(longestStep(composed.videoFrames.map(({ at }) => at)))
      .withContext('complete')
      .toBeLessThan(0.07);
    probe(fileOf(runId, 'aired'));
    back.kill();
    backlog.kill();
  }, 60_000);

  it('covers the programme and shows it again', async () => {
    const line = await desk();
    await start();
    await state('sending');
    await rig.order('POST', '/cover', { on: true });
    expect((await rig.report()).state).toBe('covered');
    const told = () => line.answers.flatMap((one) => (one.type === 'covered' ? [one.on] : []));
    await until('the desk is told, though it did not ask', () => told().at(-1) === true);
    line.say({ type: 'cover', on: false });
    await until('the programme is back', async () => (await rig.report()).state === 'source');
    expect(told()).toEqual([false, true, false]);
    await rig.order('POST', '/cover', { on: true });
    const back = await TestDesk.open(rig.port, rig.ticket(), randomUUID());
    await until('a desk that comes is told', () =>
      back.answers.some((one) => one.type === 'covered' && one.on),
    );
    back.kill();
    line.kill();
  }, 20_000);

  it('hears when nothing is heard any more, though pictures come', async () => {
    const session = randomUUID();
    const quietFromUs = 3_000_000;
    const mute = (packets: Packet[]) =>
      packets
        .filter(({ track, timeUs }) => track === 'video' || timeUs < quietFromUs)
        .map((packet, i) => ({ ...packet, number: i + 61 }));
    const line = await TestDesk.open(rig.port, rig.ticket(), session);
    await until('the desk is welcome', () => line.answers[0]?.type === 'welcome');
    line.sendAll(slatePackets(media, session, 1));
    line.play(mute(packetsOf(media, session)));
    await until('there is a programme', async () => (await rig.report()).state === 'source');
    expect((await rig.report()).silentMs)
      .withContext('before the show')
      .toBeNull();
    await rig.order('PUT', '/run', { runId: randomUUID() });
    await until('it is heard', async () => (await rig.report()).silentMs !== null);
    expect((await rig.report()).silentMs).toBeLessThan(1000);
    await until('it is missed', async () => ((await rig.report()).silentMs ?? 0) > 1500);
    expect((await rig.report()).state).toBe('source');
    await rig.order('POST', '/cover', { on: true });
    expect((await rig.report()).silentMs)
      .withContext('it is meant to be')
      .toBeNull();
    line.kill();
  }, 30_000);

  it('goes on with its run after it was killed, whoever comes back first', async () => {
    const runId = randomUUID();
    const session = randomUUID();
    await rig.order('PUT', '/delay', { delayMs: 700 });
    const line = await desk(session);
    await rig.order('PUT', '/run', { runId });
    await until('a second was recorded', async () => ((await rig.report()).showTimeMs ?? 0) > 1000);
    line.kill();
    // Another life on the same folder; nobody ended the first.
    const second = await openRig(rig.dir, rig.showId);
    const back = await TestDesk.open(second.port, second.ticket(), session);
    await until('the desk is welcome', () => back.answers[0]?.type === 'welcome');
    const { runId: gone, delayMs } = await second.report();
    expect([gone, delayMs]).withContext('what waited before waits now').toEqual([runId, 700]);
    const packets = packetsOf(media, session).slice(-60);
    back.sendAll(packets);
    await until('they are on disk', () => back.acknowledged === packets.at(-1)!.number);
    const stored = await storedPackets(path.join(rig.dir, 'shows', rig.showId, runId, 'sessions', session));
    expect(stored.at(-1)!.number).toBe(packets.at(-1)!.number);
    back.kill();
    await second.running.close();
  }, 40_000);

  describe('with trouble at a place', () => {
    let line: TestDesk;
    beforeEach(async () => {
      line = await desk();
    });
    afterEach(() => line.kill());

    it('gives up at once on a wrong key, in the place’s words', async () => {
      await start({ key: 'not-the-key' });
      await state('failed');
      const feed = feedOf(await rig.report())!;
      expect([feed.reason, feed.placeSays]).toEqual(['refused_key', 'This stream key is not valid.']);
    });

    it('says of an address of nothing that nobody answers, and tries again', async () => {
      await start({ address: 'rtmp://127.0.0.1:1/ember' });
      await until('it was tried again', async () => (feedOf(await rig.report())?.attempt ?? 0) >= 3);
      expect(feedOf(await rig.report())!.state).toBe('dialling');
      await rig.order('POST', `/feeds/${destination}/stop`);
      await state('ended');
    });

    it('goes to the other door of a place whose first does not answer', async () => {
      const before = (await place.arrivals()).length;
      await start({ address: 'rtmp://127.0.0.1:1/ember', backup: place.address });
      await state('sending');
      await place.cut();
      await state('recovering');
      await state('sending');
      expect((await place.arrivals()).length).toBe(before + 2);
    }, 20_000);

    it('does not wait for ever for a place that never answers', async () => {
      await place.faults({ silent: true });
      await start();
      await until('it gave up waiting', async () => feedOf(await rig.report())?.attempt === 2, 15_000);
      expect(feedOf(await rig.report())!.reason).not.toBe('gave_up');
      await place.faults({});
      await state('sending');
    }, 40_000);

    it('finds a place again that closed in the middle of a picture', async () => {
      const before = (await place.arrivals()).length;
      await place.faults({ cutAfterMs: 700 });
      await start();
      await until('it arrived twice', async () => (await place.arrivals()).length === before + 2);
      await state('sending');
      const { health } = await latest();
      expect(health.notRising).toBe(0);
    }, 20_000);

    it('comes back after its line was cut for five seconds', async () => {
      await start();
      await state('sending');
      await place.faults({ silent: true });
      await place.cut();
      await state('recovering');
      await new Promise((later) => setTimeout(later, 5000));
      await place.faults({});
      await state('sending', 20_000);
      expect(feedOf(await rig.report())!.onAirMs).toBeGreaterThan(5000);
    }, 40_000);

    it('leaves out pictures for a place that stops reading, then tries again, and no other feed notices', async () => {
      // Much, so that what the network keeps on its way is soon full.
      line.kill();
      line = await desk(randomUUID(), makeMedia(30, '640x360', 8000));
      const other = randomUUID();
      const second = await openPlace();
      await start({ address: second.address, key: await second.key() }, other);
      await state('sending', undefined, other);
      await start();
      await state('sending');
      await place.faults({ stalled: true });
      // More than its queue takes waits for it (`QUEUE_LIMITS`), and no more.
      await until(
        'frames are left out',
        async () => (feedOf(await rig.report())?.leftOutFrames ?? 0) > 0,
        60_000,
      );
      expect(feedOf(await rig.report())!.state).toBe('sending');
      await until(
        'it is taken for lost',
        async () => feedOf(await rig.report())?.state === 'recovering',
        60_000,
      );
      expect(feedOf(await rig.report())!.reason).toBe('no_answer');
      const { health } = (await second.arrivals()).at(-1)!;
      expect([health.gaps.picture, health.gaps.sound, health.notRising]).toEqual([0, 0, 0]);
      await second.close();
    }, 150_000);

    it('keeps every key out of its log and its processes’ arguments', async () => {
      await start({ key: 'sesame-sesame' });
      await state('failed');
      await start();
      await state('sending');
      const key = await place.key();
      expect(rig.logged.join('')).not.toContain(key);
      expect(rig.logged.join('')).not.toContain('sesame');
      const commands = readdirSync('/proc')
        .filter((name) => /^\d+$/.test(name))
        .map((pid) => {
          try {
            return readFileSync(`/proc/${pid}/cmdline`, 'utf8');
          } catch {
            return '';
          }
        });
      expect(commands.join('')).not.toContain(key);
    });
  });
});
