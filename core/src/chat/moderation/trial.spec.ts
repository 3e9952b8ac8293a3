import type { ExportedMessage } from '../list/export-chat';
import { languageOf } from './language';
import { USUAL_RULES } from './rules';
import { tryRules } from './trial';

const message = (author: string, text: string, atS: number, owner = false): ExportedMessage => ({
  showTimeMs: null,
  writtenAtMs: atS * 1000,
  destination: 'Harbour',
  author,
  owner,
  text,
  standing: 'shown',
  question: 'none',
  kind: 'message',
  takenBack: false,
  accountDays: null,
});

describe('rules tried on messages', () => {
  it('say what they would have caught, in the order of writing, and nothing of the house', () => {
    const trial = tryRules(
      [
        message('Ilse', 'How warm is the water?', 3),
        message('Bot', 'see https://elsewhere.example', 2),
        message('House', 'see https://elsewhere.example', 1, true),
      ],
      USUAL_RULES,
      languageOf,
    );
    expect(trial.messages).toBe(2);
    expect(trial.caught.map(({ kind, author }) => [kind, author])).toEqual([['links', 'Bot']]);
    expect(trial.floods).toEqual([]);
  });

  it('know destinations by the name that the messages have for them', () => {
    const links = USUAL_RULES.map((rule) => (rule.kind === 'links' ? { ...rule, where: ['Tower'] } : rule));
    const said = message('Bot', 'see https://elsewhere.example', 2);
    const all = [
      said,
      { ...said, destination: 'Tower' },
      { ...said, destination: 'Tower', kind: 'sale' as const },
    ];
    const { messages, caught } = tryRules(all, links, languageOf);
    expect([messages, caught.length]).toEqual([2, 1]);
  });

  it('say when floods would have been noticed, and how many each had', () => {
    const copied = 'come over to the real channel and leave this boring baking show';
    const flood = (fromS: number) =>
      Array.from({ length: 20 }, (_, i) => message(`user ${i}`, copied, fromS + i / 4));
    const trial = tryRules([...flood(600), message('Ilse', 'Hello', 620), ...flood(900)], [], languageOf);
    expect(trial.floods.map(({ messages, sample }) => [messages, sample])).toEqual([
      [20, copied],
      [20, copied],
    ]);
    expect(trial.floods[0]!.atMs).toBeLessThan(605_000);
    expect(trial.floods[1]!.atMs).toBeLessThan(905_000);
  });
});
