import type { ArrivalFigures, AudioFigures, VideoFigures } from './arrival';
import { judgeArrival, type IngestFindingCode, type IngestLevel } from './judge';

const WANTS = { width: 1280, height: 720, rateHz: 30, leastKbps: 900, mostKbps: 4000 };
const SEQUENCE: NonNullable<VideoFigures['sequence']> = {
  profileIdc: 77,
  levelIdc: 31,
  width: 1280,
  height: 720,
  chroma: '4:2:0',
  bitDepth: 8,
  isInterlaced: false,
};
const VIDEO: VideoFigures = {
  codec: 'h264',
  madeFrom: null,
  sequence: SEQUENCE,
  isUnreadable: false,
  rateHz: 30,
  isVariable: false,
  keyframeS: 2,
  isReordered: false,
  kbps: 3000,
  lateMs: 20,
};
const AUDIO: AudioFigures = { codec: 'aac', rateHz: 48_000, channels: 2, kbps: 128, isSilent: false };
const arrival = (
  video: Partial<VideoFigures> | null = {},
  audio: Partial<AudioFigures> | null = {},
  change: Partial<ArrivalFigures> = {},
): ArrivalFigures => ({
  video: video && { ...VIDEO, ...video },
  audio: audio && { ...AUDIO, ...audio },
  gaps: 0,
  jumps: 0,
  ...change,
});
const sized = (change: Partial<typeof SEQUENCE>) => ({ sequence: { ...SEQUENCE, ...change } });

describe('what is said of an outside picture', () => {
  it('is nothing where all fits, and it is copied', () =>
    expect(judgeArrival(arrival(), WANTS)).toEqual({
      findings: [],
      carriage: { video: false, audio: false },
    }));

  const CASES: readonly (readonly [string, ArrivalFigures, IngestFindingCode, IngestLevel, unknown])[] = [
    ['no video', arrival(null), 'no_video', 'block', null],
    ['H.265', arrival({ codec: 'h265', sequence: null }), 'codec_not_taken', 'block', null],
    [
      'parameters that cannot be read',
      arrival({ sequence: null, isUnreadable: true }),
      'unreadable',
      'block',
      null,
    ],
    ['no keyframe for long', arrival({ keyframeS: 14 }), 'no_keyframe', 'block', null],
    [
      'keyframes far apart',
      arrival({ keyframeS: 10 }),
      'keyframes_far',
      'converted',
      { video: true, audio: false },
    ],
    [
      'interlaced',
      arrival(sized({ isInterlaced: true })),
      'interlaced',
      'converted',
      { video: true, audio: false },
    ],
    ['4:2:2', arrival(sized({ chroma: '4:2:2' })), 'colour', 'converted', { video: true, audio: false }],
    ['10 bit', arrival(sized({ bitDepth: 10 })), 'colour', 'converted', { video: true, audio: false }],
    [
      'another size',
      arrival(sized({ width: 1920, height: 1080 })),
      'size',
      'converted',
      { video: true, audio: false },
    ],
    [
      '48 frames a second',
      arrival({ rateHz: 47.96 }),
      'rate_high',
      'converted',
      { video: true, audio: false },
    ],
    ['12 frames a second', arrival({ rateHz: 12 }), 'rate_low', 'warning', { video: false, audio: false }],
    [
      'uneven frames',
      arrival({ isVariable: true }),
      'rate_varies',
      'converted',
      { video: true, audio: false },
    ],
    ['B-frames', arrival({ isReordered: true }), 'reordered', 'converted', { video: true, audio: false }],
    [
      'more than places take',
      arrival({ kbps: 6000 }),
      'too_much',
      'converted',
      { video: true, audio: false },
    ],
    ['very little', arrival({ kbps: 300 }), 'too_little', 'warning', { video: false, audio: false }],
    ['no audio', arrival({}, null), 'no_audio', 'warning', { video: false, audio: false }],
    ['silence', arrival({}, { isSilent: true }), 'silent', 'warning', { video: false, audio: false }],
    [
      'MP3',
      arrival({}, { codec: 'mp3', rateHz: null, channels: null }),
      'audio_codec',
      'converted',
      { video: false, audio: true },
    ],
    ['44.1 kHz', arrival({}, { rateHz: 44_100 }), 'audio_rate', 'converted', { video: false, audio: true }],
    ['mono', arrival({}, { channels: 1 }), 'audio_channels', 'converted', { video: false, audio: true }],
    ['gaps', arrival({}, {}, { gaps: 3 }), 'gaps', 'warning', { video: false, audio: false }],
    [
      'a clock that jumps',
      arrival({}, {}, { jumps: 1 }),
      'clock_jumps',
      'warning',
      { video: false, audio: false },
    ],
  ];
  for (const [what, comes, code, level, carriage] of CASES) {
    it(`names ${what}`, () => {
      const verdict = judgeArrival(comes, WANTS);
      expect(verdict.findings.map((one) => [one.code, one.level])).toEqual([[code, level]]);
      expect<unknown>(verdict.carriage).toEqual(carriage);
    });
  }

  it('lets 25 frames and a little too many kilobits pass as they are', () =>
    expect(judgeArrival(arrival({ rateHz: 25, kbps: 4400, keyframeS: 2.5 }), WANTS).findings).toEqual([]));

  it('is not decided before its rate and size are known', () => {
    expect(judgeArrival(arrival({ rateHz: null }), WANTS).carriage).toBeNull();
    expect(judgeArrival(arrival({ sequence: null }), WANTS).carriage).toBeNull();
  });

  it('says figures as people do', () => {
    const [rate] = judgeArrival(arrival({ rateHz: 59.94 }), WANTS).findings;
    expect([rate!.has, rate!.wants]).toEqual([60, 30]);
    const [size] = judgeArrival(arrival(sized({ width: 1920, height: 1080 })), WANTS).findings;
    expect([size!.has, size!.wants]).toEqual(['1920x1080', '1280x720']);
  });
});
