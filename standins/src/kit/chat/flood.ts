import type { ChatRoom } from './chat-room';

/**
 * Many messages on command, for rehearsals: `copies` all say the same in slightly other words, from many writers;
 * `one` comes from one who does not stop; `talk` is just a loud evening, each in their own words.
 */
export const FLOOD_KINDS = ['copies', 'one', 'talk'] as const;

export interface FloodWish {
  readonly kind: (typeof FLOOD_KINDS)[number];
  readonly per_s: number;
  readonly seconds: number;
  readonly writers: number;
  /** What copies say, in slightly other words each. */
  readonly says?: string | undefined;
}

const TICK_MS = 50;
const COPIED = 'come over to the real channel, this baking show is a waste of an evening';
const WORDS = [
  'rye',
  'spelt',
  'crumb',
  'crust',
  'oven',
  'stone',
  'mill',
  'levain',
  'salt',
  'water',
  'proof',
  'fold',
];
const OPENINGS = [
  'what about',
  'how long does',
  'at home I take',
  'is it true for',
  'we always add',
  'can one leave out',
];

/** Gives when all are written how many there were. By the time that has gone by, not by how often the timer fires. */
export function flood(
  room: ChatRoom,
  { kind, per_s, seconds, writers, says = COPIED }: FloodWish,
): Promise<number> {
  const startedMs = performance.now();
  const all = Math.round(per_s * seconds);
  let written = 0;
  return new Promise((done) => {
    const timer = setInterval(() => {
      const due = Math.min(all, Math.floor(((performance.now() - startedMs) / 1000) * per_s));
      for (; written < due; written++) {
        const who = kind === 'one' ? 0 : written % writers;
        const author = {
          id: `flood-${kind}-${who}`,
          name: `${kind === 'talk' ? 'viewer' : 'user'}${1000 + who}`,
          owner: false,
        };
        if (room.refuses(author.id, kind === 'talk') === null)
          room.write(author, textOf(kind, written, says));
      }
      if (written < all) return;
      clearInterval(timer);
      done(all);
    }, TICK_MS);
  });
}

function textOf(kind: FloodWish['kind'], n: number, copied: string): string {
  const word = (i: number) => WORDS[i % WORDS.length]!;
  if (kind === 'one') return `hey ${word(n)} ${word(n * 5)} look at me`;
  if (kind === 'copies') return n % 3 === 0 ? copied : `${word(n)} ${copied}${'!'.repeat(n % 4)}`;
  // A number in it, so that no two are the same.
  return `${OPENINGS[n % OPENINGS.length]} ${word(n * 7)} and ${word(n * 3 + 1)} no ${n}, ${word(n * 5 + 2)}?`;
}
