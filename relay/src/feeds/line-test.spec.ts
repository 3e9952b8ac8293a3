import type { LineTestReport, RoundTrips } from '@juncta/contract/relay';
import type * as z from 'zod/mini';
import { openPlace, until, type Place } from '../testing/place';
import { openRig, type InnerRig } from '../testing/rig';
import { testLine } from './line-test';

describe('a test of the line', () => {
  let rig: InnerRig;
  let place: Place;
  beforeAll(async () => {
    [rig, place] = await Promise.all([openRig(), openPlace()]);
  }, 30_000);
  afterAll(async () => {
    await rig.close();
    await place.close();
  });
  afterEach(() => place.faults({}));

  const test = async (change = {}): Promise<LineTestReport> => {
    const request = { address: place.address, key: await place.key(), seconds: 2, kbps: 1500, height: 360 };
    const body = JSON.stringify({ ...request, ...change });
    const response = await rig.ask('/control/line-tests', { method: 'POST', body });
    expect(response.status).toBe(200);
    return (await response.json()) as LineTestReport;
  };

  it('is taken, at the rate of a show, as a whole picture with sound', async () => {
    const { outcome, kbps, roundTripMs } = await test();
    expect(outcome).toBe('taken');
    expect(kbps).toBeGreaterThan(1100);
    expect(kbps).toBeLessThan(1900);
    expect(roundTripMs).toBeGreaterThan(0);
    const arrived = await until('the place has noticed the end', async () => {
      const last = (await place.arrivals()).at(-1);
      return last?.endedCleanly === null ? null : last;
    });
    expect(arrived.endedCleanly).toBeTrue();
    expect(arrived.health.video).toEqual(
      jasmine.objectContaining({ codec: 'h264', width: 640, height: 360 }),
    );
    expect(arrived.health.audio?.codec).toBe('aac');
    expect(arrived.health.pictures).toBe(60);
    expect(arrived.health.gaps.picture).toBe(0);
  }, 30_000);

  it('tells a wrong key in the place’s own words', async () => {
    const { outcome, placeSays } = await test({ key: 'not-the-key' });
    expect(outcome).toBe('refused');
    expect(placeSays).toMatch(/\w+/);
    expect(rig.logged.join('')).not.toContain('not-the-key');
  }, 30_000);

  it('tells that the place lets go in the middle', async () => {
    await place.faults({ cutAfterMs: 600 });
    expect((await test()).outcome).toBe('cut_off');
  }, 30_000);

  it('tells that the line does not carry it', async () => {
    await place.faults({ stalled: true });
    // More than what the two ends of a line on one machine keep for one another.
    expect((await test({ kbps: 12_000, seconds: 7 })).outcome).toBe('stalled');
  }, 30_000);

  it('tells that the relay has too much to do', async () => {
    const request = { address: place.address, key: await place.key(), seconds: 2, kbps: 1500, height: 360 };
    const { outcome, roundTripMs } = await testLine(request, true, 1);
    expect(outcome).toBe('busy');
    expect(roundTripMs).toBeGreaterThan(0);
  });

  it('tells that nobody is there', async () => {
    const { outcome, roundTripMs } = await test({ address: 'rtmp://127.0.0.1:9/live' });
    expect([outcome, roundTripMs]).toEqual(['no_answer', null]);
    expect((await test({ address: 'nowhere' })).outcome).toBe('no_address');
  }, 30_000);

  it('measures the way to each ingest, and none where RTMP is not spoken', async () => {
    const web = `rtmp://127.0.0.1:${rig.port}/live`;
    const body = JSON.stringify({ addresses: [place.address, 'rtmp://127.0.0.1:9/live', web, 'x'] });
    const response = await rig.ask('/control/round-trips', { method: 'POST', body });
    const { roundTripsMs } = (await response.json()) as z.infer<typeof RoundTrips>;
    expect(roundTripsMs[0]).toBeGreaterThan(0);
    expect(roundTripsMs.slice(1)).toEqual([null, null, null]);
  }, 30_000);
});
