import pino from 'pino';
import { Programme } from './programme';
import type { Aired, ProgrammeSink } from './sink';
import type { ProgrammeSource } from './source';

const SAMPLES = 1600;
const KEYFRAME = [Uint8Array.of(0x67, 0x42, 0xc0, 0x1f), Uint8Array.of(0x68, 0xce), Uint8Array.of(0x65, 1)];

class Sink implements ProgrammeSink {
  readonly got: Aired[] = [];
  push(aired: Aired): void {
    this.got.push(aired);
  }
  tick(): void {
    // Holds nothing back.
  }
  close(): void {
    // Holds nothing.
  }
  get video(): number[] {
    return this.got.flatMap(({ frame }) => (frame.track === 'video' ? [frame.at] : []));
  }
}

/** One that cannot take anything. */
class BrokenSink extends Sink {
  override push(): void {
    throw new Error('broken');
  }
  override tick(): void {
    throw new Error('broken');
  }
}

describe('a programme', () => {
  let programme: Programme;
  let told: (string | boolean)[];
  let sinks: Sink[];
  let time: number;
  let settled: boolean;
  const source: ProgrammeSource = {
    id: 'desk',
    incomingKbps: 0,
    wantKeyframe: () => told.push('keyframe'),
    covered: (on) => told.push(on),
    tick: () => undefined,
    close: () => told.push('closed'),
  };

  beforeEach(() => {
    told = [];
    time = 0;
    settled = true;
    sinks = [new Sink(), new BrokenSink(), new Sink()];
    programme = new Programme({
      silence: { frame: Uint8Array.of(0), config: Uint8Array.of(0x11, 0x90) },
      log: pino({ level: 'silent' }),
      changed: () => undefined,
      isSettled: () => settled,
    });
    programme.connect(source, sinks);
    programme.begin({ session: 'one', width: 1280, height: 720, videoKbps: 4000 });
  });

  /** So many frames, the first of them a keyframe, with their audio. */
  const send = (frames: number) => {
    for (let i = 0; i < frames; i++, time += SAMPLES) {
      programme.takeVideo({ time, key: i === 0, units: i === 0 ? KEYFRAME : [Uint8Array.of(0x41, i)] });
      for (let at = Math.ceil(time / 1024) * 1024; at < time + SAMPLES; at += 1024)
        programme.takeAudio({ time: at, frame: Uint8Array.of(1) });
    }
  };

  it('goes to every sink alike, and one that is broken is nobody else’s trouble', async () => {
    send(20);
    programme.tick(performance.now());
    const [first, , last] = sinks as [Sink, Sink, Sink];
    expect(first.video.length).toBeGreaterThan(10);
    expect(last.got).toEqual(first.got);
    expect(first.got.at(-1)!.format).toEqual(jasmine.objectContaining({ width: 1280, height: 720 }));
    expect(programme.heads.lastGroup()[0]!.key).toBeTrue();
    await programme.close();
    expect(told).toContain('closed');
  });

  it('has one size, settled by its first keyframe', () => {
    expect([programme.size, programme.heads.headers(0)]).toEqual([null, null]);
    send(1);
    expect(programme.size).toEqual(jasmine.objectContaining({ width: 1280, height: 720 }));
    expect(programme.heads.headers(0)!.length).toBe(3);
  });

  it('takes another size while nothing goes out, and settles it by the next keyframe', () => {
    send(1);
    settled = false;
    expect(programme.size).toBeNull();
    programme.begin({ session: 'two', width: 1920, height: 1080, videoKbps: 6500 });
    expect(programme.heads.headers(0)).toBeNull();
    expect(programme.heads.lastGroup()).toEqual([]);
    time = 0;
    send(1);
    settled = true;
    expect(programme.size).toEqual(jasmine.objectContaining({ width: 1920, height: 1080 }));
  });

  it('keeps from viewers what waits when they are covered, and all that comes until they are not', () => {
    programme.holdBack(60_000);
    send(5);
    programme.cover(true);
    send(5);
    programme.cover(false);
    expect(told).toEqual([true, 'keyframe', false]);
    // Long after all of it would have been due.
    programme.tick(performance.now() + 120_000);
    expect(sinks[0]!.got.filter(({ frame }) => frame.from === 'source')).toEqual([]);
    expect(programme.covered).toBeFalse();
    send(5);
    programme.tick(performance.now() + 120_000);
    expect(programme.state).toBe('source');
  });
});
