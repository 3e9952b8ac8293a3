import { AAC_FRAME_SAMPLES } from '../media/audio/adts';
import { SilenceDetector } from './silence-detector';

const frame = (bytes: number) => new Uint8Array(bytes);
const S = 48_000;

describe('the detector on what goes out', () => {
  it('says nothing before anything was heard: a show may begin in silence', () => {
    const detector = new SilenceDetector();
    for (let at = 0; at < 60 * S; at += AAC_FRAME_SAMPLES) detector.hear(frame(6), at);
    expect(detector.silentMs(60 * S)).toBeNull();
  });

  // What ffmpeg's encoder makes of silence, of noise at -62 dBFS, of a tone at -34 dBFS, and of speech.
  for (const [what, bytes, silent] of [
    ['silence', 6, true],
    ['faint noise', 420, false],
    ['a faint tone', 96, false],
    ['speech', 430, false],
  ] as const) {
    it(`takes ${what} for ${silent ? 'silence' : 'something that is heard'}`, () => {
      const detector = new SilenceDetector();
      detector.hear(frame(430), 0);
      detector.hear(frame(bytes), 2 * S);
      expect(detector.silentMs(3 * S)).toBe(silent ? 3000 : 1000);
    });
  }

  it('counts from where it was last meant to be silent', () => {
    const detector = new SilenceDetector();
    detector.rest(S);
    expect(detector.silentMs(2 * S))
      .withContext('nothing was heard before either')
      .toBeNull();
    detector.hear(frame(430), 2 * S);
    detector.rest(30 * S);
    expect(detector.silentMs(31 * S)).toBe(1000);
  });

  it('begins afresh with a show', () => {
    const detector = new SilenceDetector();
    detector.hear(frame(430), 0);
    detector.forget();
    expect(detector.silentMs(S)).toBeNull();
  });

  it('never counts backwards', () => {
    const detector = new SilenceDetector();
    detector.hear(frame(430), 2 * S);
    expect(detector.silentMs(S)).toBe(0);
  });
});
