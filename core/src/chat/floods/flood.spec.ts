import { belongs } from './flood-count';
import { traitsOf } from './traits';
import { COPIED, FLOODED_HOURS, Hour, QUIET_HOURS, scoreHours, varied } from './labelled-hours';

describe('floods', () => {
  for (const [what, make] of Object.entries(QUIET_HOURS)) {
    it(`are none in ${what}`, () => {
      const { foundAtMs, taken } = make().watch();
      expect(foundAtMs).toEqual([]);
      expect(taken).toEqual([]);
    });
  }

  for (const [what, make] of Object.entries(FLOODED_HOURS)) {
    it(`are found within five seconds: ${what}`, () => {
      const hour = make();
      const { foundAtMs, taken } = hour.watch();
      const begun = Math.min(
        ...hour.messages.filter(({ id }) => hour.flooded.has(id)).map(({ atMs }) => atMs),
      );
      expect(foundAtMs.length).toBe(1);
      expect(foundAtMs[0]! - begun).toBeLessThanOrEqual(5000);
      expect(foundAtMs[0]! - begun).toBeGreaterThanOrEqual(0);
      const right = taken.filter((id) => hour.flooded.has(id)).length;
      expect(right / hour.flooded.size)
        .withContext('of the flood, taken for it')
        .toBeGreaterThan(0.95);
      expect(taken.length - right)
        .withContext('others, taken for it')
        .toBeLessThanOrEqual(2);
      expect(new Set(taken).size).withContext('each told once').toBe(taken.length);
    });
  }

  it('are over twenty seconds after the last of them, and may come again', () => {
    const hour = new Hour(20)
      .talk(30, 100)
      .flood(600, 5, 10, () => COPIED, 20)
      .flood(900, 5, 10, varied, 20);
    expect(hour.watch().foundAtMs.map((atMs) => Math.floor(atMs / 300_000))).toEqual([2, 3]);
  });

  it('are told by what they say and by who takes part', () => {
    const { watch } = new Hour(21).flood(10, 6, 10, () => COPIED, 20).watch();
    const { traits, authors, messages, writers, samples } = watch.current!;
    expect([messages, writers, authors.length]).toEqual([60, 20, 20]);
    expect(samples).toEqual([COPIED]);
    expect(belongs({ traits, authors }, 'somebody', `hey, ${COPIED}`)).toBeTrue();
    expect(belongs({ traits, authors }, 'f3', 'and something else')).toBeTrue();
    expect(belongs({ traits, authors }, 'somebody', 'how do you bake rye bread at home')).toBeFalse();
  });

  it('are quoted by what most of them say, never by what somebody asked beside them', () => {
    const asked = 'how much salt goes into the rye loaf of yours?';
    const { watch } = new Hour(23)
      .wave(9, 3, 3, [asked])
      .flood(10, 6, 10, (i) => (i % 4 === 0 ? `psst ${COPIED}` : COPIED), 20)
      .watch();
    expect(watch.current!.samples).toEqual([COPIED, `psst ${COPIED}`]);
    expect(belongs(watch.current!, 'somebody', asked)).toBeFalse();
    expect(belongs(watch.current!, 'somebody', 'why do all write leave this boring show')).toBeFalse();
  });

  it('are told from what is none in all hours made for it', () => {
    const { precision, recall } = scoreHours();
    expect(precision).toBeGreaterThan(0.95);
    expect(recall).toBeGreaterThan(0.95);
  });

  it('have no traits in short texts', () => {
    for (const text of ['', 'hello', 'hello to you', '👏'.repeat(50), '!!!', 'A B']) {
      expect(traitsOf(text)).withContext(text).toEqual([]);
    }
  });
});
