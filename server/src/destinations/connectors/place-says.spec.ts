import { embedUrl } from './embed-url';
import { Health } from './place-health';

const SAID = {
  video: { codec: 'h264', profile: 77, level: 31, width: 1280, height: 720 },
  audio: { codec: 'aac' },
  framesPerS: 29.9,
  kbps: 3900.4,
  keyframeS: 2,
  warnings: ['no sound'],
};

describe('what a place says of what it receives', () => {
  it('is read in its figures, and the rest is left alone', () =>
    expect(Health.parse(SAID)).toEqual({
      ...{ width: 1280, height: 720, framesPerS: 29.9, kbps: 3900, keyframeS: 2, warnings: ['no sound'] },
    }));

  it('may be that it knows no picture yet', () =>
    expect(Health.parse({ ...SAID, video: null, keyframeS: null })).toEqual(
      jasmine.objectContaining({ width: null, height: null, keyframeS: null }),
    ));

  for (const [what, said] of [
    ['nothing', undefined],
    ['null', null],
    ['another form', { quality: 'good' }],
    ['too many words', { ...SAID, warnings: Array.from({ length: 100 }, () => 'w') }],
    ['figures that are none', { ...SAID, kbps: 'many' }],
  ] as const)
    it(`is no trouble where it is ${what}`, () => expect(Health.parse(said) ?? null).toBeNull());
});

describe('the player that a place serves for pages of others', () => {
  const target = { id: 'd', address: 'https://place.example', secret: '', placement: null };
  for (const [embed, url] of [
    ['/embed/7/', 'https://place.example/embed/7/'],
    ['https://player.example/7', 'https://player.example/7'],
    [null, null],
    [undefined, null],
    ['javascript:alert(1)', null],
    ['data:text/html,x', null],
    ['https://[', null],
  ] as const)
    it(`is ${url ?? 'none'} for ${embed}`, () => expect(embedUrl(target, embed)).toBe(url));
});
