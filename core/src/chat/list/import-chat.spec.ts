import { toJsonLines, type ExportedMessage } from './export-chat';
import { fromJsonLines } from './import-chat';

const message = (change: Partial<ExportedMessage> = {}): ExportedMessage => ({
  showTimeMs: 61_000,
  writtenAtMs: 1_700_000_000_000,
  destination: 'Harbour',
  author: 'Ilse',
  owner: false,
  text: 'How warm is the water?',
  standing: 'shown',
  question: 'none',
  kind: 'message',
  takenBack: false,
  accountDays: null,
  ...change,
});

describe('messages from a file', () => {
  it('are what was written into it, whatever they say', () => {
    const all = [
      message(),
      message({ showTimeMs: null, owner: true, standing: 'hidden', question: 'answered' }),
      message({ text: 'two\nlines, "quoted", \u2028 and <b>bold</b>', author: '' }),
      message({ text: '🍞'.repeat(5000), standing: 'aside', question: 'lined_up' }),
      message({ text: '\u202eevil\u0000' }),
    ];
    expect(fromJsonLines(toJsonLines(all))).toEqual({ messages: all, problems: [], unread: 0 });
  });

  it('are read from files with a mark at their start, other line ends and empty lines', () => {
    const file = `\ufeff${toJsonLines([message(), message()]).replaceAll('\n', '\r\n\r\n')}`;
    expect(fromJsonLines(file).messages.length).toBe(2);
  });

  const bad: readonly [string, string][] = [
    ['{', 'not_json'],
    ['null', 'not_json'],
    ['[]', 'not_json'],
    ['"text"', 'not_json'],
    ['{"author":"a","writtenAtMs":1}', 'no_text'],
    ['{"text":5,"author":"a","writtenAtMs":1}', 'no_text'],
    ['{"text":"t","writtenAtMs":1}', 'no_author'],
    ['{"text":"t","author":"a"}', 'no_time'],
    ['{"text":"t","author":"a","writtenAtMs":"now"}', 'no_time'],
    ['{"text":"t","author":"a","writtenAtMs":1e300}', 'no_time'],
    [JSON.stringify({ text: 'x'.repeat(20_001), author: 'a', writtenAtMs: 1 }), 'too_long'],
  ];
  for (const [line, why] of bad) {
    it(`tell of a line ${line.slice(0, 50)}: ${why}`, () => {
      const file = `${toJsonLines([message()])}${line}\n${toJsonLines([message()])}`;
      const read = fromJsonLines(file);
      expect(read.messages.length).toBe(2);
      expect(read.problems).toEqual([{ line: 2, why: why as never }]);
    });
  }

  it('take what makes no sense for nothing', () => {
    const [read] = fromJsonLines(
      '{"text":"t","author":"a","writtenAtMs":1,"showTimeMs":-5,"owner":"yes","standing":"gone","question":7,"destination":null}',
    ).messages;
    expect(read).toEqual(
      message({ text: 't', author: 'a', writtenAtMs: 1, showTimeMs: null, destination: '' }),
    );
  });

  it('tell of twenty lines at the most, and count all', () => {
    const read = fromJsonLines('nonsense\n'.repeat(500));
    expect([read.problems.length, read.unread]).toEqual([20, 500]);
  });
});
