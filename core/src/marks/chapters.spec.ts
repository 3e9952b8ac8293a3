import { toChapters } from './chapters';

const chapters = (moments: readonly (readonly [number, string])[], lengthMs = 3_600_000) =>
  toChapters(
    moments.map(([showTimeMs, words]) => ({ showTimeMs, words })),
    lengthMs,
    (n) => `Moment ${n}`,
  );

describe('chapters', () => {
  it('go from each marked moment to the next, the last to the end', () => {
    expect(
      chapters(
        [
          [65_000, 'The mill'],
          [5000, ''],
        ],
        90_000,
      ),
    ).toBe(
      'WEBVTT\n\n00:00:05.000 --> 00:01:05.000\nMoment 1\n\n00:01:05.000 --> 00:01:30.000\nThe mill\n\n',
    );
  });

  it('are none without marks, and leave out what is of another run', () => {
    expect(chapters([])).toBe('WEBVTT\n\n');
    expect(chapters([[100_000, 'of another']], 90_000)).toBe('WEBVTT\n\n');
  });

  it('keep what was marked just before the end, though the clocks do not agree', () => {
    expect(chapters([[91_000, 'last words']], 90_000)).toBe(
      'WEBVTT\n\n00:01:31.000 --> 00:01:32.000\nlast words\n\n',
    );
  });

  it('hold no cue of their own in a name, and no two at one moment', () => {
    const file = chapters([
      [1000, 'a\n\n00:00 --> 00:01\n<b>'],
      [1400, 'twice pressed'],
    ]);
    expect(file.match(/-->/g)!.length).toBe(1);
    expect(file).toContain('a 00:00 --&gt; 00:01 &lt;b&gt;');
  });
});
