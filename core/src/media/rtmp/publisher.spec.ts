import fc from 'fast-check';
import { parseRtmpAddress } from './address';
import { decodeAmf, encodeAmf, type AmfValue } from './amf0';
import { ChunkReader, encodeMessage, MESSAGE, messageParts } from './chunks';
import { refusalReason, RtmpPublisher, type PublisherEvent } from './publisher';

const ADDRESS = parseRtmpAddress('rtmp://ingest.example/live')!;
const KEY = 'secret-key';

/** The other side: shakes hands and answers commands as it is told. */
class Place {
  readonly publisher = new RtmpPublisher(ADDRESS, KEY, new Uint8Array(1528).fill(7));
  readonly reader = new ChunkReader();
  readonly heard: AmfValue[][] = [];
  readonly events: PublisherEvent[] = [];
  private handshakeLeft = 1536;

  constructor() {
    expect(this.publisher.begin().length).toBe(1537);
    this.say(new Uint8Array(1 + 2 * 1536).map((_, i) => (i === 0 ? 3 : i & 0xff)));
  }

  say(bytes: Uint8Array): void {
    const { send, events } = this.publisher.receive(bytes);
    this.events.push(...events);
    for (const part of send) this.hear(part);
  }

  command(...values: AmfValue[]): void {
    this.say(
      encodeMessage(
        { chunkStream: 3, type: MESSAGE.command, stream: 0, timeMs: 0, payload: encodeAmf(...values) },
        128,
      ),
    );
  }

  /** Up to the point where the key has been shown. */
  upToPublish(): this {
    this.command('_result', 1, {}, { level: 'status', code: 'NetConnection.Connect.Success' });
    this.command('_result', 4, null, 9);
    return this;
  }

  status(level: string, code: string, description = ''): this {
    this.command('onStatus', 0, null, { level, code, description });
    return this;
  }

  get names(): unknown[] {
    return this.heard.map(([name]) => name);
  }

  private hear(bytes: Uint8Array): void {
    const skip = Math.min(bytes.length, this.handshakeLeft);
    this.handshakeLeft -= skip;
    for (const { type, payload } of this.reader.push(bytes.subarray(skip))) {
      if (type === MESSAGE.command) this.heard.push(decodeAmf(payload));
    }
  }
}

describe('RtmpPublisher', () => {
  it('goes through the conversation and may publish', () => {
    const place = new Place();
    expect(place.names).toEqual(['connect']);
    expect<unknown>(place.heard[0]![2]).toEqual(
      jasmine.objectContaining<object>({ app: 'live', tcUrl: 'rtmp://ingest.example/live' }),
    );
    place.upToPublish();
    expect(place.names).toEqual(['connect', 'releaseStream', 'FCPublish', 'createStream', 'publish']);
    expect<unknown>(place.heard.at(-1)!.slice(3)).toEqual([KEY, 'live']);
    place.status('status', 'NetStream.Publish.Start');
    expect(place.events).toEqual([{ type: 'publishing' }]);
    expect(place.publisher.streamId).toBe(9);
  });

  it('does not tell its key before the place has answered', () => {
    const place = new Place();
    expect(JSON.stringify(place.heard)).not.toContain(KEY);
  });

  it('understands answers however they are cut', () => {
    const whole = new Place();
    const said: Uint8Array[] = [];
    whole.say = (bytes) => void said.push(bytes);
    whole.upToPublish().status('status', 'NetStream.Publish.Start');
    const all = Uint8Array.from(said.flatMap((bytes) => [...bytes]));
    fc.assert(
      fc.property(fc.array(fc.nat(all.length), { maxLength: 6 }), (cuts) => {
        const place = new Place();
        const edges = [0, ...cuts.sort((a, b) => a - b), all.length];
        edges.slice(1).forEach((edge, i) => place.say(all.subarray(edges[i], edge)));
        expect(place.events).toEqual([{ type: 'publishing' }]);
      }),
    );
  });

  it('hears a refusal, in the place’s words but without the key', () => {
    const place = new Place()
      .upToPublish()
      .status('error', 'NetStream.Publish.BadName', `Key ${KEY} is not valid`);
    expect(place.events).toEqual([
      { type: 'refused', reason: 'refused_key', placeSays: 'Key … is not valid' },
    ]);
    // Once is enough.
    place.status('error', 'NetStream.Publish.BadName');
    expect(place.events.length).toBe(1);
  });

  it('hears a refusal of the connection', () => {
    const place = new Place();
    place.command('_error', 1, null, {
      level: 'error',
      code: 'NetConnection.Connect.Rejected',
      description: 'No such app',
    });
    expect(place.events[0]).toEqual(jasmine.objectContaining({ type: 'refused' }));
  });

  it('hears that an accepted stream was ended there', () => {
    const place = new Place().upToPublish().status('status', 'NetStream.Publish.Start');
    place.status('error', 'NetStream.Publish.Rejected', 'Another sender took over');
    expect(place.events.at(-1)).toEqual({ type: 'ended_there', placeSays: 'Another sender took over' });
  });

  it('answers pings and reports what was acknowledged', () => {
    const place = new Place();
    const sent: Uint8Array[] = [];
    const control = (type: number, payload: Uint8Array) => {
      const step = place.publisher.receive(
        encodeMessage({ chunkStream: 2, type, stream: 0, timeMs: 0, payload }, 128),
      );
      sent.push(...step.send);
      place.events.push(...step.events);
    };
    control(MESSAGE.userControl, Uint8Array.of(0, 6, 1, 2, 3, 4));
    control(MESSAGE.acknowledgement, Uint8Array.of(0, 1, 0, 0));
    expect([...sent[0]!.slice(-6)]).toEqual([0, 7, 1, 2, 3, 4]);
    expect<unknown>(place.events).toEqual([{ type: 'acknowledged', bytes: 65_536 }]);
  });

  it('says goodbye only to a place that took the stream', () => {
    expect(new Place().publisher.finish()).toEqual([]);
    const place = new Place().upToPublish().status('status', 'NetStream.Publish.Start');
    expect(place.publisher.finish().length).toBe(2);
    expect(place.publisher.finish()).toEqual([]);
  });

  it('refuses to speak with what is not RTMP', () => {
    const publisher = new RtmpPublisher(ADDRESS, KEY, new Uint8Array(1528));
    expect(() =>
      publisher.receive(Uint8Array.from('HTTP/1.1 400 Bad Request', (letter) => letter.charCodeAt(0))),
    ).toThrowError(RangeError);
  });
});

describe('the reason of a refusal', () => {
  for (const [code, description, reason] of [
    ['NetStream.Publish.BadName', 'This stream key is not valid.', 'refused_key'],
    ['NetStream.Publish.BadName', 'Stream already publishing', 'refused_busy'],
    ['NetStream.Publish.Denied', 'Codec not supported', 'refused_format'],
    ['NetStream.Publish.Rejected', 'Choose a category first.', 'refused_other'],
  ] as const) {
    it(`is ${reason} of “${description}”`, () => expect(refusalReason({ code, description })).toBe(reason));
  }
});

describe('parts of a message', () => {
  it('are the same bytes as the message, at every time and size', () => {
    fc.assert(
      fc.property(
        fc.constantFrom(0, 1, 2 ** 24 - 2, 2 ** 24 - 1, 2 ** 24, 2 ** 32 - 1, 2 ** 32, 2 ** 32 + 40),
        fc.integer({ min: 0, max: 700 }),
        fc.integer({ min: 1, max: 300 }),
        fc.constantFrom(4, 63, 64, 320, 65_599),
        (timeMs, length, chunkBytes, chunkStream) => {
          const payload = Uint8Array.from({ length }, (_, i) => i & 0xff);
          const message = { chunkStream, type: 9, stream: 0x01020304, timeMs, payload };
          const bytes = encodeMessage(message, chunkBytes);
          const reader = new ChunkReader();
          const size = Uint8Array.of(0, 0, chunkBytes >> 8, chunkBytes & 0xff);
          reader.push(
            encodeMessage(
              { chunkStream: 2, type: MESSAGE.setChunkSize, stream: 0, timeMs: 0, payload: size },
              128,
            ),
          );
          const [read] = reader.push(bytes);
          expect(read).toEqual({ ...message, timeMs: timeMs % 2 ** 32 });
          expect(messageParts(message, chunkBytes).reduce((sum, part) => sum + part.length, 0)).toBe(
            bytes.length,
          );
        },
      ),
    );
  });
});

describe('an RTMP address', () => {
  for (const [text, wanted] of [
    ['rtmp://a.example/live', { host: 'a.example', port: 1935, app: 'live', secure: false }],
    ['rtmps://a.example/live/', { host: 'a.example', port: 443, app: 'live', secure: true }],
    ['rtmps://a.example:8443/live/two?x=1', { host: 'a.example', port: 8443, app: 'live/two?x=1' }],
    ['RTMP://[2001:db8::1]:1936/app', { host: '2001:db8::1', port: 1936, app: 'app' }],
  ] as const) {
    it(`${text} is read`, () =>
      expect<unknown>(parseRtmpAddress(text)).toEqual(jasmine.objectContaining<object>(wanted)));
  }
  for (const text of [
    '',
    'rtmp://',
    'rtmp://a.example',
    'rtmp://a.example/',
    'http://a.example/live',
    'rtmp://a b/live',
    'rtmp://u:p@a.example/live',
    'rtmp://a.example:99999/live',
  ]) {
    it(`${JSON.stringify(text)} is none`, () => expect(parseRtmpAddress(text)).toBeNull());
  }
});
