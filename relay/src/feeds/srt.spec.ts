import type { LineTestReport } from '@juncta/contract/relay';
import { writeSrtKey } from '@juncta/core/media/srt';
import { randomUUID } from 'node:crypto';
import { readdirSync, readFileSync } from 'node:fs';
import { TestDesk } from '../testing/desk';
import { makeMedia, packetsOf, slatePackets } from '../testing/media';
import { until } from '../testing/place';
import { longestStep, probe, rises } from '../testing/probe';
import { openRig, type InnerRig } from '../testing/rig';
import { openSrtPlace, type SrtPlace } from '../testing/srt-place';
import { refusalIn } from './srt-connection';

const PASSPHRASE = 'as long as a passphrase';

describe('SRT', () => {
  let rig: InnerRig;
  const places: SrtPlace[] = [];
  beforeEach(async () => {
    rig = await openRig();
  });
  afterEach(async () => {
    await rig.close();
    await Promise.all(places.splice(0).map((place) => place.close()));
  });
  const listen = async (passphrase?: string, port?: number) => {
    const place = await openSrtPlace(passphrase, port);
    places.push(place);
    return place;
  };
  const test = async (port: number, passphrase: string): Promise<LineTestReport> => {
    const key = writeSrtKey({ streamId: '#!::r=hall,m=publish', passphrase });
    const request = { address: `srt://127.0.0.1:${port}`, key, seconds: 2, kbps: 1500, height: 360 };
    const response = await rig.ask('/control/line-tests', { method: 'POST', body: JSON.stringify(request) });
    return (await response.json()) as LineTestReport;
  };

  it('carries a test of the line, encrypted, whole, and as it was made', async () => {
    const place = await listen(PASSPHRASE);
    const { outcome, kbps } = await test(place.port, PASSPHRASE);
    expect(outcome).toBe('taken');
    expect(kbps).toBeGreaterThan(1000);
    await place.over;
    const { streams, videoFrames, audioFrames } = probe(place.received);
    expect(streams.map(({ codec_name }) => codec_name).sort()).toEqual(['aac', 'h264']);
    expect(videoFrames.length).toBe(60);
    expect(rises(videoFrames.map(({ at }) => at))).toBeTrue();
    expect(longestStep(audioFrames)).toBeLessThan(0.03);
  }, 40_000);

  it('tells a wrong passphrase from nobody there', async () => {
    const place = await listen(PASSPHRASE);
    const refused = await test(place.port, 'another passphrase');
    expect(refused.outcome).toBe('refused');
    expect(refused.placeSays).toContain('passphrase');
    const nobody = await test(9, '');
    expect(nobody.outcome).toBe('no_answer');
  }, 40_000);

  it('is a feed like any other: it begins at 0, is taken up again, and shows its key to nobody', async () => {
    const destination = randomUUID();
    const stateIs = (wanted: string) =>
      until(`the feed is ${wanted}`, async () => {
        const feed = (await rig.report()).feeds.find(({ destinationId }) => destinationId === destination);
        return feed?.state === wanted;
      });
    const media = makeMedia(20);
    const session = randomUUID();
    const line = await TestDesk.open(rig.port, rig.ticket(), session);
    await until('the desk is welcome', () => line.answers[0]?.type === 'welcome');
    line.sendAll(slatePackets(media, session, 1));
    line.play(packetsOf(media, session).map((packet) => ({ ...packet, number: packet.number + 60 })));
    await until('there is a programme', async () => (await rig.report()).state === 'source');

    const first = await listen(PASSPHRASE);
    await rig.order('POST', `/feeds/${destination}/start`, {
      address: `srt://127.0.0.1:${first.port}`,
      key: writeSrtKey({ streamId: 'hall', passphrase: PASSPHRASE }),
      arrival: 'public',
    });
    await stateIs('sending');
    for (const child of childrenOf(process.pid)) expect(child).not.toContain(PASSPHRASE);
    expect(rig.logged.join('')).not.toContain(PASSPHRASE);

    await first.close();
    await stateIs('recovering');
    const second = await listen(PASSPHRASE, first.port);
    await stateIs('sending');
    await until('the rate is known', async () => ((await rig.report()).feeds[0]?.bitrateKbps ?? 0) > 100);
    await rig.order('POST', `/feeds/${destination}/stop`);
    await second.over;
    const { videoFrames } = probe(second.received);
    expect(videoFrames.length).toBeGreaterThan(30);
    expect(videoFrames[0]!.key).toBeTrue();
    expect(videoFrames[0]!.at).toBeLessThan(2);
    line.kill();
  }, 60_000);
});

describe('what the other side of SRT says', () => {
  it('is its reason, in a line among others', () =>
    expect(
      refusalIn(
        'x\n22:35:18/SRT:w1!W: processAsyncConnectRequest: REJECT reported from HS processing: Incorrect passphrase - not processing further\ny',
      ),
    ).toBe('Incorrect passphrase'));
  it('is nothing when the line just broke', () =>
    expect(refusalIn('srt://…: Input/output error')).toBeNull());
});

/** Argument lists of a process's children. */
function childrenOf(pid: number): string[] {
  const found: string[] = [];
  for (const name of readdirSync('/proc').filter((one) => /^\d+$/.test(one))) {
    try {
      if (new RegExp(`^PPid:\\t${pid}$`, 'm').test(readFileSync(`/proc/${name}/status`, 'utf8')))
        found.push(readFileSync(`/proc/${name}/cmdline`, 'utf8'));
    } catch {
      // It has ended meanwhile.
    }
  }
  expect(found.length).toBeGreaterThan(0);
  return found;
}
