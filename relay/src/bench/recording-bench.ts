import { encodePacket } from '@juncta/core/media/packets';
import { randomUUID } from 'node:crypto';
import { closeSync, mkdirSync, openSync, rmSync, statSync, writeSync } from 'node:fs';
import path from 'node:path';
import { finishInProcess } from '../recordings/finisher';
import { Run } from '../recordings/run';
import { makeMedia, packetsOf, type Media } from '../testing/media';
import { BenchProcesses, round, runBench } from './bench-processes';

/** How long the files of a show take and how much memory, for a lane of 300 MB and one of 3 GB. */
const SMALL_BYTES = 300e6;
const LARGE_BYTES = 3e9;

runBench(async () => {
  const { work } = new BenchProcesses('recording');
  const media = makeMedia(30, '1280x720', 8000);
  const small = await finish(work, media, SMALL_BYTES);
  const large = await finish(work, media, LARGE_BYTES);
  return {
    smallLaneMb: small.laneMb,
    smallPeakMb: small.peakMb,
    smallSeconds: small.seconds,
    largeLaneMb: large.laneMb,
    largeShowMinutes: large.showMinutes,
    largePeakMb: large.peakMb,
    largeSeconds: large.seconds,
    largeFileMb: large.fileMb,
    peakRatio: round(large.peakMb / small.peakMb, 2),
    missing: small.missing + large.missing,
  };
});

async function finish(work: string, media: Media, laneBytes: number) {
  const session = randomUUID();
  const run = Run.begin(work, randomUUID(), randomUUID(), 0);
  run.change({ endedAtMs: 1, sessions: [{ session, offset: 0 }] });
  mkdirSync(run.sessionDir(session), { recursive: true });
  const lane = path.join(run.sessionDir(session), 'live.jpc');
  const turn = packetsOf(media, session);
  const turnUs = media.seconds * 1_000_000;
  const file = openSync(lane, 'w');
  let turns = 0;
  for (let bytes = 0; bytes < laneBytes; turns++) {
    const packets = turn.map((packet) =>
      encodePacket({
        ...packet,
        number: packet.number + turns * turn.length,
        timeUs: packet.timeUs + turns * turnUs,
      }),
    );
    bytes += writeSync(file, Buffer.concat(packets));
  }
  closeSync(file);
  const beganMs = performance.now();
  const { programme, missing, peakMb } = await finishInProcess(run, new AbortController().signal);
  if (programme.status !== 'made') throw new Error(`the file was not made: ${JSON.stringify(programme)}`);
  const seconds = round((performance.now() - beganMs) / 1000, 1);
  const [laneMb, fileMb] = [lane, path.join(run.dir, programme.file)].map((one) =>
    round(statSync(one).size / 1e6, 0),
  );
  rmSync(run.dir, { recursive: true });
  const showMinutes = round((turns * media.seconds) / 60, 1);
  return { laneMb: laneMb!, fileMb: fileMb!, showMinutes, seconds, peakMb, missing: missing.packets };
}
