import { readChat, type ChatMessage } from '@juncta/contract/chat';
import { withShowAtPlace } from '../../testing/show-at-place';
import { until } from '../../testing/until';

/** The same numbers at every run (a linear congruential generator, constants of Numerical Recipes). */
function dice(seed: number): (below: number) => number {
  let state = seed;
  return (below) => {
    state = (Math.imul(state, 1_664_525) + 1_013_904_223) >>> 0;
    return Math.floor((state / 2 ** 32) * below);
  };
}

describe('what is kept of a chat', () => {
  const set = withShowAtPlace({ started: true });
  const kept = async () =>
    (await set.house.as.moderator.get(readChat, { params: { showId: set.showId } })).messages;
  /** As its own log has it: each message as it is now, in the order of writing. */
  const there = () => {
    const byId = new Map<string, { text: string; deleted: boolean }>();
    for (const { id, text, deleted = false } of set.place.events.at(-1)!.messages)
      byId.set(id, { text: deleted ? (byId.get(id)?.text ?? '') : text, deleted });
    return [...byId.values()].map(({ text, deleted }) => `${text}${deleted ? ' (taken back)' : ''}`).sort();
  };
  const here = (messages: readonly ChatMessage[]) =>
    messages.map(({ text, takenBack }) => `${text}${takenBack ? ' (taken back)' : ''}`).sort();

  for (const seed of [1, 2]) {
    it(`is what its place has, each once, whatever befalls the line (${seed})`, async () => {
      const roll = dice(seed);
      const { place } = set;
      const faults = Object.keys(place.chatFaults) as (keyof typeof place.chatFaults)[];
      const written: ReturnType<typeof place.write>[] = [];
      const edited_at = () => new Date().toISOString();
      for (let i = 0; i < 120; i++) {
        written.push(place.write(`message ${i}`, `viewer ${roll(9)}`));
        const at = roll(written.length);
        const one = written[at]!;
        if (roll(6) === 0) place.tell({ ...one, text: `${one.text}, or so ${i}`, edited_at: edited_at() });
        // What is taken back is not touched again.
        if (roll(20) === 0) place.tell({ ...written.splice(at, 1)[0]!, text: '', deleted: true });
        // Hanging takes as long as our patience does: once is enough.
        if (roll(8) === 0) place.chatFaults[faults[roll(faults.length)]!] = 1;
        if (roll(3) === 0) await new Promise((done) => setTimeout(done, 5));
      }
      place.chatFaults.hangs = 0;
      place.write('the last of them');
      await until('all of it is here', async () => here(await kept()).join() === there().join(), 25_000);
      expect(here(await kept())).toEqual(there());
      const ids = new Set((await kept()).map(({ id }) => id));
      expect(ids.size).toBe(121);
    });
  }
});
