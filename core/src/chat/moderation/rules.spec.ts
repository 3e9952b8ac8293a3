import fc from 'fast-check';
import { foldedText, foldedWords, hasPhrase } from './fold';
import { readingSeconds } from '../list/reading-time';
import { languageOf } from './language';
import {
  ChatMemory,
  completeRules,
  hostsIn,
  judge as judgeIn,
  rulesOfText,
  USUAL_RULES,
  type ChatRule,
  type JudgedMessage,
  type RuleKind,
} from './rules';

const judge = (message: JudgedMessage, memory: ChatMemory, rules: readonly ChatRule[]) =>
  judgeIn(message, memory, rules, languageOf);

describe('a word in disguise', () => {
  for (const disguise of [
    'flourcoin',
    'FLOURCOIN',
    'fl0urc0in',
    'f l o u r c o i n',
    'f.l.o.u.r.c.o.i.n',
    'flооrcoin'.replace('оо', 'оu'),
    'f\u200blour\u200dcoin',
    'flóürcöin',
    'ｆｌｏｕｒｃｏｉｎ',
    'flourrrrcoiiiin',
    '🥖flourcoin🥖',
    'flourcοin',
    'buy flourcoin now',
    'flour\u00adcoin',
  ]) {
    it(`${JSON.stringify(disguise)} is found`, () =>
      expect(hasPhrase(foldedWords(disguise), 'Flourcoin')).toBeTrue());
  }
  for (const other of [
    'flour coins are nice',
    'a coin of flour',
    'flourcoiner',
    '',
    '🥖',
    'f l o u r',
    'كوين',
    'मिल',
  ]) {
    it(`is not in ${JSON.stringify(other)}`, () =>
      expect(hasPhrase(foldedWords(other), 'flourcoin')).toBeFalse());
  }
  it('can be several, in their order', () => {
    expect(hasPhrase(foldedWords('Get  R1CH quick!!'), 'get rich quick')).toBeTrue();
    expect(hasPhrase(foldedWords('rich get quick'), 'get rich quick')).toBeFalse();
    expect(hasPhrase(foldedWords('anything'), ' … ')).toBeFalse();
  });
  it('leaves numbers what they are', () => expect(foldedWords('at 230 or 1000 degrees')).toContain('1000'));
  it('is the same however often it is folded', () =>
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), (text) => {
        const once = foldedText(text);
        expect(foldedText(text)).toBe(once);
        expect(once.startsWith(' ') || once.endsWith(' ')).toBeFalse();
      }),
    ));
});

describe('an address in a text', () => {
  for (const [text, hosts] of [
    ['see https://bread.example/x?y', ['bread.example']],
    ['www.Loaf.example, really', ['loaf.example']],
    ['loaf.com', ['loaf.com']],
    ['mill.loaf.com/path', ['mill.loaf.com']],
    ['at 4.30 I knead. Then I wait', []],
    ['well...yes', []],
    ['crust.Then crumb', []],
    ['write to me@loaf.com', ['loaf.com']],
  ] as const) {
    it(`${JSON.stringify(text)}: ${hosts.join(', ') || 'none'}`, () =>
      expect(hostsIn(text)).toEqual([...hosts]));
  }
});

describe('a rule', () => {
  const rule = (kind: RuleKind, values: Partial<ChatRule> = {}): ChatRule => ({
    ...USUAL_RULES.find((one) => one.kind === kind)!,
    on: true,
    ...values,
  });
  const said = (text: string, author = 'ana', writtenAtMs = 1000): JudgedMessage => ({
    author,
    destination: 'harbour',
    text,
    writtenAtMs,
    accountDays: null,
  });
  const against = (text: string, only: ChatRule, memory = new ChatMemory()) =>
    judge(said(text), memory, [only]) !== null;

  it('of words leaves them to a person, unless it is to hide them', () => {
    const found = judge(said('f l o u r c o i n here'), new ChatMemory(), [
      rule('words', { list: ['flourcoin'] }),
    ]);
    expect([found?.kind, found?.action]).toEqual(['words', 'aside']);
  });
  it('of links lets through hosts that are allowed, and what lies within them', () => {
    const links = rule('links', { list: ['millrace.example'] });
    expect(against('https://shop.millrace.example/course', links)).toBeFalse();
    expect(against('https://notmillrace.example', links)).toBeTrue();
    expect(against('no address at all', links)).toBeFalse();
  });
  it('of capitals means shouting, not a name or another alphabet', () => {
    for (const quiet of ['OK', 'The EAN and the BRC, please', 'これは静かです', 'ЧТО?'])
      expect(against(quiet, rule('capitals'))).toBeFalse();
    expect(against('WHY DOES NOBODY ANSWER ME', rule('capitals'))).toBeTrue();
  });
  it('of floods counts one writer within ten seconds', () => {
    const memory = new ChatMemory();
    const flood = rule('flood', { most: 3 });
    const verdicts = [0, 1, 2, 3, 4].map((i) => {
      const message = said(`number ${i}`, 'ana', i * 1000);
      const verdict = judge(message, memory, [flood]);
      memory.note(message);
      return verdict !== null;
    });
    expect(verdicts).toEqual([false, false, false, true, true]);
    expect(judge(said('later', 'ana', 60_000), memory, [flood])).toBeNull();
    expect(judge(said('another', 'ben', 4000), memory, [flood])).toBeNull();
  });
  it('of repeats counts different writers of the same, and never a short greeting', () => {
    const memory = new ChatMemory();
    const repeat = rule('repeat', { most: 2 });
    for (const author of ['ana', 'ben']) memory.note(said('Come over to our own kitchen', author));
    expect(judge(said('come over to OUR own kitchen!!', 'cem', 2000), memory, [repeat])).not.toBeNull();
    for (const author of ['ana', 'ben', 'cem']) memory.note(said('hello', author));
    expect(judge(said('hello', 'dee', 2000), memory, [repeat])).toBeNull();
  });
  it('of first messages is about a writer, once', () => {
    const memory = new ChatMemory();
    expect(judge(said('hi'), memory, [rule('first')])).not.toBeNull();
    memory.note(said('hi'));
    expect(judge(said('again'), memory, [rule('first')])).toBeNull();
  });
  it('of new accounts is about places that say how old they are', () => {
    const young = rule('new_account', { most: 7 });
    const from = (accountDays: number | null) =>
      judge({ ...said('hi'), accountDays }, new ChatMemory(), [young]) !== null;
    expect([0, 6, 7, 400, null].map(from)).toEqual([true, true, false, false, false]);
  });
  it('of languages is about what is surely in another one', () => {
    const two = rule('language', { list: ['en', 'es'] });
    for (const fine of [
      'How do I know when flour is too fresh to bake with?',
      '¿Cuánto tiempo tiene que reposar la harina recién molida?',
      'lol ok',
      'Focaccia!',
      'wow wow wow wow',
      '🍞🍞🍞',
      'https://brot.example/ueber-das-mehl',
    ])
      expect(against(fine, two)).withContext(fine).toBeFalse();
    for (const other of [
      'Wie lange muss frisch gemahlenes Mehl ruhen, bevor man damit backt?',
      'Сколько времени должна отдыхать мука перед замесом?',
      '小麦粉はどのくらい休ませればいいですか',
    ])
      expect(against(other, two)).withContext(other).toBeTrue();
    expect(against('Guten Abend zusammen, ich bin neu hier', rule('language', { list: [] })))
      .withContext('with no language let through it means none')
      .toBeFalse();
  });
  it('holds only where it is said to', () => {
    const links = rule('links', { where: ['tower'] });
    expect(against('see https://elsewhere.example', links)).toBeFalse();
    expect(against('see https://elsewhere.example', { ...links, where: ['tower', 'harbour'] })).toBeTrue();
  });
  it('that goes by the text alone is asked again when a text changes', () => {
    expect(rulesOfText(USUAL_RULES).map(({ kind }) => kind)).toEqual([
      'words',
      'links',
      'capitals',
      'language',
      'long',
    ]);
  });
  it('that was kept before there were others stays as it was, in today’s order', () => {
    const kept = [
      { kind: 'long', action: 'hide', on: false, list: [], most: 80 },
      { kind: 'links', action: 'aside', on: true, list: ['a.example'], most: 0 },
    ] as const;
    const complete = completeRules(kept);
    expect(complete.map(({ kind }) => kind)).toEqual(USUAL_RULES.map(({ kind }) => kind));
    expect(complete.find(({ kind }) => kind === 'long')).toEqual({ ...kept[0], where: [] });
    expect(complete.find(({ kind }) => kind === 'language')!.on).toBeFalse();
  });
  it('that is off says nothing, and the first that speaks decides', () => {
    expect(judge(said('x'.repeat(900)), new ChatMemory(), [rule('long', { on: false })])).toBeNull();
    const text = `https://a.com ${'x'.repeat(900)}`;
    expect(judge(said(text), new ChatMemory(), USUAL_RULES)?.kind).toBe('links');
  });
  it('takes ten thousand characters and ten thousand emoji in its stride', () => {
    for (const text of ['a'.repeat(10_000), '🍞'.repeat(10_000), '.a'.repeat(5000)])
      expect(judge(said(text), new ChatMemory(), USUAL_RULES)?.kind).toBe('long');
  });
});

describe('the time a text needs', () => {
  for (const [length, seconds] of [
    [0, 3],
    [30, 3],
    [31, 4],
    [150, 11],
    [5000, 60],
  ] as const) {
    it(`${length} characters: ${seconds} s`, () => expect(readingSeconds('x'.repeat(length))).toBe(seconds));
  }
});
