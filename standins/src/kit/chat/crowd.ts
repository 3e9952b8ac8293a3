import type { ChatRoom, MessageKind } from './chat-room';

/**
 * The viewers of a made-up place: they come when there is a picture, write at the place's delay behind it, and go when
 * it ends. Seeded, so that a run can be repeated. Everybody and everything they say is made up.
 */
export interface CrowdRules {
  readonly seed: number;
  /** How far behind the programme they see it, now. */
  delayS(): number;
  /** How many there are once everybody has come. */
  readonly most: number;
  /** What is told of some of them besides. */
  readonly aside?: readonly Aside[];
}

/** What one of them does, or writes to the house alone, so many seconds after the first of them sees something. */
export interface Aside {
  readonly afterS: number;
  readonly who: number;
  readonly kind: Exclude<MessageKind, 'message'>;
  readonly text: string;
}

const NAMES = [
  'Ilse Vandermolen',
  'tarquin_b',
  'Rosalba Quint',
  'loaf.at.dawn',
  'Hedvig Strand',
  'Casimir Oduya',
  'Amparo Lisle',
  'knead2know',
  'Jorunn Petrak',
  'Matías Orellano',
  'Fenna W.',
  'Beatrix Holm',
];

/** Seconds after the first of them sees something, who, and what. Three ask the same in their own words. */
const OPENING: readonly (readonly [number, number, string])[] = [
  [1, 0, 'Good evening from the north coast'],
  [2.5, 9, 'Hola a todos, saludos desde la panadería'],
  [4, 4, 'Guten Abend zusammen'],
  [7, 2, 'How do I know when flour is too fresh to bake with?'],
  [10, 5, 'First time here. Picture is lovely'],
  [13, 6, '¿Cuánto tiempo tiene que reposar la harina recién molida?'],
  [17, 8, 'Wie lange muss frisch gemahlenes Mehl ruhen, bevor man damit backt?'],
  [21, 3, 'we used this table last week, worth a look: https://loaf-notes.example/resting-times'],
  [26, 7, 'is there such a thing as flour that is too young??'],
  [31, 1, 'can you show the thumb thing again'],
  [37, 10, 'We are watching with the whole class'],
  [44, 11, 'What mill is that behind you?'],
];

const LATER = [
  'That makes sense, thank you',
  'Does this hold for rye as well?',
  'Und bei Dinkel?',
  '¿Y con centeno?',
  'My starter agrees',
  'Could you say the temperature once more?',
  'Lovely crust',
  'I always did that the other way round',
];
const LATER_FROM_S = 50;
const REACT_FROM_S = 9;
const REACTIONS = ['heart', 'heart', 'clap', 'laugh'];
/** Every so many of them wear a badge, and one of them opened an account yesterday. */
const REGULARS = 4;
const NEW_ACCOUNT = 6;

export class Crowd {
  private readonly timers = new Set<NodeJS.Timeout>();
  private startedMs: number | null = null;
  private state: number;

  constructor(
    private readonly rules: CrowdRules,
    private readonly room: ChatRoom,
  ) {
    this.state = rules.seed;
  }

  /** Whoever watches now. */
  get viewers(): number {
    if (this.startedMs === null) return 0;
    const seenS = (Date.now() - this.startedMs) / 1000 - this.rules.delayS();
    return seenS <= 0 ? 0 : Math.round(this.rules.most * (1 - Math.exp(-seenS / 40))) + 1;
  }

  /** There is a picture. Called at every look: the first starts them. */
  see(): void {
    if (this.startedMs !== null) return;
    this.startedMs = Date.now();
    const delayS = this.rules.delayS();
    for (const [afterS, who, text] of OPENING) this.later(delayS + afterS, () => this.say(who, text));
    for (const { afterS, who, text, kind } of this.rules.aside ?? [])
      this.later(delayS + afterS, () => this.say(who, text, kind));
    this.later(delayS + LATER_FROM_S, () => this.goOn());
    this.later(delayS + REACT_FROM_S, () => this.reactOn());
  }

  leave(): void {
    for (const timer of this.timers) clearTimeout(timer);
    this.timers.clear();
    this.startedMs = null;
    this.state = this.rules.seed;
  }

  private goOn(): void {
    this.say(this.pick(NAMES.length), LATER[this.pick(LATER.length)]!);
    this.later(4 + this.pick(6), () => this.goOn());
  }

  private reactOn(): void {
    if (this.pick(3) === 0) this.room.react(REACTIONS[this.pick(REACTIONS.length)]!, 1 + this.pick(3));
    this.later(1, () => this.reactOn());
  }

  private say(who: number, text: string, kind: MessageKind = 'message'): void {
    const name = NAMES[(who + this.rules.seed) % NAMES.length]!;
    const badges = who % REGULARS === 0 ? ['regular'] : [];
    const account_days = who === NEW_ACCOUNT ? 1 : 200 + who * 90;
    this.room.write({ id: `viewer-${who}`, name, owner: false, badges, account_days }, text, null, kind);
  }

  private later(afterS: number, act: () => void): void {
    const timer = setTimeout(() => {
      this.timers.delete(timer);
      act();
    }, afterS * 1000);
    this.timers.add(timer);
  }

  /** The same numbers at every run (a linear congruential generator, constants of Numerical Recipes). */
  private pick(below: number): number {
    this.state = (Math.imul(this.state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((this.state / 2 ** 32) * below);
  }
}
