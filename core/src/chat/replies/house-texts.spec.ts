import { fillHouseText, textDue, type TextTime } from './house-texts';

describe('texts that the house keeps ready', () => {
  const about = {
    title: 'Rye and patience',
    people: [
      { name: 'Odalys', part: 'host' },
      { name: 'Wanjiru', part: 'guest' },
      { name: 'Pascoe', part: 'guest' },
    ],
  };

  it('are filled in with the show, its people and whoever is answered', () => {
    const text = '{viewer}: {host} talks to {guests} about {title}';
    expect(fillHouseText(text, about, 'Ilse').text).toBe(
      'Ilse: Odalys talks to Wanjiru, Pascoe about Rye and patience',
    );
  });

  it('say what they do not know, and leave it out; a slip of the finger stays as it is', () => {
    const filled = fillHouseText('Hello {viewer}{gests}, {guests}', { ...about, people: [] }, null);
    expect(filled).toEqual({ text: 'Hello {gests}, ', unknown: ['gests'], missing: ['viewer', 'guests'] });
  });

  const START = 1_000_000;
  const before = (seconds: number): TextTime => ({ kind: 'before', seconds });
  const at = (seconds: number): TextTime => ({ kind: 'show', seconds });
  const cases: readonly [string, TextTime, number | null, number | null, number, string][] = [
    ['a welcome five minutes before, six minutes before', before(300), START, null, START - 360_000, 'waits'],
    ['a welcome five minutes before, to the second', before(300), START, null, START - 300_000, 'due'],
    ['a welcome of a show that is late', before(300), START, null, START + 900_000, 'due'],
    ['a welcome, the picture just on', before(300), START, 60_000, START, 'due'],
    ['a welcome in the middle of the show', before(300), START, 60_001, START + 60_000, 'missed'],
    ['a welcome of a show without a start', before(300), null, null, START, 'waits'],
    ['a link at twenty minutes, before', at(1200), START, 1_199_999, 0, 'waits'],
    ['a link at twenty minutes, then', at(1200), START, 1_200_000, 0, 'due'],
    ['a link at twenty minutes, later: the server was away', at(1200), START, 1_500_000, 0, 'due'],
    ['a link, with no show on', at(1200), START, null, START + 9_000_000, 'waits'],
  ];
  for (const [what, time, startsAtMs, showTimeMs, nowMs, wanted] of cases) {
    it(`${what}: ${wanted}`, () => {
      expect(textDue(time, startsAtMs, showTimeMs, nowMs)).toBe(wanted as never);
    });
  }
});
