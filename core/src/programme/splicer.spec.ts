import fc from 'fast-check';
import { SAMPLE_RATE_HZ, SAMPLES_PER_FRAME } from './programme-clock';
import { AAC_FRAME_SAMPLES } from '../media/audio/adts';
import { SLATE_AFTER_MS, Splicer, type Spliced, type SplicedVideoFrame } from './splicer';

const SILENCE = Uint8Array.of(0);
const unit = (n: number) => [Uint8Array.of(n & 0xff, (n >> 8) & 0xff)];
const SLATE = {
  videoFrames: Array.from({ length: 60 }, (_, i) => ({ key: i === 0, units: [Uint8Array.of(9, 9, i)] })),
};

/** A source on a clock of its own, and a splicer, driven in real steps of a frame each. */
class Rig {
  readonly out: Spliced[] = [];
  nowMs = 5000;
  frame = 0;
  private audioAt: number;

  constructor(
    readonly splicer = new Splicer(SILENCE),
    /** The source's time at its beginning, samples. */
    private base = 7_777_777,
    slate = true,
  ) {
    this.audioAt = base;
    if (slate) splicer.useSlate(SLATE);
  }

  /** A stretch of time; `sends`: what the source sends in it. */
  run(
    frames: number,
    sends: { videoFrame?: boolean; audioFrame?: boolean } = { videoFrame: true, audioFrame: true },
  ): this {
    for (let i = 0; i < frames; i++) {
      const time = this.base + this.frame * SAMPLES_PER_FRAME;
      if (sends.videoFrame) {
        this.out.push(
          ...this.splicer.takeVideo(
            { time, key: this.frame % 60 === 0, units: unit(this.frame) },
            this.nowMs,
          ),
        );
      }
      for (; this.audioAt < time + SAMPLES_PER_FRAME; this.audioAt += AAC_FRAME_SAMPLES) {
        if (sends.audioFrame) {
          this.out.push(
            ...this.splicer.takeAudio({ time: this.audioAt, frame: Uint8Array.of(1) }, this.nowMs),
          );
        }
      }
      this.out.push(...this.splicer.tick(this.nowMs));
      this.frame += 1;
      this.nowMs += 1000 / 30;
    }
    return this;
  }

  /** Another desk, whose clock shows something else. */
  otherDesk(base: number): this {
    this.splicer.newSource();
    this.base = base - this.frame * SAMPLES_PER_FRAME;
    this.audioAt = base;
    // Its first frame is a keyframe.
    this.base += (this.frame % 60) * SAMPLES_PER_FRAME;
    this.frame -= this.frame % 60;
    return this;
  }

  get videoFrames(): SplicedVideoFrame[] {
    return this.out.filter((one) => one.track === 'video');
  }
}

/** What must hold of every timeline, whatever happened. */
function expectUnbroken(out: readonly Spliced[], context = ''): void {
  const audioFrames = out.filter(({ track }) => track === 'audio').map(({ at }) => at);
  audioFrames.forEach((at, i) => {
    if (i > 0 && at !== audioFrames[i - 1]! + AAC_FRAME_SAMPLES)
      fail(`${context} sound ${i} at ${at} after ${audioFrames[i - 1]}`);
  });
  const videoFrames = out.filter((one) => one.track === 'video');
  videoFrames.forEach((one, i) => {
    if (i > 0 && one.at <= videoFrames[i - 1]!.at) fail(`${context} picture at ${one.at} does not rise`);
    // What a cut begins with can be decoded.
    if ((i === 0 || videoFrames[i - 1]!.from !== one.from) && !one.key)
      fail(`${context} no keyframe at the cut at ${one.at}`);
  });
  const ids = videoFrames.filter(({ from }) => from === 'source').map(({ units }) => units[0]!.join());
  expect(new Set(ids).size).withContext(`${context} nothing twice`).toBe(ids.length);
}

describe('Splicer', () => {
  it('gives nothing before there is a picture', () => {
    expect(new Rig().run(100, {}).out).toEqual([]);
    expect(new Rig().run(30, { audioFrame: true }).out).toEqual([]);
  });

  it('begins at the first keyframe, at 0, whatever the source’s own time', () => {
    const rig = new Rig();
    rig.frame = 10;
    rig.run(200);
    expect(rig.videoFrames[0]).toEqual(jasmine.objectContaining({ at: 0, key: true, from: 'source' }));
    expect(rig.videoFrames.length).toBeGreaterThan(140);
    expectUnbroken(rig.out);
  });

  it('keeps the distance of picture and sound of the source to within half a frame of sound', () => {
    const rig = new Rig().run(120);
    const mapped = rig.splicer.sourceOffset!;
    const first = rig.out.find((one) => one.track === 'audio' && one.from === 'source')!;
    const nearest = Math.round((first.at - mapped - 7_777_777) / AAC_FRAME_SAMPLES) * AAC_FRAME_SAMPLES;
    expect(Math.abs(first.at - mapped - 7_777_777 - nearest)).toBeLessThanOrEqual(AAC_FRAME_SAMPLES / 2);
  });

  it('shows the slate a second after the source stopped, in real time, and comes back at a keyframe', () => {
    const rig = new Rig().run(120).run(90, {});
    expect(rig.splicer.state).toBe('slate');
    const slate = rig.videoFrames.filter(({ from }) => from === 'slate');
    // From where the source stopped, not from where it was noticed.
    expect(slate.length).toBeGreaterThanOrEqual(88);
    expect(slate.length).toBeLessThanOrEqual(91);
    expect(slate[0]).toEqual(jasmine.objectContaining({ key: true }));
    rig.run(120);
    expect(rig.splicer.state).toBe('source');
    expectUnbroken(rig.out);
    // As far behind as before: the clock and the timeline have gone the same way.
    expect(Math.abs(rig.splicer.at / SAMPLE_RATE_HZ - 330 / 30)).toBeLessThan(0.2);
  });

  it('is not disturbed by a pause shorter than its patience', () => {
    const rig = new Rig().run(60);
    const pause = Math.floor((SLATE_AFTER_MS / 1000) * 30) - 3;
    rig.run(pause, {});
    expect(rig.splicer.state).toBe('source');
    rig.splicer.gap();
    rig.frame = 60 * Math.ceil(rig.frame / 60);
    rig.run(60);
    expect(rig.videoFrames.every(({ from }) => from === 'source')).toBeTrue();
    expectUnbroken(rig.out);
  });

  it('leaves out what follows missing pictures until a keyframe', () => {
    const rig = new Rig().run(70);
    rig.splicer.gap();
    const before = rig.videoFrames.length;
    rig.run(40);
    expect(rig.videoFrames.slice(before).filter(({ from }) => from === 'source')).toEqual([]);
    rig.run(40);
    expect(rig.videoFrames.at(-1)!.from).toBe('source');
    expectUnbroken(rig.out);
  });

  it('covers at once, drops what waits, and comes back at a keyframe', () => {
    const rig = new Rig().run(65);
    const seen = rig.videoFrames.length;
    rig.splicer.cover(true, rig.nowMs);
    rig.run(50);
    expect(rig.splicer.state).toBe('covered');
    expect(rig.videoFrames.slice(seen).every(({ from }) => from === 'slate')).toBeTrue();
    expect(
      rig.out
        .slice(-20)
        .filter(({ track }) => track === 'audio')
        .every(({ from }) => from === 'slate'),
    ).toBeTrue();
    rig.splicer.cover(false, rig.nowMs);
    rig.run(100);
    expect(rig.splicer.state).toBe('source');
    expectUnbroken(rig.out);
  });

  it('stays covered over a change of desks', () => {
    const rig = new Rig().run(65);
    rig.splicer.cover(true, rig.nowMs);
    rig.run(10).otherDesk(33).run(70);
    expect(rig.splicer.state).toBe('covered');
  });

  it('goes with silence when the sound stays away, and without sound when there was none', () => {
    const rig = new Rig().run(60).run(60, { videoFrame: true });
    expect(rig.splicer.state).toBe('source');
    expect(rig.videoFrames.length).toBeGreaterThan(100);
    expectUnbroken(rig.out);
    const silent = new Rig().run(90, { videoFrame: true });
    expect(silent.videoFrames.length).toBeGreaterThan(70);
    expectUnbroken(silent.out);
  });

  it('takes the same picture once', () => {
    const rig = new Rig().run(61);
    const again = { time: 7_777_777 + 60 * SAMPLES_PER_FRAME, key: true, units: unit(60) };
    expect(rig.splicer.takeVideo(again, rig.nowMs)).toEqual([]);
  });

  it('waits longer once it is known that audio takes longer, and no longer than it must', () => {
    for (const lateMs of [300, 700, 1500]) {
      const splicer = new Splicer(SILENCE);
      const out: Spliced[] = [];
      const came = (ms: number) => Math.floor((ms * 48) / AAC_FRAME_SAMPLES);
      let audio = 0;
      for (let ms = 0; ms < 20_000; ms += 10) {
        if (Math.floor((ms * 30) / 1000) !== Math.floor(((ms - 10) * 30) / 1000)) {
          const frame = Math.floor((ms * 30) / 1000);
          out.push(...splicer.takeVideo({ time: frame * SAMPLES_PER_FRAME, key: true, units: [] }, ms));
        }
        for (; audio < came(ms - lateMs); audio++)
          out.push(...splicer.takeAudio({ time: audio * AAC_FRAME_SAMPLES, frame: Uint8Array.of(1) }, ms));
        out.push(...splicer.tick(ms));
      }
      const sound = out.filter(({ track }) => track === 'audio');
      const settled = sound.filter(({ at }) => at > 4 * 48_000);
      expect(settled.every(({ from }) => from === 'source'))
        .withContext(`${lateMs} ms late`)
        .toBe(true);
      // Nothing waits for longer than the audio takes.
      expect(out.at(-1)!.at / 48).toBeGreaterThan(20_000 - lateMs - 100);
    }
  });

  it('keeps its time without a slate, too', () => {
    const rig = new Rig(undefined, undefined, false).run(60).run(90, {}).run(90);
    expectUnbroken(rig.out);
    expect(Math.abs(rig.splicer.at / SAMPLE_RATE_HZ - 240 / 30)).toBeLessThan(0.2);
  });

  it('goes on from where an earlier life came to', () => {
    const rig = new Rig(new Splicer(SILENCE, 48_000 * 3600)).run(90);
    expect(rig.out[0]!.at).toBeGreaterThanOrEqual(48_000 * 3600);
    expectUnbroken(rig.out);
  });

  it('is unbroken over whatever comes', () => {
    const stretch = fc.record({
      frames: fc.integer({ min: 1, max: 130 }),
      videoFrame: fc.boolean(),
      audioFrame: fc.boolean(),
      before: fc.constantFrom('nothing', 'gap', 'cover', 'uncover', 'otherDesk', 'sameDesk'),
      base: fc.integer({ min: 0, max: 2 ** 40 }),
    });
    fc.assert(
      fc.property(fc.array(stretch, { maxLength: 12 }), (stretches) => {
        const rig = new Rig();
        let desks = 0;
        for (const { before, base, frames, ...sends } of stretches) {
          if (before === 'gap') rig.splicer.gap();
          if (before === 'cover') rig.splicer.cover(true, rig.nowMs);
          if (before === 'uncover') rig.splicer.cover(false, rig.nowMs);
          if (before === 'otherDesk' && desks++ === 0) rig.otherDesk(base);
          rig.run(frames, sends);
        }
        const audioFrames = rig.out.filter(({ track }) => track === 'audio').map(({ at }) => at);
        const videoFrames = rig.videoFrames.map(({ at }) => at);
        return (
          audioFrames.every((at, i) => i === 0 || at === audioFrames[i - 1]! + AAC_FRAME_SAMPLES) &&
          videoFrames.every((at, i) => i === 0 || at > videoFrames[i - 1]!) &&
          rig.videoFrames.every((one, i) => (i > 0 && rig.videoFrames[i - 1]!.from === one.from) || one.key)
        );
      }),
      { numRuns: 150 },
    );
    expect().nothing();
  });

  it('does not drift over 25 hours', () => {
    const splicer = new Splicer(SILENCE);
    splicer.useSlate(SLATE);
    let nowMs = 0;
    let last = -1;
    let audioFrames = 0;
    const frames = 25 * 3600 * 30;
    // A frame a second is enough to see where the timeline stands.
    for (let frame = 0; frame < frames; frame += 20) {
      for (const one of splicer.takeVideo({ time: frame * SAMPLES_PER_FRAME, key: true, units: [] }, nowMs)) {
        if (one.track === 'audio') audioFrames += 1;
        else if (one.at <= last) throw new Error('does not rise');
        else last = one.at;
      }
      nowMs += 2000 / 3;
      for (const one of splicer.tick(nowMs)) {
        if (one.track === 'audio') audioFrames += 1;
        else last = one.at;
      }
    }
    expect(Math.abs(splicer.at - 25 * 3600 * SAMPLE_RATE_HZ)).toBeLessThan(SAMPLE_RATE_HZ);
    expect(Math.abs(audioFrames * AAC_FRAME_SAMPLES - splicer.at)).toBeLessThan(SAMPLE_RATE_HZ);
  });
});
