import fc from 'fast-check';
import { parseRtmpAddress } from './address';
import { encodeAmf } from './amf0';
import { encodeMessage, MESSAGE } from './chunks';
import { HANDSHAKE_BYTES, NONCE_BYTES } from './handshake';
import { RtmpPublisher, type PublisherEvent } from './publisher';
import { RtmpReceiver, type ReceiverEvent } from './receiver';

const KEY = 'secret-key';
const nonce = (fill: number) => new Uint8Array(NONCE_BYTES).fill(fill);

/** Our sender and our receiver, with nothing between them. */
class Pair {
  readonly receiver = new RtmpReceiver(nonce(1));
  readonly publisher = new RtmpPublisher(parseRtmpAddress('rtmp://here.example/in/x')!, KEY, nonce(2));
  readonly told: PublisherEvent[] = [];
  readonly heard: ReceiverEvent[] = [];

  constructor() {
    this.toReceiver([this.publisher.begin()]);
  }

  toReceiver(parts: readonly Uint8Array[]): void {
    for (const part of parts) {
      const { send, events } = this.receiver.receive(part);
      this.heard.push(...events);
      this.toPublisher(send);
    }
  }

  toPublisher(parts: readonly Uint8Array[]): void {
    for (const part of parts) {
      const { send, events } = this.publisher.receive(part);
      this.told.push(...events);
      this.toReceiver(send);
    }
  }

  media(type: number, timeMs: number, payload: Uint8Array): void {
    const message = { chunkStream: 6, type, stream: this.publisher.streamId, timeMs, payload };
    this.toReceiver([encodeMessage(message, 65_536)]);
  }

  get tags() {
    return this.heard.flatMap((event) => (event.type === 'tag' ? [event.tag] : []));
  }
}

describe('RtmpReceiver', () => {
  it('asks whether a key is taken, and takes media once it is', () => {
    const pair = new Pair();
    expect(pair.heard).toEqual([{ type: 'asks', app: 'in/x', key: KEY }]);
    expect(pair.told).toEqual([]);
    pair.toPublisher(pair.receiver.accept());
    expect(pair.told).toEqual([{ type: 'publishing' }]);
    pair.media(MESSAGE.videoFrame, 40, Uint8Array.of(0x17, 1, 2));
    pair.media(MESSAGE.audioFrame, 41, Uint8Array.of(0xaf, 1));
    expect(pair.tags.map(({ kind, timeMs }) => [kind, timeMs])).toEqual([
      [9, 40],
      [8, 41],
    ]);
    expect([...pair.tags[0]!.body]).toEqual([0x17, 1, 2]);
    pair.toReceiver(pair.publisher.finish());
    expect(pair.heard.at(-1)).toEqual({ type: 'goodbye' });
  });

  it('keeps nothing of what comes before the yes', () => {
    const pair = new Pair();
    pair.media(MESSAGE.videoFrame, 0, new Uint8Array(100));
    expect(pair.tags).toEqual([]);
    expect(() => pair.media(MESSAGE.videoFrame, 0, new Uint8Array(20_000))).toThrowError(RangeError);
  });

  it('says no in words, and ends in words', () => {
    const refused = new Pair();
    refused.toPublisher(refused.receiver.refuse('NetStream.Publish.BadName', 'No such key.'));
    expect(refused.told).toEqual([{ type: 'refused', reason: 'refused_key', placeSays: 'No such key.' }]);
    expect(refused.receiver.accept()).toEqual([]);
    const ended = new Pair();
    ended.toPublisher(ended.receiver.accept());
    ended.toPublisher(ended.receiver.end('Another one came.'));
    expect(ended.told.at(-1)).toEqual({ type: 'ended_there', placeSays: 'Another one came.' });
  });

  it('counts times on where the 32 bits wrap', () => {
    const pair = new Pair();
    pair.toPublisher(pair.receiver.accept());
    const wrap = 2 ** 32;
    for (const timeMs of [wrap - 40, wrap - 7, 26, 59])
      pair.media(MESSAGE.audioFrame, timeMs, Uint8Array.of(1));
    // What comes first is taken as it is given.
    expect(pair.tags.map(({ timeMs }) => timeMs)).toEqual([wrap - 40, wrap - 7, wrap + 26, wrap + 59]);
  });

  it('tells how much has come, so that a careful sender goes on', () => {
    const pair = new Pair();
    pair.toPublisher(pair.receiver.accept());
    for (let i = 0; i < 40; i++) pair.media(MESSAGE.videoFrame, i, new Uint8Array(60_000));
    expect(pair.told.some(({ type }) => type === 'acknowledged')).toBeTrue();
  });

  it('answers commands that encoders wait for, and refuses a second publish', () => {
    const pair = new Pair();
    pair.toPublisher(pair.receiver.accept());
    const again = {
      chunkStream: 3,
      type: MESSAGE.command,
      stream: 1,
      timeMs: 0,
      payload: encodeAmf('publish', 9, null, KEY),
    };
    expect(() => pair.toReceiver([encodeMessage(again, 65_536)])).toThrowError(RangeError);
  });

  it('lets nobody talk without end', () => {
    const receiver = new RtmpReceiver(nonce(1));
    const hands = new Uint8Array(1 + 2 * HANDSHAKE_BYTES);
    hands[0] = 3;
    receiver.receive(hands);
    const ping = {
      chunkStream: 3,
      type: MESSAGE.command,
      stream: 0,
      timeMs: 0,
      payload: encodeAmf('FCPublish', 1, null),
    };
    expect(() => {
      for (let i = 0; i < 100; i++) receiver.receive(encodeMessage(ping, 128));
    }).toThrowError(RangeError);
  });

  it('survives 10,000 damaged sessions: each goes on or ends with a RangeError', () => {
    const whole = recorded();
    let refused = 0;
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.nat(whole.length - 1), fc.nat(255)), { minLength: 1, maxLength: 6 }),
        fc.nat(whole.length),
        fc.integer({ min: 1, max: 700 }),
        (damage, cut, step) => {
          const bytes = whole.slice(0, whole.length - (cut % 5 === 0 ? cut : 0));
          for (const [at, is] of damage) if (at < bytes.length) bytes[at] = is;
          const receiver = new RtmpReceiver(nonce(1));
          try {
            for (let from = 0; from < bytes.length; from += step) {
              const { events } = receiver.receive(bytes.slice(from, from + step));
              if (events.some(({ type }) => type === 'asks')) receiver.accept();
            }
          } catch (error) {
            if (!(error instanceof RangeError)) throw error;
            refused += 1;
          }
        },
      ),
      { numRuns: 10_000 },
    );
    expect(refused).toBeGreaterThan(100);
  });
});

/** All that an encoder says in a short session. */
function recorded(): Uint8Array {
  const said: Uint8Array[] = [];
  const publisher = new RtmpPublisher(parseRtmpAddress('rtmp://here.example/in/x')!, KEY, nonce(2));
  const receiver = new RtmpReceiver(nonce(1));
  const toReceiver = (parts: readonly Uint8Array[]): void => {
    for (const part of parts) {
      said.push(part);
      const { send, events } = receiver.receive(part);
      const more = events.some(({ type }) => type === 'asks') ? receiver.accept() : [];
      for (const answer of [...send, ...more]) toReceiver(publisher.receive(answer).send);
    }
  };
  toReceiver([publisher.begin()]);
  for (let i = 0; i < 5; i++) {
    const message = {
      chunkStream: 6,
      type: MESSAGE.videoFrame,
      stream: 1,
      timeMs: i * 33,
      payload: new Uint8Array(300).fill(i),
    };
    said.push(encodeMessage(message, 65_536));
  }
  said.push(...publisher.finish());
  const bytes = new Uint8Array(said.reduce((sum, { length }) => sum + length, 0));
  said.reduce((at, part) => (bytes.set(part, at), at + part.length), 0);
  return bytes;
}
