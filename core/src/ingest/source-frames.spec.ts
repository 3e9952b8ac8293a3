import { videoConfigurationTag, videoTag, readBody, type MediaBody } from '../media/flv';
import { findParameterSets } from '../media/h264';
import type { SourceAudioFrame, SourceVideoFrame } from '../programme';
import { SourceFrames } from './source-frames';

const SETS = { sps: Uint8Array.of(0x67, 77, 0, 31, 1), pps: Uint8Array.of(0x68, 2) };
const KEY = Uint8Array.of(0x65, 1, 2, 3);
const SLICE = Uint8Array.of(0x41, 4, 5);

describe('SourceFrames', () => {
  let video: SourceVideoFrame[];
  let audio: SourceAudioFrame[];
  let frames: SourceFrames;
  beforeEach(() => {
    [video, audio] = [[], []];
    frames = new SourceFrames(
      (frame) => video.push(frame),
      (frame) => audio.push(frame),
    );
  });
  const bodyOf = (tag: Parameters<typeof readBody>[0]): MediaBody => readBody(tag)!;
  const sound = (atMs: number) =>
    frames.take({ track: 'audio', codec: 'aac', part: 'frame', data: Uint8Array.of(9) }, atMs);

  it('puts the parameter sets before every keyframe, which encoders send once', () => {
    frames.take(bodyOf(videoConfigurationTag(SETS, 0)), 0);
    frames.take(bodyOf(videoTag([KEY], true, 0)), 0);
    frames.take(bodyOf(videoTag([SLICE], false, 33)), 33);
    frames.take(bodyOf(videoTag([SETS.sps, SETS.pps, KEY], true, 2000)), 2000);
    expect(video.map(({ time, key, units }) => [time, key, units.length])).toEqual([
      [0, true, 3],
      [1584, false, 1],
      [96_000, true, 3],
    ]);
    expect(findParameterSets(video[0]!.units)).toEqual(SETS);
  });

  it('shows no keyframe whose parameters nobody knows', () => {
    frames.take(bodyOf(videoTag([KEY], true, 0)), 0);
    expect(video).toEqual([]);
  });

  it('counts audio instead of believing its whole ms', () => {
    for (const atMs of [0, 21, 43, 64, 85, 107]) sound(atMs);
    expect(audio.map(({ time }) => time)).toEqual([0, 1024, 2048, 3072, 4096, 5120]);
  });

  it('moves audio where a piece of it is missing', () => {
    for (const atMs of [0, 21, 500, 521]) sound(atMs);
    expect(audio.map(({ time }) => time)).toEqual([0, 1024, 24_000, 25_024]);
  });

  it('refuses what is damaged', () => {
    const body = { track: 'video', codec: 'h264', key: false, laterMs: 0 } as const;
    expect(() => frames.take({ ...body, part: 'frame', data: Uint8Array.of(0, 0, 9, 9, 1) }, 0)).toThrowError(
      RangeError,
    );
    expect(() => frames.take({ ...body, part: 'configuration', data: Uint8Array.of(1, 2) }, 0)).toThrowError(
      RangeError,
    );
  });
});
