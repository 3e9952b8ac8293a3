import fc from 'fast-check';
import { FeedQueue } from './feed-queue';
import { headerTags, LastGroup, tagOf, type ProgrammeTag } from '../programme/programme-tags';
import { isConfiguration, isKeyframe, TAG } from '../media/flv';
import { decodeAmf } from '../media/rtmp';

const tag = (i: number, bytes = 10): ProgrammeTag => ({
  kind: i % 3 === 2 ? TAG.audioFrame : TAG.videoFrame,
  timeMs: i * 20,
  key: i % 30 === 0,
  body: Uint8Array.from({ length: bytes }, () => 1),
});

describe('FeedQueue', () => {
  it('gives everything in order while its place keeps up', () => {
    const queue = new FeedQueue();
    const got: number[] = [];
    for (let i = 0; i < 300; i++) {
      queue.push(tag(i));
      got.push(...queue.take(1000).map(({ timeMs }) => timeMs));
    }
    expect(got).toEqual(Array.from({ length: 300 }, (_, i) => i * 20));
    expect(queue.leftOut).toEqual({ videoFrames: 0, audioFrames: 0 });
  });

  it('leaves nothing out of a burst of many seconds for whoever sends when it says that it is full', () => {
    const queue = new FeedQueue();
    const got: number[] = [];
    for (let i = 0; i < 1000; i++) {
      if (queue.isFullWith(tag(i))) got.push(...queue.take(Infinity).map(({ timeMs }) => timeMs));
      queue.push(tag(i));
    }
    // A jump of the programme's time is no different.
    const jump = { ...tag(1000), timeMs: 60_000 };
    expect(queue.isFullWith(jump)).toBeTrue();
    got.push(...queue.take(Infinity).map(({ timeMs }) => timeMs));
    expect(queue.isFullWith(jump)).toBeFalse();
    expect(got).toEqual(Array.from({ length: 1000 }, (_, i) => i * 20));
    expect(queue.leftOut).toEqual({ videoFrames: 0, audioFrames: 0 });
  });

  it('begins with a keyframe', () => {
    const queue = new FeedQueue();
    for (let i = 5; i < 40; i++) queue.push(tag(i));
    expect(queue.take(1)[0]!.key).toBeTrue();
  });

  it('stays within its bounds and hands out only what can be decoded', () => {
    fc.assert(
      fc.property(
        fc.array(fc.nat(60), { minLength: 20, maxLength: 400 }),
        fc.integer({ min: 10, max: 300 }),
        (takes, size) => {
          const limits = { bytes: 5000, ms: 1500 };
          const queue = new FeedQueue(limits);
          const got: ProgrammeTag[] = [];
          takes.forEach((take, i) => {
            queue.push(tag(i, size));
            expect(queue.bytes).toBeLessThanOrEqual(limits.bytes);
            expect(queue.spanMs).toBeLessThanOrEqual(limits.ms);
            if (take < 10) got.push(...queue.take(take * 40));
          });
          got.forEach((one, i) => {
            const before = got[i - 1];
            if (before) expect(one.timeMs).toBeGreaterThan(before.timeMs);
            // After something was left out the next is a keyframe.
            if (before ? one.timeMs !== before.timeMs + 20 : one.timeMs > 0) expect(one.key).toBeTrue();
          });
          const { videoFrames, audioFrames } = queue.leftOut;
          expect(got.length + queue.length + videoFrames + audioFrames).toBe(takes.length);
        },
      ),
    );
  });

  it('waits for a keyframe after it was emptied', () => {
    const queue = new FeedQueue();
    queue.push(tag(0));
    queue.clear();
    queue.push(tag(1));
    queue.push(tag(30));
    expect(queue.take(100).map(({ timeMs }) => timeMs)).toEqual([600]);
  });
});

describe('the last group of pictures', () => {
  it('is what follows the last keyframe', () => {
    const group = new LastGroup();
    group.push(tag(1));
    expect(group.tags).toEqual([]);
    for (let i = 30; i < 75; i++) group.push(tag(i));
    expect(group.tags.map(({ timeMs }) => timeMs)).toEqual(
      Array.from({ length: 15 }, (_, i) => (60 + i) * 20),
    );
  });

  it('does not grow without end', () => {
    const group = new LastGroup();
    for (let i = 0; i < 5000; i++) group.push({ ...tag(1), key: i === 0 });
    expect(group.tags.length).toBeLessThanOrEqual(2000);
  });
});

describe('tags of the programme', () => {
  const sets = { sps: Uint8Array.of(0x67, 0x42, 0xc0, 0x1f, 1), pps: Uint8Array.of(0x68, 1) };

  it('carry the timeline in ms, without drifting', () => {
    for (const [at, ms] of [
      [0, 0],
      [1600, 33],
      [48_000, 1000],
      [48_000 * 90_000, 90_000_000],
    ] as const) {
      expect(tagOf({ track: 'video', at, key: true, units: [sets.sps], from: 'source' }).timeMs).toBe(ms);
    }
  });

  it('say of pictures whether one can begin there', () => {
    const key = tagOf({ track: 'video', at: 0, key: true, units: [sets.sps], from: 'slate' });
    expect([key.key, isKeyframe(key)]).toEqual([true, true]);
    const audioFrame = tagOf({ track: 'audio', at: 0, frame: Uint8Array.of(7), from: 'source' });
    expect([audioFrame.key, audioFrame.kind, audioFrame.body.at(-1)]).toEqual([false, TAG.audioFrame, 7]);
  });

  it('begin with a description and both configurations', () => {
    const format = {
      width: 1280,
      height: 720,
      sets,
      audioConfig: Uint8Array.of(0x11, 0x90),
      videoKbps: 4000,
      audioKbps: 160,
    };
    const [description, videoFrame, audioFrame] = headerTags(format, 5);
    const [name, values] = decodeAmf(description!.body) as [string, Record<string, unknown>];
    expect([name, values['width'], values['videodatarate']]).toEqual(['onMetaData', 1280, 4000]);
    expect([isConfiguration(videoFrame!), isConfiguration(audioFrame!), videoFrame!.timeMs]).toEqual([
      true,
      true,
      5,
    ]);
  });
});
