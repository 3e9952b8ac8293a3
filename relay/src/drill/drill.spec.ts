import type { DrillReport } from '@juncta/contract/drill';
import { sumUp, type Seen } from '@juncta/core/drill';
import { randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { TestDesk } from '../testing/desk';
import { makeMedia, packetsOf, slatePackets, type Media } from '../testing/media';
import { until } from '../testing/place';
import { openRig, type InnerRig } from '../testing/rig';

const PATIENT = { arrival: 'public', patienceS: 60, then: 'event_ends', cleanEndEnds: true } as const;
const HELD = { arrival: 'held', patienceS: 90, then: 'gap', cleanEndEnds: false } as const;

describe('a drill', () => {
  let rig: InnerRig;
  let media: Media;
  let desk: TestDesk;
  const [one, two] = [randomUUID(), randomUUID()];
  const places = [
    { destinationId: one, rules: PATIENT },
    { destinationId: two, rules: HELD },
  ];
  beforeAll(() => (media = makeMedia(40)), 60_000);
  beforeEach(async () => {
    rig = await openRig();
    await play();
    await ask('POST', '/begin', { places });
  }, 30_000);
  afterEach(async () => {
    desk.kill();
    await rig.close();
  });

  /** A desk that comes back by itself, as the real one does. */
  async function play(): Promise<void> {
    const session = randomUUID();
    desk = await TestDesk.open(rig.port, rig.ticket(), session);
    await until('the desk is welcome', () => desk.answers[0]?.type === 'welcome');
    desk.sendAll(slatePackets(media, session, 1));
    desk.play(packetsOf(media, session).map((packet) => ({ ...packet, number: packet.number + 60 })));
    await until('there is a programme', async () => (await rig.report()).state === 'source');
  }
  async function ask(method: string, where: string, body: object = {}): Promise<DrillReport> {
    const init = method === 'GET' ? {} : { method, body: JSON.stringify(body) };
    const response = await rig.ask(`/control/shows/${rig.showId}/drill${where}`, init);
    expect(response.status).toBe(200);
    return ((await response.json()) as { drill: DrillReport }).drill;
  }
  const report = () => ask('GET', '');
  const placeOf = async (id: string) =>
    (await report()).places.find(({ destinationId }) => destinationId === id)!;
  const cause = (kind: string, destinationId: string | null, seconds = 0) =>
    ask('POST', '/fault', { kind, destinationId, seconds });
  const seen = (id: string, wanted: Seen, seconds = 1) =>
    until(`viewers saw ${wanted} for ${seconds} s`, async () => {
      const sums = sumUp((await placeOf(id)).timeline);
      return (sums[wanted] ?? 0) >= seconds;
    });
  const latest = async (id: string) => (await placeOf(id)).timeline.at(-1)?.seen;

  it('plays every place by its rules, and nobody else hears of it', async () => {
    await seen(one, 'picture', 2);
    expect(await latest(two)).toBe('not_yet');
    expect((await placeOf(two)).held).toBeTrue();
    expect((await placeOf(two)).feed.state).toBe('held');
    await ask('POST', '/publish', { destinationId: two });
    await seen(two, 'picture');
    await until('it is on air', async () => (await placeOf(one)).feed.state === 'on_air');
    const { feeds, isDrilled, recordings } = await rig.report();
    expect([feeds, isDrilled, recordings]).toEqual([[], true, []]);
  }, 30_000);

  it('says what viewers saw while a place refuses, drops and stands still, and that the others saw nothing of it', async () => {
    await until('it holds the picture', async () => (await placeOf(two)).held);
    await ask('POST', '/publish', { destinationId: two });
    await seen(one, 'picture');
    await seen(two, 'picture');
    await cause('refuse', one, 3);
    await cause('drop', one);
    await seen(one, 'frozen', 2);
    await until('it is taken up again', async () => (await latest(one)) === 'picture');
    await cause('stall', one, 4);
    await until('it stands still', async () => (await latest(one)) === 'frozen');
    await until('it moves again', async () => (await latest(one)) === 'picture');
    expect(sumUp((await placeOf(two)).timeline).frozen ?? 0).toBe(0);
    expect((await report()).faults.map(({ kind }) => kind)).toEqual(['refuse', 'drop', 'stall']);
  }, 60_000);

  it('shows the slate while the uplink is cut, and lets the desk in again afterwards', async () => {
    await seen(one, 'picture');
    await cause('uplink_cut', null, 3);
    await until('the desk has lost its line', () => desk.closeCode !== null);
    await seen(one, 'slate', 2);
    await until('it is let in again', async () => {
      const again = await TestDesk.open(rig.port, rig.ticket(), randomUUID()).catch(() => null);
      if (!again) return false;
      await until('it is answered or not', () => again.closeCode !== null || again.answers.length > 0);
      const welcome = again.answers[0]?.type === 'welcome';
      again.kill();
      return welcome;
    });
    await play();
    await until('the picture is back', async () => (await latest(one)) === 'picture');
  }, 60_000);

  it('reports what the places’ own logs say, second by second', async () => {
    await until('it holds the picture', async () => (await placeOf(two)).held);
    await ask('POST', '/publish', { destinationId: two });
    await seen(one, 'picture', 3);
    await cause('drop', one);
    await cause('refuse', one, 4);
    await seen(one, 'frozen', 3);
    await until('it is taken up again', async () => (await latest(one)) === 'picture');
    await cause('stall', two, 4);
    await seen(two, 'frozen', 3);
    await until('it moves again', async () => (await latest(two)) === 'picture');
    await seen(two, 'picture', 2);
    await ask('POST', '/end');
    const { places: told } = await report();
    const arrivedAt = (place: string) =>
      readFileSync(path.join(rig.dir, `drill-${rig.showId}.arrivals.csv`), 'utf8')
        .trim()
        .split('\n')
        .map((line) => line.split(','))
        .flatMap(([, at, count]) => (at === place ? Number(count) : []));
    for (const { destinationId, timeline } of told) {
      const seconds = timeline.flatMap(({ seen: what, seconds }) =>
        Array.from({ length: seconds }, () => what),
      );
      // Written beside everything else: the last lines may still be on their way to the disk.
      await until('all is written down', () => arrivedAt(destinationId).length >= seconds.length);
      const arrived = arrivedAt(destinationId);
      expect(arrived.length).toBe(seconds.length);
      expect(seconds.filter((what) => what === 'frozen').length).toBeGreaterThanOrEqual(3);
      seconds.forEach((what, second) => {
        // Where one thing becomes another within a second, that second is either's.
        const isEdge = what !== seconds[second - 1] || what !== seconds[second + 1];
        if (isEdge) return;
        if (what === 'frozen') expect(arrived[second]).withContext(`${what} in second ${second}`).toBe(0);
        if (what === 'picture')
          expect(arrived[second]).withContext(`${what} in second ${second}`).toBeGreaterThan(0);
      });
    }
  }, 60_000);

  it('does not take back an event that was thrown away', async () => {
    await seen(one, 'picture');
    await cause('lapse', one);
    await until('it is over', async () => (await latest(one)) === 'over');
    await until('the feed says so', async () => (await placeOf(one)).feed.state === 'ended');
  }, 30_000);

  it('goes on after this process has died, with the seconds in between', async () => {
    await seen(one, 'picture', 2);
    const before = await report();
    await rig.running.close();
    const closedMs = Date.now();
    await until('viewers have waited', () => Date.now() - closedMs > 2500);
    rig = await openRig(rig.dir, rig.showId);
    await play();
    await seen(one, 'picture', sumUp(before.places[0]!.timeline).picture! + 1);
    const after = await report();
    expect(after.startedAtMs).toBe(before.startedAtMs);
    expect(sumUp(after.places[0]!.timeline).frozen ?? 0).toBeGreaterThan(0);
  }, 60_000);

  it('ends, keeps its report, and makes room for the next', async () => {
    await seen(one, 'picture');
    await ask('POST', '/end');
    const ended = await report();
    expect(ended.endedAtMs).not.toBeNull();
    expect((await rig.report()).isDrilled).toBeFalse();
    await ask('POST', '/begin', { places });
    expect((await report()).places[0]!.timeline.length).toBeLessThan(2);
  }, 30_000);

  it('is not begun while a show runs', async () => {
    await ask('POST', '/end');
    await rig.order('PUT', '/run', { runId: randomUUID() });
    expect((await ask('POST', '/begin', { places })).endedAtMs).not.toBeNull();
  }, 30_000);
});
