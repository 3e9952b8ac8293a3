import { AAC_FRAME_SAMPLES } from './adts';
import { Ear } from './ear';

const frame = (bytes: number) => new Uint8Array(bytes);
const S = 48_000;

describe('the ear on what goes out', () => {
  it('says nothing before anything was heard: a show may begin in silence', () => {
    const ear = new Ear();
    for (let at = 0; at < 60 * S; at += AAC_FRAME_SAMPLES) ear.hear(frame(6), at);
    expect(ear.silentMs(60 * S)).toBeNull();
  });

  // What ffmpeg's encoder makes of silence, of noise at -62 dBFS, of a tone at -34 dBFS, and of speech.
  for (const [what, bytes, silent] of [
    ['silence', 6, true],
    ['faint noise', 420, false],
    ['a faint tone', 96, false],
    ['speech', 430, false],
  ] as const) {
    it(`takes ${what} for ${silent ? 'silence' : 'something that is heard'}`, () => {
      const ear = new Ear();
      ear.hear(frame(430), 0);
      ear.hear(frame(bytes), 2 * S);
      expect(ear.silentMs(3 * S)).toBe(silent ? 3000 : 1000);
    });
  }

  it('counts from where it was last meant to be silent', () => {
    const ear = new Ear();
    ear.rest(S);
    expect(ear.silentMs(2 * S))
      .withContext('nothing was heard before either')
      .toBeNull();
    ear.hear(frame(430), 2 * S);
    ear.rest(30 * S);
    expect(ear.silentMs(31 * S)).toBe(1000);
  });

  it('begins afresh with a show', () => {
    const ear = new Ear();
    ear.hear(frame(430), 0);
    ear.forget();
    expect(ear.silentMs(S)).toBeNull();
  });

  it('never counts backwards', () => {
    const ear = new Ear();
    ear.hear(frame(430), 2 * S);
    expect(ear.silentMs(S)).toBe(0);
  });
});
