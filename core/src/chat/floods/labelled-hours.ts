import { FloodWatch } from './flood';
import type { FloodMessage } from './flood-count';

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
export class Hour {
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

export const COPIED = 'join the real baking channel at better-bread and leave this boring show';

/** Hours in which there is no flood, however loud they are. */
export const QUIET_HOURS: Readonly<Record<string, () => Hour>> = {
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
  'long greetings from everywhere at the start': () =>
    new Hour(9)
      .talk(10, 100)
      .wave(3, 10, 60, [
        'good evening everybody from rainy Porto',
        'hello everybody and greetings from the coast',
        'hello everybody and greetings from the hills',
        'guten Abend zusammen aus dem kalten Norden',
        'bonsoir tout le monde depuis la Bretagne',
      ]),
  'one question that everybody has at the start': () =>
    new Hour(10)
      .talk(10, 100)
      .wave(4, 9, 40, [
        'when does the show begin this evening?',
        'When does the show begin this evening please?',
        'is there no sound or is it me?',
        'ist da kein Ton oder liegt es an mir?',
      ]),
  'a question that some ask twice because nobody answers': () =>
    new Hour(22)
      .talk(30, 200)
      .wave(900, 12, 14, ['which mill do you use at home?'])
      .wave(925, 12, 5, ['which mill do you use at home?']),
};

export const varied = (i: number) => `${WORDS[i % WORDS.length]} ${COPIED} ${i}`;
const disguised = (i: number) =>
  i % 3 === 0
    ? COPIED.toUpperCase()
    : i % 3 === 1
      ? COPIED.replaceAll('e', 'е')
      : COPIED.split('').join(i % 2 ? '\u200b' : '');
/** Hours with one flood, and with others in it who are no part of it. */
export const FLOODED_HOURS: Readonly<Record<string, () => Hour>> = {
  'forty who copy one text': () => new Hour(11).talk(60, 300).flood(1200, 6, 30, () => COPIED, 40),
  'a quiet show where ten copy one text': () => new Hour(12).talk(2, 10).flood(1200, 2, 30, () => COPIED, 10),
  'a text that is varied a little each time': () => new Hour(13).talk(60, 300).flood(1200, 5, 30, varied, 60),
  'a disguised text': () => new Hour(14).talk(60, 300).flood(1200, 6, 30, disguised, 40),
  'one writer who does not let up': () =>
    new Hour(15).talk(30, 300).flood(1200, 3, 20, (i) => `you ${WORDS[(i * 7) % WORDS.length]}`, 1),
  'a wall of signs that many copy': () =>
    new Hour(16).talk(30, 300).flood(1200, 5, 20, () => '▀▄▀▄█▓▒░▒▓█▄▀▄▀ ⣿⣶⣤⣀ ▀▄▀▄█▓▒░', 30),
  'the first minute of a show': () => new Hour(17).talk(10, 20).flood(30, 5, 20, () => COPIED, 20),
  'a very loud hour': () => new Hour(18).talk(900, 1000).flood(1800, 40, 20, () => COPIED, 300),
  'a flood while many ask the same question': () =>
    new Hour(31)
      .talk(60, 300)
      .wave(1195, 25, 12, [
        'how much salt goes into the rye loaf?',
        'how much salt goes into a rye loaf please?',
      ])
      .flood(1200, 6, 20, () => COPIED, 40),
  'a flood into which viewers greet at length': () =>
    new Hour(32)
      .talk(20, 100)
      .wave(28, 20, 30, [
        'hello everybody and greetings from the coast',
        'good evening everybody from rainy Porto',
      ])
      .flood(30, 6, 20, varied, 40),
  'a flood that viewers complain about': () =>
    new Hour(33)
      .talk(60, 300)
      .flood(1200, 6, 20, () => COPIED, 40)
      .wave(1206, 14, 12, [
        'why does everybody write about the real baking channel now',
        'stop this, nobody will join the real thing anyway',
        'can a moderator please do something about this copying',
      ]),
  'each of many accounts writes once': () =>
    new Hour(34).talk(60, 300).flood(1200, 6, 10, () => `${COPIED} better-bread.example/now`, 60),
};

/** How well floods are told from what is none, over all hours. */
export interface FloodScore {
  /** Of what was taken for a flood, what is one. */
  readonly precision: number;
  /** Of all floods' messages, what was taken for one. */
  readonly recall: number;
  readonly messages: number;
}

export function scoreHours(): FloodScore {
  let [taken, right, flooded, messages] = [0, 0, 0, 0];
  for (const make of [...Object.values(QUIET_HOURS), ...Object.values(FLOODED_HOURS)]) {
    const hour = make();
    const found = hour.watch().taken;
    taken += found.length;
    right += found.filter((id) => hour.flooded.has(id)).length;
    flooded += hour.flooded.size;
    messages += hour.messages.length;
  }
  return { precision: right / taken, recall: right / flooded, messages };
}
