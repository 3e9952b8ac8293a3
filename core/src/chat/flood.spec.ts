import { belongs, FloodWatch, traitsOf, type FloodMessage } from './flood';

/** Numbers in [0, 1) that are the same at every run (mulberry32). */
function seeded(seed: number): () => number {
  let state = seed >>> 0;
  return () => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 2 ** 32;
  };
}

const WORDS =
  'rye wheat spelt crumb crust oven stone mill bran germ starter levain salt water proof fold shape score steam bake cool slice loaf batch dough flour sieve grain field harvest'.split(
    ' ',
  );
const OPENINGS = [
  'what about',
  'how do you',
  'can one',
  'does it matter if',
  'at home i',
  'we once',
  'is it true that',
];

/** Messages of one hour, made for this: what they are is known, because they were made so. */
class Hour {
  readonly messages: FloodMessage[] = [];
  private readonly random: () => number;
  private count = 0;

  constructor(seed: number) {
    this.random = seeded(seed);
  }

  pick<T>(from: readonly T[]): T {
    return from[Math.floor(this.random() * from.length)]!;
  }

  say(atMs: number, author: string, text: string): void {
    this.messages.push({ id: `m${++this.count}`, author, text, atMs });
  }

  /** Talk in everybody's own words. */
  talk(perMinute: number, viewers: number, fromS = 0, toS = 3600): this {
    for (let atS = fromS; atS < toS; atS += (60 / perMinute) * 2 * this.random()) {
      const words = Array.from({ length: 1 + Math.floor(this.random() * 8) }, () => this.pick(WORDS));
      this.say(
        atS * 1000,
        `v${Math.floor(this.random() * viewers)}`,
        [this.pick(OPENINGS), ...words].join(' '),
      );
    }
    return this;
  }

  /** All at once, each once, from a few texts. */
  wave(atS: number, lengthS: number, count: number, texts: readonly string[]): this {
    for (let i = 0; i < count; i++) {
      this.say((atS + this.random() * lengthS) * 1000, `v${1000 + i}`, this.pick(texts));
    }
    return this;
  }

  flood(atS: number, perS: number, lengthS: number, text: (i: number) => string, writers: number): this {
    for (let i = 0; i < perS * lengthS; i++) {
      this.say((atS + i / perS) * 1000, `f${i % writers}`, text(i));
      this.flooded.add(`m${this.count}`);
    }
    return this;
  }

  readonly flooded = new Set<string>();

  /** When floods were found, ms, and what was taken for one. */
  watch() {
    const watch = new FloodWatch();
    const [foundAtMs, taken]: [number[], string[]] = [[], []];
    let on = false;
    for (const message of [...this.messages].sort((a, b) => a.atMs - b.atMs)) {
      watch.look(message.atMs);
      taken.push(...watch.take([message]));
      const { current } = watch;
      if (current && !on) foundAtMs.push(message.atMs);
      on = current !== null;
    }
    return { foundAtMs, taken, watch };
  }
}

const COPIED = 'join the real baking channel at better-bread and leave this boring show';

describe('floods', () => {
  const quiet: Record<string, () => Hour> = {
    'an hour in which hardly anybody writes': () => new Hour(1).talk(3, 12),
    'a lively hour': () => new Hour(2).talk(90, 300),
    'a loud hour of a thousand viewers': () => new Hour(3).talk(900, 1000),
    'greetings at the start': () =>
      new Hour(4)
        .talk(20, 200)
        .wave(5, 12, 160, ['hello', 'Hello everyone', 'good evening!', 'hi from the coast', 'guten Abend']),
    applause: () =>
      new Hour(5)
        .talk(30, 200)
        .wave(1800, 6, 250, [
          '👏👏👏',
          '👏'.repeat(30),
          'bravo',
          'BRAVO!!!!',
          '❤️❤️❤️❤️❤️❤️❤️❤️',
          'that was great',
        ]),
    'answers to a poll': () =>
      new Hour(6).talk(30, 300).wave(900, 10, 400, ['A', 'B', 'b', 'rye', 'wheat of course']),
    'everybody asking at once, each in their own words': () =>
      new Hour(7).talk(20, 300).talk(1500, 300, 1200, 1230),
    'the same question from nine people over a minute': () =>
      new Hour(8).talk(40, 300).wave(600, 60, 9, ['how much salt goes into the rye loaf']),
  };
  for (const [what, make] of Object.entries(quiet)) {
    it(`are none in ${what}`, () => {
      const { foundAtMs, taken } = make().watch();
      expect(foundAtMs).toEqual([]);
      expect(taken).toEqual([]);
    });
  }

  const varied = (i: number) => `${WORDS[i % WORDS.length]} ${COPIED} ${i}`;
  const disguised = (i: number) =>
    i % 3 === 0
      ? COPIED.toUpperCase()
      : i % 3 === 1
        ? COPIED.replaceAll('e', 'е')
        : COPIED.split('').join(i % 2 ? '\u200b' : '');
  const loud: Record<string, () => Hour> = {
    'forty who copy one text': () => new Hour(11).talk(60, 300).flood(1200, 6, 30, () => COPIED, 40),
    'a quiet show where ten copy one text': () =>
      new Hour(12).talk(2, 10).flood(1200, 2, 30, () => COPIED, 10),
    'a text that is varied a little each time': () =>
      new Hour(13).talk(60, 300).flood(1200, 5, 30, varied, 60),
    'a disguised text': () => new Hour(14).talk(60, 300).flood(1200, 6, 30, disguised, 40),
    'one writer who does not let up': () =>
      new Hour(15).talk(30, 300).flood(1200, 3, 20, (i) => `you ${WORDS[(i * 7) % WORDS.length]}`, 1),
    'a wall of signs that many copy': () =>
      new Hour(16).talk(30, 300).flood(1200, 5, 20, () => '▀▄▀▄█▓▒░▒▓█▄▀▄▀ ⣿⣶⣤⣀ ▀▄▀▄█▓▒░', 30),
    'the first minute of a show': () => new Hour(17).talk(10, 20).flood(30, 5, 20, () => COPIED, 20),
    'a very loud hour': () => new Hour(18).talk(900, 1000).flood(1800, 40, 20, () => COPIED, 300),
  };
  for (const [what, make] of Object.entries(loud)) {
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
    const { traits, authors, messages, writers, sample } = watch.current!;
    expect([messages, writers, sample, authors.length]).toEqual([60, 20, COPIED, 20]);
    expect(belongs({ traits, authors }, 'somebody', `hey, ${COPIED}`)).toBeTrue();
    expect(belongs({ traits, authors }, 'f3', 'and something else')).toBeTrue();
    expect(belongs({ traits, authors }, 'somebody', 'how do you bake rye bread at home')).toBeFalse();
  });

  it('have no traits in short texts', () => {
    for (const text of ['', 'hello', 'hello to you', '👏'.repeat(50), '!!!', 'A B']) {
      expect(traitsOf(text)).withContext(text).toEqual([]);
    }
  });
});
