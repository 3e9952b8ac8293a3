import { toCsv, toJsonLines, toText, toWebVtt, type ExportedMessage } from './export-chat';
import { mergeWritten } from '../ingest/merge';
import { showTimeOf, steadyDelay } from '../ingest/show-time';

describe('the show time of a message', () => {
  const cases: [string, Parameters<typeof showTimeOf>, number | null][] = [
    ['without a show', [null, 0, 0, 0], null],
    ['written now, without delay', [60_000, 1000, 1000, 0], 60_000],
    ['five seconds behind', [60_000, 1000, 1000, 5000], 55_000],
    ['that arrived late', [60_000, 10_000, 4000, 5000], 49_000],
    ['by a clock ahead of ours', [60_000, 1000, 9000, 5000], 55_000],
    ['before anything could be seen there', [4000, 1000, 1000, 5000], null],
  ];
  for (const [what, args, wanted] of cases) it(what, () => expect(showTimeOf(...args)).toBe(wanted));
});

describe('how far behind viewers are', () => {
  it('is the middle of what was measured lately, whatever one look says', () => {
    let lately: readonly number[] = [];
    const told = [8000, 8100, 60_000, 8050, 7900, 20_000, 20_100, 20_200, 20_050].map((measuredMs) => {
      const steady = steadyDelay(lately, measuredMs);
      ({ lately } = steady);
      return steady.delayMs;
    });
    expect(told).toEqual([8000, 8100, 8100, 8100, 8050, 8100, 20_000, 20_000, 20_050]);
    expect(lately.length).toBe(5);
  });
});

describe('the one list', () => {
  const at = (id: string, writtenAtMs: number) => ({ id, writtenAtMs });

  it('is in the order of writing, however they arrive', () => {
    const all = [at('a', 1), at('b', 5), at('c', 5), at('d', 9)];
    const orders = [
      [3, 0, 2, 1],
      [2, 3, 1, 0],
      [0, 1, 2, 3],
    ];
    for (const order of orders) {
      const list = order.reduce<readonly (typeof all)[number][]>((so, i) => mergeWritten(so, [all[i]!]), []);
      expect(list).toEqual(all);
    }
  });

  it('holds nothing twice, and stays itself when nothing came', () => {
    const list = mergeWritten([], [at('a', 1), at('a', 1)]);
    expect(list.length).toBe(1);
    expect(mergeWritten(list, [])).toBe(list);
  });
});

describe('chat in a file', () => {
  const message: ExportedMessage = {
    showTimeMs: 3_723_045,
    writtenAtMs: Date.UTC(2026, 10, 23, 20, 0, 0),
    destination: 'Emberplay',
    author: 'Ilse',
    owner: false,
    text: 'Hello',
    standing: 'shown',
    question: 'none',
    kind: 'message',
    takenBack: false,
    accountDays: null,
  };

  it('is CSV that a spreadsheet reads as text', () => {
    const texts = ['say "rye"', 'two\nlines', 'a, b', '=1+1', '-5', '=2\n+2'];
    const lines = toCsv(texts.map((text) => ({ ...message, text })));
    expect(lines.startsWith('\ufeffshow_time,written_at,')).toBeTrue();
    const hidden = { ...message, standing: 'hidden' as const, text: 'two\nlines of spite' };
    expect(
      toJsonLines([message, hidden])
        .trimEnd()
        .split('\n')
        .map((line) => JSON.parse(line) as unknown),
    ).toEqual([message, hidden]);
    expect(toText([message, hidden])).toBe('1:02:03  Ilse (Emberplay): Hello\n');
    const forged = { ...message, author: 'Ilse\n0:00:01  The house', text: 'a\u2028b' };
    expect(toText([forged])).toBe('1:02:03  Ilse 0:00:01 The house (Emberplay): a b\n');
    expect(toWebVtt([hidden])).toBe('WEBVTT\n\n');
    for (const wanted of [
      `"'=2\n+2"`,
      '"say ""rye"""',
      '"two\nlines"',
      '"a, b"',
      `,"'=1+1"\r\n`,
      `,"'-5"\r\n`,
    ])
      expect(lines).toContain(wanted);
    expect(lines).toContain('1:02:03,2026-11-23T20:00:00.000Z,Emberplay,Ilse,no,shown,none,message,no,');
  });

  it('leaves out of what others may see what is private or was taken back', () => {
    const all = [
      message,
      { ...message, kind: 'private' as const, text: 'my order number' },
      { ...message, takenBack: true, text: 'a slip' },
      { ...message, kind: 'sale' as const, text: 'bought one' },
    ];
    expect(toText(all)).toBe('1:02:03  Ilse (Emberplay): Hello\n1:02:03  Ilse (Emberplay): bought one\n');
    expect(toWebVtt(all).match(/-->/g)!.length).toBe(2);
    // The team's own files have all of it, and say what it is.
    expect(toCsv(all)).toContain('none,private,no,my order number');
    expect(toCsv(all)).toContain('none,message,yes,a slip');
  });

  it('is WebVTT in show time, in which a message cannot begin a cue of its own', () => {
    const later = { ...message, showTimeMs: 3_724_000, text: 'x\n\n00:00 --> 00:01\n<b>&' };
    const text = toWebVtt([later, { ...message, showTimeMs: null, text: 'before' }, message]);
    expect(text).toBe(
      'WEBVTT\n\n01:02:03.045 --> 01:02:09.045\n<v Ilse (Emberplay)>Hello\n\n' +
        '01:02:04.000 --> 01:02:10.000\n<v Ilse (Emberplay)>x 00:00 --&gt; 00:01 &lt;b&gt;&amp;\n\n',
    );
  });
});
