import fc from 'fast-check';
import { TAG, type TagKind } from '../media/flv/flv';
import type { ProgrammeTag } from '../programme';
import { MOST_LATE_MS, MOST_WAIT_MS, TrackMerge } from './track-merge';

const tag = (kind: TagKind, timeMs: number, key = false): ProgrammeTag => ({
  kind,
  timeMs,
  body: new Uint8Array(0),
  key,
});
const video = (timeMs: number, key = false) => tag(TAG.videoFrame, timeMs, key);
const audio = (timeMs: number) => tag(TAG.audioFrame, timeMs);
const named = (tags: readonly ProgrammeTag[]) =>
  tags.map(({ kind, timeMs }) => `${kind === TAG.videoFrame ? 'v' : 'a'}${timeMs}`);

describe('encoded video and the programme’s audio', () => {
  it('come in one order of time, and audio waits for its video', () => {
    const merge = new TrackMerge();
    expect(named(merge.pushAudio(audio(0)))).toEqual([]);
    expect(named(merge.pushAudio(audio(21)))).toEqual([]);
    expect(named(merge.pushVideo(video(0)))).toEqual(['v0', 'a0']);
    expect(named(merge.pushAudio(audio(43)))).toEqual([]);
    expect(named(merge.pushVideo(video(33)))).toEqual(['a21', 'v33']);
  });

  it('go on without video that does not come, and video that is late rises by itself', () => {
    const merge = new TrackMerge();
    merge.pushVideo(video(0));
    const out: string[] = [];
    for (let at = 0; at <= 3000; at += 20) out.push(...named(merge.pushAudio(audio(at))));
    expect(out.at(-1)).toBe(`a${3000 - MOST_WAIT_MS}`);
    expect(named(merge.pushVideo(video(1000)))).toEqual(['v1000']);
    expect(named(merge.pushVideo(video(1000)))).toEqual([]);
    expect(named(merge.pushVideo(video(900)))).toEqual([]);
  });

  it('leave out video that comes far too late, and go on at a keyframe that does not', () => {
    const merge = new TrackMerge();
    for (let at = 0; at <= 10_000; at += 20) merge.pushAudio(audio(at));
    const out = 10_000 - MOST_WAIT_MS;
    const late = out - MOST_LATE_MS - 20;
    expect(named(merge.pushVideo(video(late, true)))).toEqual([]);
    expect(named(merge.pushVideo(video(late + 40)))).toEqual([]);
    expect(named(merge.pushVideo(video(late + 80, true)))).toEqual([`v${late + 80}`]);
    expect(named(merge.pushVideo(video(late + 120)))).toEqual([`v${late + 120}`]);
  });

  it('lose nothing, and no track goes back, however late video is', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 60 }), { minLength: 1, maxLength: 200 }), (late) => {
        const merge = new TrackMerge();
        const out: ProgrammeTag[] = [];
        let frame = 0;
        late.forEach((behind, i) => {
          out.push(...merge.pushAudio(audio(i * 21)));
          while (frame * 33 <= (i - behind) * 21) out.push(...merge.pushVideo(video(frame++ * 33)));
        });
        out.push(...merge.pushVideo(video(1_000_000)));
        for (const kind of [TAG.videoFrame, TAG.audioFrame]) {
          const times = out.filter((one) => one.kind === kind).map(({ timeMs }) => timeMs);
          expect(times).toEqual(times.toSorted((a, b) => a - b));
        }
        expect(out.length).toBe(late.length + frame + 1);
      }),
    );
  });
});
