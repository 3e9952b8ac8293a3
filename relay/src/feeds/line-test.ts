import type { LineTestReport, LineTestRequest } from '@juncta/contract/relay';
import { decodeFile, type FlvTag } from '@juncta/core/media/flv';
import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import type { ConnectionEvent, FeedConnection } from './connection';
import { openConnection, readFeedAddress } from './open-connection';
import { AddressRefused, resolveOutgoing } from './outgoing';
import { roundTrip } from './round-trip';

const run = promisify(execFile);

const TICK_MS = 20;
const AUDIO_KBPS = 128;
/** What was sent has to be taken this soon after its last frame. */
const DRAIN_MS = 3000;
/** Whatever happens, a test is over by then. */
const LONGEST_MS = 25_000;
/** It takes one or two seconds where nothing else runs. */
const MAKING_MS = 15_000;
const MOST_MADE_BYTES = 64 * 1024 ** 2;

/**
 * Sends a few seconds of test pattern to an ingest at the rate of a show, in its own time, and says what became of it.
 * Ends in good order: what ends with its feed ends.
 */
export async function testLine(
  request: LineTestRequest,
  allowLocalPlaces: boolean,
  makingMs = MAKING_MS,
): Promise<LineTestReport> {
  const address = readFeedAddress(request.address);
  const nothing = { roundTripMs: null, kbps: null, placeSays: null };
  if (!address) return { ...nothing, outcome: 'no_address' };
  let host: string;
  try {
    host = await resolveOutgoing(address.where.host, allowLocalPlaces);
  } catch (error) {
    const placeSays = error instanceof AddressRefused ? error.message : null;
    return { ...nothing, outcome: 'no_answer', placeSays };
  }
  // SRT has no greeting that could be measured without a stream.
  const roundTripMs = address.protocol === 'rtmp' ? await roundTrip(request.address, allowLocalPlaces) : null;
  if (address.protocol === 'rtmp' && roundTripMs === null) return { ...nothing, outcome: 'no_answer' };
  const made = await makePattern(request, makingMs);
  if (made === null) return { ...nothing, roundTripMs, outcome: 'busy' };
  const tags: readonly FlvTag[] = made;
  return new Promise((done) => {
    let sending: NodeJS.Timeout | undefined;
    let publishing = false;
    const finish = (outcome: LineTestReport['outcome'], kbps: number | null, placeSays: string | null) => {
      clearInterval(sending);
      clearTimeout(late);
      connection.hangUp(true);
      done({ outcome, roundTripMs, kbps, placeSays });
    };
    const late = setTimeout(() => finish(publishing ? 'stalled' : 'no_answer', null, null), LONGEST_MS);
    const connection: FeedConnection = openConnection(address, request.key, host, (event) => take(event));
    function take(event: ConnectionEvent): void {
      if (event.type === 'wants_programme') sending = send();
      else if (event.type === 'publishing') {
        publishing = true;
        sending ??= send();
      } else if (event.type === 'refused') finish('refused', null, event.placeSays);
      else if (event.type === 'ended_there') finish('cut_off', null, event.placeSays);
      else if (event.type === 'lost') finish(publishing ? 'cut_off' : 'no_answer', null, null);
    }
    function send(): NodeJS.Timeout {
      const beganAt = performance.now();
      const beganBytes = connection.sentBytes;
      const empty = connection.room;
      let at = 0;
      return setInterval(() => {
        const elapsedMs = performance.now() - beganAt;
        const due: FlvTag[] = [];
        while (at < tags.length && tags[at]!.timeMs <= elapsedMs && connection.room > 0)
          due.push(tags[at++]!);
        connection.send(due, 0);
        if (publishing && at === tags.length && connection.room === empty) {
          const kbps = Math.round(((connection.sentBytes - beganBytes) * 8) / elapsedMs);
          finish('taken', kbps, null);
        } else if (elapsedMs > request.seconds * 1000 + DRAIN_MS) finish('stalled', null, null);
      }, TICK_MS);
    }
  });
}

/**
 * A pattern that really has the wished rate: filled up where video alone would take less. Null: not in time, because
 * whatever else runs here goes first.
 */
async function makePattern(
  { seconds, kbps, height }: LineTestRequest,
  makingMs: number,
): Promise<readonly FlvTag[] | null> {
  const videoFrame = Math.max(200, kbps - AUDIO_KBPS);
  const size = `${Math.round((height * 16) / 9 / 2) * 2}x${height}`;
  const made = await run(
    'nice',
    [
      // A show that is on air goes first.
      ...['-n', '15', 'ffmpeg'],
      ...['-hide_banner', '-loglevel', 'error', '-f', 'lavfi', '-i', `testsrc2=size=${size}:rate=30`],
      ...['-f', 'lavfi', '-i', 'anullsrc=channel_layout=stereo:sample_rate=48000', '-t', String(seconds)],
      ...[
        '-c:v',
        'libx264',
        '-preset',
        'ultrafast',
        '-tune',
        'zerolatency',
        '-pix_fmt',
        'yuv420p',
        '-g',
        '60',
      ],
      ...['-b:v', `${videoFrame}k`, '-minrate', `${videoFrame}k`, '-maxrate', `${videoFrame}k`],
      ...['-bufsize', `${videoFrame}k`, '-x264-params', 'nal-hrd=cbr:repeat-headers=1'],
      ...['-c:a', 'aac', '-b:a', `${AUDIO_KBPS}k`, '-flvflags', 'no_duration_filesize', '-f', 'flv', '-'],
    ],
    { encoding: 'buffer', maxBuffer: MOST_MADE_BYTES, timeout: makingMs },
  ).catch((error: unknown) => {
    if ((error as { killed?: boolean }).killed) return null;
    throw error;
  });
  return made && decodeFile(made.stdout).tags;
}
