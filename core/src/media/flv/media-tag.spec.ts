import fc from 'fast-check';
import { TAG } from './flv';
import { readBody } from './media-tag';

const letters = (text: string) => Array.from(text, (letter) => letter.charCodeAt(0));
const video = (...body: number[]) =>
  readBody({ kind: TAG.videoFrame, timeMs: 0, body: Uint8Array.from(body) });
const audio = (...body: number[]) =>
  readBody({ kind: TAG.audioFrame, timeMs: 0, body: Uint8Array.from(body) });

describe('the body of a tag', () => {
  const VIDEO: readonly (readonly [string, number[], object | null])[] = [
    [
      'H.264 parameters',
      [0x17, 0, 0, 0, 0, 9],
      { codec: 'h264', part: 'configuration', key: true, laterMs: 0 },
    ],
    ['a keyframe', [0x17, 1, 0, 0, 0, 9], { codec: 'h264', part: 'frame', key: true, laterMs: 0 }],
    [
      'a frame that is shown later',
      [0x27, 1, 0, 0, 66, 9],
      { codec: 'h264', part: 'frame', key: false, laterMs: 66 },
    ],
    [
      'a frame that is shown sooner',
      [0x27, 1, 0xff, 0xff, 0xdf, 9],
      { codec: 'h264', part: 'frame', laterMs: -33 },
    ],
    ['the end', [0x17, 2, 0, 0, 0], { codec: 'h264', part: 'end' }],
    ['an old codec', [0x22, 1, 2], { codec: 'other', part: 'frame', key: false }],
    ['H.265, enhanced', [0x90, ...letters('hvc1'), 7], { codec: 'h265', part: 'configuration', key: true }],
    [
      'a frame of H.265 with its offset',
      [0xa1, ...letters('hvc1'), 0, 0, 40, 7],
      { codec: 'h265', part: 'frame', key: false, laterMs: 40 },
    ],
    [
      'a frame of H.265 without',
      [0x93, ...letters('hvc1'), 7],
      { codec: 'h265', part: 'frame', key: true, laterMs: 0 },
    ],
    ['a frame of AV1', [0x91, ...letters('av01'), 7], { codec: 'av1', part: 'frame', key: true }],
    ['a codec that nobody knows', [0x91, ...letters('zzzz'), 7], { codec: 'other', part: 'frame' }],
    ['metadata of colours', [0x94, ...letters('hvc1'), 7], null],
    ['cut short', [0x17, 1, 0], null],
    ['cut short before its letters end', [0x91, 0x68, 0x76], null],
  ];
  for (const [what, body, wanted] of VIDEO) {
    it(`is ${what}`, () => {
      const read = video(...body);
      if (wanted === null) expect(read).toBeNull();
      else expect<unknown>(read).toEqual(jasmine.objectContaining(wanted));
    });
  }

  const AUDIO: readonly (readonly [string, number[], object | null])[] = [
    [
      'AAC’s configuration',
      [0xaf, 0, 0x11, 0x90],
      { codec: 'aac', part: 'configuration', data: Uint8Array.of(0x11, 0x90) },
    ],
    ['a frame of AAC', [0xaf, 1, 5], { codec: 'aac', part: 'frame', data: Uint8Array.of(5) }],
    ['a frame of MP3', [0x2f, 5], { codec: 'mp3', part: 'frame' }],
    [
      'a frame of Opus, enhanced',
      [0x91, ...letters('Opus'), 5],
      { codec: 'opus', part: 'frame', data: Uint8Array.of(5) },
    ],
    [
      'a configuration of AAC, enhanced',
      [0x90, ...letters('mp4a'), 5],
      { codec: 'aac', part: 'configuration' },
    ],
    ['how channels lie', [0x94, ...letters('Opus'), 5], null],
    ['empty', [], null],
  ];
  for (const [what, body, wanted] of AUDIO) {
    it(`is ${what}`, () => {
      const read = audio(...body);
      if (wanted === null) expect(read).toBeNull();
      else expect<unknown>(read).toEqual(jasmine.objectContaining(wanted));
    });
  }

  it('is read, whatever it holds', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(TAG.videoFrame, TAG.audioFrame, TAG.data),
        fc.uint8Array({ maxLength: 12 }),
        (kind, body) => {
          expect(() => readBody({ kind, timeMs: 0, body })).not.toThrow();
        },
      ),
    );
  });
});
