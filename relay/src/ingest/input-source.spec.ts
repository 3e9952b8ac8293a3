import { videoConfigurationTag, videoTag } from '@juncta/core/media/flv';
import { SLOW_MACHINE } from '@juncta/core/renditions';
import { randomUUID } from 'node:crypto';
import pino from 'pino';
import type { ProgrammeInput } from '../programme/source';
import type { EncoderLine } from './input';
import { InputSource } from './input-source';

const bytesOf = (hex: string) => Uint8Array.from(hex.match(/../g)!, (pair) => parseInt(pair, 16));
const PPS = Uint8Array.of(0x68, 0xee, 0x3c, 0x80);
const SMALL = { sps: bytesOf('674d401feca02802dd8088000003000800000301e078c18cb0'), pps: PPS };
const LARGE = { sps: bytesOf('6764002aacd940780227e5c044000003000400000301e03c60c658'), pps: PPS };
const KEY = Uint8Array.of(0x65, 1, 2, 3);
const SLICE = Uint8Array.of(0x41, 4, 5, 6);

describe('an outside picture as a source', () => {
  let got: string[];
  let source: InputSource;
  let line: EncoderLine;
  let timeMs: number;
  beforeEach(() => {
    got = [];
    timeMs = 0;
    const programme: ProgrammeInput = {
      size: null,
      begin: () => got.push('begin'),
      gap: () => got.push('gap'),
      takeVideo: ({ key }) => got.push(key ? 'key' : 'frame'),
      takeAudio: () => got.push('audio'),
      slate: () => got.push('slate'),
    };
    const booking = {
      inputId: randomUUID(),
      keyHash: '00'.repeat(32),
      second: 'refused',
      onArrival: 'waits',
      srt: null,
    } as const;
    const wants = { width: 1280, height: 720, rateHz: 30, leastKbps: 0, mostKbps: 4000 };
    source = new InputSource(booking, wants, programme, {
      cost: SLOW_MACHINE,
      log: pino({ level: 'silent' }),
      changed: () => undefined,
      arrived: () => undefined,
      slate: () => Promise.resolve(null),
    });
    come();
  });
  afterEach(() => source.close());

  const come = () => {
    line = { isSecure: false, madeFrom: null, end: () => undefined };
    source.input.begin(line);
  };
  const configure = (sets: typeof SMALL) => source.input.take(videoConfigurationTag(sets, timeMs), line);
  const frames = (count: number) => {
    for (let i = 0; i < count; i++, timeMs += 33)
      source.input.take(videoTag([i === 0 ? KEY : SLICE], i === 0, timeMs), line);
  };
  const judge = () => source.tick(performance.now() + 1000);
  const take = () => got.splice(0);

  it('passes nothing on before it is wanted, and from its next keyframe on then', () => {
    configure(SMALL);
    frames(40);
    judge();
    expect(source.input.carriage).toEqual({ video: false, audio: false });
    expect(take()).toEqual([]);
    source.want(true);
    judge();
    expect(take()).toEqual(['begin']);
    frames(3);
    expect(take()).toEqual(['key', 'frame', 'frame']);
    source.want(false);
    frames(3);
    expect(take()).toEqual(['gap']);
  });

  it('passes no frame of another size on when it changes in mid-stream', () => {
    source.want(true);
    configure(SMALL);
    frames(40);
    judge();
    take();
    configure(LARGE);
    frames(40);
    const passed = take();
    expect(passed.filter((one) => one === 'key' || one === 'frame')).toEqual([]);
    // It is being made to fit.
    expect(source.input.carriage).toEqual({ video: true, audio: false });
    expect(passed).toContain('begin');
  });

  it('is on at once when it comes back as it was, and looked at first when it comes as another', () => {
    source.want(true);
    configure(SMALL);
    frames(40);
    judge();
    source.input.leave(line);
    take();
    come();
    configure(SMALL);
    frames(2);
    expect(take()).toEqual(['begin', 'key', 'frame']);
    source.input.leave(line);
    take();
    come();
    configure({ ...SMALL, pps: Uint8Array.of(0x68, 1) });
    frames(2);
    expect(take()).toEqual([]);
  });
});
