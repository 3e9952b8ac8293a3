import fc from 'fast-check';
import { EARLY_LIMIT, receive, startReader, type StreamReader } from './numbered-stream';

const event = (seq: number) => ({ seq });
const upTo = (n: number) => Array.from({ length: n }, (_, i) => event(i + 1));

describe('numbered stream', () => {
  it('hands on what comes in order, and asks for nothing', () => {
    const got = receive(startReader(), upTo(3));
    expect(got.deliver).toEqual(upTo(3));
    expect(got.askAfter).toBeNull();
  });

  it('asks from its last number when some are missing, and keeps what came early', () => {
    const gap = receive(startReader<{ seq: number }>(1), [event(2), event(5), event(4)]);
    expect(gap.deliver).toEqual([event(2)]);
    expect(gap.askAfter).toBe(2);
    const filled = receive(gap.reader, [event(3)]);
    expect(filled.deliver).toEqual([event(3), event(4), event(5)]);
    expect(filled.askAfter).toBeNull();
  });

  it('drops what it already has', () => {
    const got = receive(startReader<{ seq: number }>(5), upTo(5));
    expect(got.deliver).toEqual([]);
    expect(got.reader.delivered).toBe(5);
  });

  it('holds no more than its limit while a gap is open', () => {
    const far = Array.from({ length: EARLY_LIMIT + 50 }, (_, i) => event(i + 10));
    expect(receive(startReader(), far).reader.early.length).toBe(EARLY_LIMIT);
  });

  it('delivers each exactly once and in order, however batches are shuffled, doubled and lost', () => {
    const batches = fc.array(fc.array(fc.integer({ min: 1, max: 30 })), { maxLength: 20 });
    fc.assert(
      fc.property(batches, (sent) => {
        let reader: StreamReader<{ seq: number }> = startReader();
        const seen: number[] = [];
        for (const batch of sent) {
          const got = receive(reader, batch.map(event));
          seen.push(...got.deliver.map((e) => e.seq));
          reader = got.reader;
          if (got.askAfter !== null) expect(got.askAfter).toBe(seen.length);
        }
        const last = receive(reader, upTo(30));
        seen.push(...last.deliver.map((e) => e.seq));
        expect(seen).toEqual(upTo(30).map((e) => e.seq));
      }),
    );
  });
});
