import { randomBytes, randomUUID } from 'node:crypto';
import { readFileSync } from 'node:fs';
import path from 'node:path';
import { makeMedia, packetsOf, slatePackets } from '../testing/media';
import { freePort, openPlace, until, type Arrived } from '../testing/place';
import { BenchProcesses, pause, ROOT, runBench } from './bench-processes';
import { BenchRelay } from './bench-relay';
import { tokenAtPlace } from '../testing/place-token';

/**
 * What viewers lose when something goes wrong, measured where the streams arrive: at the stand-in places, by the instant
 * at which each packet came. Ten good feeds, one whose place stops reading, and one whose key is wrong; then a cut
 * connection, a desk that is gone for a while, and a relay that is killed and started again.
 */
const GOOD = 10;
const DESK_GONE_MS = 20_000;
const CALM_MS = 8000;
const MEDIA_SECONDS = 150;
const KBPS = 1200;

const processes = new BenchProcesses('continuity');

/** A stand-in place with events, each with a key of its own. */
async function openEvents(count: number) {
  const [port, rtmpPort, grant] = [await freePort(), await freePort(), randomBytes(24).toString('base64url')];
  processes.run(process.execPath, ['--import', 'tsx', path.join(ROOT, 'standins/src/kitefield/main.ts')], {
    PORT: String(port),
    RTMP_PORT: String(rtmpPort),
    STANDIN_DIR: path.join(processes.work, 'events'),
    KITEFIELD_GRANT: grant,
  });
  const url = `http://127.0.0.1:${port}`;
  await until('the place answers', async () => (await fetch(`${url}/healthz`).catch(() => null))?.ok);
  const ask = async <T>(method: string, where: string, body?: object, token?: string): Promise<T> => {
    const response = await fetch(url + where, {
      method,
      headers: { 'Content-Type': 'application/json', ...(token ? { Authorization: `Bearer ${token}` } : {}) },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    if (!response.ok) throw new Error(`${where} answered ${response.status}: ${await response.text()}`);
    return (await response.json()) as T;
  };
  const token = await tokenAtPlace(url, grant);
  const keys: string[] = [];
  for (let i = 0; i < count; i++) {
    const event = {
      title: `Feed ${i}`,
      description: '',
      starts_at: null,
      settings: {},
      placement: 'channel',
      reference: null,
    };
    const { id } = await ask<{ id: string }>('POST', '/v1/events', event, token);
    keys.push((await ask<{ key: string }>('GET', `/v1/events/${id}/ingest`, undefined, token)).key);
  }
  return {
    address: `rtmp://127.0.0.1:${rtmpPort}/kite`,
    keys,
    arrivals: () => ask<Arrived[]>('GET', '/console/arrivals'),
  };
}

/** Instants at which frames came, ms. */
function videoFramesOf({ packets }: Arrived): number[] {
  const lines = readFileSync(packets, 'utf8').trim().split('\n');
  return lines
    .map((line) => line.split(',').map(Number))
    .flatMap(([kind, , , , at]) => (kind === 9 ? at! : []));
}

/** The longest time within a stretch in which nothing came. */
function longestGap(at: readonly number[], fromMs: number, toMs: number): number {
  const within = [fromMs, ...at.filter((one) => one > fromMs && one < toMs), toMs];
  return Math.max(...within.slice(1).map((one, i) => one - within[i]!));
}

async function main(): Promise<object> {
  const events = await openEvents(GOOD);
  const sick = await openPlace();
  const relay = new BenchRelay(processes);
  const order: BenchRelay['order'] = (...request) => relay.order(...request);
  const media = makeMedia(MEDIA_SECONDS, '640x360', KBPS);
  const session = randomUUID();
  const all = packetsOf(media, session).map((packet) => ({ ...packet, number: packet.number + 60 }));
  const openDesk = async (fromUs: number) => {
    const desk = await relay.openDesk(session, { width: 640, height: 360 });
    if (fromUs === 0) desk.sendAll(slatePackets(media, session, 1));
    const at = all.findIndex(({ track, key, timeUs }) => track === 'video' && key && timeUs >= fromUs);
    desk.play(all.slice(at));
    return desk;
  };
  const sickId = randomUUID();
  const startAll = async () => {
    for (const [i, key] of events.keys.entries()) {
      const id = `00000000-0000-4000-8000-${String(i).padStart(12, '0')}`;
      await order('POST', `/feeds/${id}/start`, { address: events.address, key, arrival: 'held' });
    }
    const request = { address: sick.address, key: await sick.key(), arrival: 'public' };
    await order('POST', `/feeds/${sickId}/start`, request);
  };

  await relay.start();
  let desk = await openDesk(0);
  const startedAt = performance.now();
  const deskTimeUs = () => (performance.now() - startedAt) * 1000;
  await relay.stateIs('source');
  const runId = randomUUID();
  await order('PUT', '/run', { runId });
  await startAll();
  await until('all send', async () => {
    const { feeds } = await order('GET', '');
    return feeds.filter(({ state }) => state === 'held' || state === 'sending').length === GOOD + 1;
  });
  const gapsOf = async (fromMs: number, toMs: number) =>
    Math.max(...(await events.arrivals()).map((one) => longestGap(videoFramesOf(one), fromMs, toMs)));
  const figures: Record<string, number> = { feeds: GOOD + 2 };

  await pause(2000);
  let fromMs = Date.now();
  await pause(CALM_MS);
  figures['calm_longest_gap_ms'] = await gapsOf(fromMs, Date.now());

  // One place stops reading, one key is wrong.
  await sick.faults({ stalled: true });
  await order('POST', `/feeds/${randomUUID()}/start`, {
    address: events.address,
    key: 'wrong',
    arrival: 'held',
  });
  fromMs = Date.now();
  await pause(CALM_MS);
  figures['others_longest_gap_ms_while_one_stalls_and_one_is_refused'] = await gapsOf(fromMs, Date.now());
  await sick.faults({});

  // A connection is cut.
  const sends = async () =>
    (await order('GET', '')).feeds.find((feed) => feed.destinationId === sickId)?.state === 'sending';
  await until('the sick one is well again', sends, 40_000);
  await pause(2000);
  const before = (await sick.arrivals()).length;
  const cutAt = Date.now();
  await sick.cut();
  const again = await until('it arrives again', async () => {
    const arrivals = await sick.arrivals();
    const last = arrivals.at(-1)!;
    return arrivals.length > before && videoFramesOf(last).length > 0 ? last : null;
  });
  figures['cut_connection_back_ms'] = videoFramesOf(again)[0]! - cutAt;

  // The desk is gone, and comes back where its own clock has come to.
  const arrivalsBefore = (await events.arrivals()).length;
  fromMs = Date.now();
  desk.kill();
  await relay.stateIs('slate');
  figures['desk_gone_to_slate_ms'] = Date.now() - fromMs;
  await pause(DESK_GONE_MS);
  const returnedAt = Date.now();
  desk = await openDesk(deskTimeUs());
  await relay.stateIs('source');
  figures['desk_back_to_picture_ms'] = Date.now() - returnedAt;
  await pause(1000);
  figures['desk_gone_longest_gap_ms'] = await gapsOf(fromMs, Date.now());
  figures['desk_gone_connections_lost'] = (await events.arrivals()).length - arrivalsBefore;

  // The relay is killed; whoever looks after it starts it again and tells it what is wanted.
  const killedAt = Date.now();
  relay.kill();
  await relay.start();
  await order('PUT', '/run', { runId });
  desk = await openDesk(deskTimeUs());
  await relay.stateIs('source');
  await startAll();
  const firsts = await until('every feed arrives again', async () => {
    const fresh = (await events.arrivals())
      .slice(-GOOD)
      .map((one) => videoFramesOf(one).find((at) => at > killedAt));
    return fresh.length === GOOD && fresh.every((at) => at !== undefined) ? fresh : null;
  });
  figures['relay_killed_all_back_ms'] = Math.max(...firsts) - killedAt;
  desk.kill();
  await sick.close();
  return figures;
}

runBench(main);
