import { ResyncReader, type Packet } from '@juncta/core/media/packets';
import {
  encodeTag,
  FLV_HEADER,
  isConfiguration,
  videoTag,
  videoConfigurationTag,
  TAG,
  TAG_FORMAT,
  unwrapTime,
} from '@juncta/core/media/flv';
import { findParameterSets, splitUnits } from '@juncta/core/media/h264';
import { OPUS_PACKET_SAMPLES, OPUS_SILENCE, OpusPages } from '@juncta/core/media/audio';
import { SAMPLE_RATE_HZ, SAMPLES_PER_FRAME } from '@juncta/core/programme';
import { createReadStream } from 'node:fs';
import path from 'node:path';
import type { Writable } from 'node:stream';
import { makeMp4, put } from './make-mp4';
import type { Run } from './run';
import { indexSession, readSession, type SessionIndex } from './session-reader';

export type FinishedFile =
  | { readonly status: 'made'; readonly file: string }
  /** Nothing was recorded that a file could be made of. */
  | { readonly status: 'empty' }
  /** `says`: what went wrong, for the log. */
  | { readonly status: 'failed'; readonly says: string };

/** What the disk lost of what it had taken. */
export interface Missing {
  /** Packets between the first and the last of a session that are not there. */
  readonly packets: number;
  /** How long the last frame of the programme recording stands still for it, ms. */
  readonly ms: number;
  /** Bytes of both recordings' parts that could not be read. */
  readonly damagedBytes: number;
}

export interface FinishedRun {
  readonly programme: FinishedFile;
  readonly aired: FinishedFile;
  readonly missing: Missing;
}

/**
 * Makes the files that can be played out of what a run left on disk, in memory that does not grow with the show. Frames
 * are copied; the audio of the programme recording is made anew from what the desk sent. Safe to repeat: a file appears under
 * its name only when it is whole and was read back. Throws when broken off by the signal.
 */
export async function finishRun(run: Run, signal: AbortSignal): Promise<FinishedRun> {
  const work = new Finishing(run, signal);
  await work.index();
  const programme = await finished('programme.mp4', (file) => work.makeProgramme(file));
  const aired = await finished('aired.mp4', (file) => work.makeAired(file));
  signal.throwIfAborted();
  return { programme, aired, missing: work.missing };
}

/** @param make gives the frames that the file holds; 0: nothing was recorded, and there is no file */
async function finished(file: string, make: (file: string) => Promise<number>): Promise<FinishedFile> {
  try {
    return (await make(file)) > 0 ? { status: 'made', file } : { status: 'empty' };
  } catch (error) {
    return { status: 'failed', says: error instanceof Error ? error.message : String(error) };
  }
}

const samplesOf = (us: number): number => Math.round((us * SAMPLE_RATE_HZ) / 1_000_000);
const msOf = (samples: number): number => Math.round((samples * 1000) / SAMPLE_RATE_HZ);

class Finishing {
  /** Each desk's session, with where on the show's time its own 0 lies, samples. */
  private readonly sessions: { session: string; offset: number; index: SessionIndex }[] = [];
  private missingPackets = 0;
  private stillSamples = 0;
  private damagedBytes = 0;

  constructor(
    private readonly run: Run,
    private readonly signal: AbortSignal,
  ) {}

  async index(): Promise<void> {
    for (const { session, offset } of this.run.record.sessions) {
      const index = await indexSession(this.run.sessionDir(session));
      this.sessions.push({ session, offset, index });
      this.damagedBytes += index.damagedBytes;
    }
  }

  get missing(): Missing {
    return { packets: this.missingPackets, ms: msOf(this.stillSamples), damagedBytes: this.damagedBytes };
  }

  /** What the desks composed, whether it went out or not, on the show's time. */
  async makeProgramme(file: string): Promise<number> {
    if (this.sessions.every(({ index }) => index.stretches.length === 0)) return 0;
    return makeMp4(path.join(this.run.dir, file), {
      inputs: ['-f', 'flv', '-i', 'pipe:3', '-f', 'ogg', '-i', 'pipe:4'],
      output: ['-map', '0:v:0', '-map', '1:a:0', '-c:v', 'copy', '-c:a', 'aac', '-b:a', '160k'],
      videoFrames: (pipe) => this.writeVideo(pipe),
      others: [(pipe) => this.writeAudio(pipe)],
      signal: this.signal,
    });
  }

  /** What went out, joined over all lives of the relay. */
  async makeAired(file: string): Promise<number> {
    if (this.run.record.aired.length === 0) return 0;
    return makeMp4(path.join(this.run.dir, file), {
      inputs: ['-f', 'flv', '-i', 'pipe:3'],
      output: ['-map', '0:v:0', '-map', '0:a:0?', '-c', 'copy'],
      videoFrames: (pipe) => this.writeAired(pipe),
      others: [],
      signal: this.signal,
    });
  }

  private async writeAired(pipe: Writable): Promise<number> {
    let videoFrames = 0;
    await put(pipe, FLV_HEADER);
    for (const { file, fromMs } of this.run.record.aired) {
      const reader = new ResyncReader(TAG_FORMAT);
      let lastMs = 0;
      const join = async (read: ReturnType<typeof reader.push>) => {
        for (const { item: tag } of read) {
          lastMs = unwrapTime(tag.timeMs, lastMs);
          if (tag.kind === TAG.videoFrame && !isConfiguration(tag)) videoFrames += 1;
          await put(pipe, encodeTag({ ...tag, timeMs: lastMs + fromMs }));
        }
      };
      const stream = createReadStream(path.join(this.run.dir, file), { start: FLV_HEADER.length });
      for await (const chunk of stream) await join(reader.push(chunk as Buffer));
      await join(reader.end());
      this.damagedBytes += reader.damagedBytes;
    }
    return videoFrames;
  }

  private async writeVideo(pipe: Writable): Promise<number> {
    let videoFrames = 0;
    await put(pipe, FLV_HEADER);
    let configured = false;
    let session = '';
    for await (const { at, packet } of this.packets('video', true)) {
      if (at < -SAMPLES_PER_FRAME) continue;
      if (packet.session !== session) {
        // What comes before a session's first keyframe cannot be shown.
        if (!packet.key) continue;
        session = packet.session;
      }
      const units = splitUnits(packet.payload);
      const timeMs = Math.max(0, msOf(at));
      const sets = findParameterSets(units);
      if (!configured && sets) {
        await put(pipe, encodeTag(videoConfigurationTag(sets, timeMs)));
        configured = true;
      }
      if (!configured) continue;
      await put(pipe, encodeTag(videoTag(units, packet.key, timeMs)));
      videoFrames += 1;
    }
    return videoFrames;
  }

  /** One unbroken stream from the show's 0: silence stands where the desk sent nothing. */
  private async writeAudio(pipe: Writable): Promise<void> {
    const pages = new OpusPages(2);
    await put(pipe, pages.headers());
    let next = 0;
    for await (const { at, packet } of this.packets('audio')) {
      if (at < -OPUS_PACKET_SAMPLES / 2) continue;
      for (; at - next >= OPUS_PACKET_SAMPLES; next += OPUS_PACKET_SAMPLES)
        await put(pipe, pages.packet(OPUS_SILENCE));
      if (at - next < -OPUS_PACKET_SAMPLES / 2) continue;
      await put(pipe, pages.packet(packet.payload));
      next += OPUS_PACKET_SAMPLES;
    }
    // A show without a sound packet is silent, not soundless.
    if (next === 0) await put(pipe, pages.packet(OPUS_SILENCE));
  }

  /**
   * One track on the show's time, session after session.
   *
   * @param isCounted what is missing is counted: once, though the packets are read for each track
   */
  private async *packets(
    track: Packet['track'],
    isCounted = false,
  ): AsyncGenerator<{ at: number; packet: Packet }> {
    let last = -1;
    for (const { offset, index } of this.sessions) {
      let number: number | null = null;
      let gap = 0;
      let endsAt = 0;
      for await (const packet of readSession(index)) {
        // The slate's packets are numbered too, and are no part of the programme.
        if (number !== null) gap += packet.number - number - 1;
        if (number !== null || !packet.slate) number = packet.number;
        if (packet.track !== track || packet.slate) continue;
        const at = samplesOf(packet.timeUs) + offset;
        if (isCounted && gap > 0) {
          this.missingPackets += gap;
          this.stillSamples += Math.max(0, at - endsAt);
          gap = 0;
        }
        endsAt = at + samplesOf(packet.durationUs);
        // A desk that took over may have begun a hair before the other's end.
        if (at <= last) continue;
        last = at;
        yield { at, packet };
      }
      if (isCounted) this.missingPackets += gap;
    }
  }
}
