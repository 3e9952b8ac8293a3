import type { UplinkAnswer } from '@juncta/contract/uplink';
import { encodeTag, TAG, type FlvTag } from '@juncta/core/media/flv';
import { FakeLine, fakeLines } from '../../testing/uplink';
import type { SourceMessage } from '../messages';
import { OutsideLine } from './outside-line';
import { OutsidePlayer } from './outside-player';

describe('the line of an outside picture', () => {
  let undo: () => void;
  let events: string[];
  let line: OutsideLine;
  const open = () => {
    line = new OutsideLine(
      'an-input',
      { uplinkUrl: 'ws://relay/uplink', ticket: 'first' },
      {
        begins: () => events.push('begins'),
        tag: ({ timeMs }) => events.push(`tag ${timeMs}`),
        ends: () => events.push('ends'),
        ticketRefused: () => events.push('ticket refused'),
        refused: (sentence) => events.push(sentence),
      },
    );
  };
  const last = () => FakeLine.all.at(-1)!;
  const here = (isHere: boolean) => last().answer({ type: 'input', isHere });
  const refuse = (code: Extract<UplinkAnswer, { type: 'refused' }>['code']) =>
    last().answer({ type: 'refused', code, sentence: 'No.' });

  beforeEach(() => {
    jasmine.clock().install();
    undo = fakeLines();
    events = [];
    open();
    last().onopen!();
  });
  afterEach(() => {
    line.close();
    undo();
    jasmine.clock().uninstall();
  });

  it('asks for one input, and gives what comes of it', () => {
    expect(last().said[0]).toEqual({ type: 'receive', ticket: 'first', inputId: 'an-input' });
    here(false);
    here(true);
    here(true);
    const bytes = encodeTag({ kind: TAG.audioFrame, timeMs: 40, body: Uint8Array.of(0xaf, 1, 7) });
    last().onmessage!({ data: bytes.slice().buffer });
    here(false);
    expect(events).toEqual(['begins', 'tag 40', 'ends']);
  });

  it('is opened again when it is lost, with the latest ticket', () => {
    here(true);
    line.renew({ uplinkUrl: 'ws://relay/uplink', ticket: 'second' });
    expect(last().said.at(-1)).toEqual({ type: 'renew', ticket: 'second' });
    last().break();
    expect(events).toEqual(['begins', 'ends']);
    jasmine.clock().tick(5000);
    expect(FakeLine.all.length).toBe(2);
    last().onopen!();
    expect(last().said[0]).toEqual(jasmine.objectContaining({ ticket: 'second' }));
    here(true);
    expect(events.at(-1)).toBe('begins');
  });

  it('asks for another ticket when the relay wants one, and waits where there is no such input', () => {
    refuse('ticket');
    expect(events).toEqual(['ticket refused']);
    line.renew({ uplinkUrl: 'ws://relay/uplink', ticket: 'second' });
    expect(FakeLine.all.length).toBe(2);
    refuse('no_input');
    expect(events).toEqual(['ticket refused', 'No.']);
    jasmine.clock().tick(5000);
    expect(FakeLine.all.length).toBe(3);
  });

  it('is opened no more once it is closed', () => {
    line.close();
    expect(last().closed).toBe(true);
    jasmine.clock().tick(60_000);
    expect(FakeLine.all.length).toBe(1);
  });
});

describe('the player of an outside picture', () => {
  let player: OutsidePlayer;
  let got: SourceMessage[];
  let frames: number;
  let port: MessagePort;

  beforeEach(() => {
    const { port1, port2 } = new MessageChannel();
    port = port2;
    got = [];
    frames = 0;
    port2.onmessage = ({ data }: MessageEvent<SourceMessage>) => {
      if (data.frame) frames += 1;
      data.frame?.close();
      got.push(data);
    };
    player = new OutsidePlayer(port1);
  });
  afterEach(() => {
    player.close();
    port.close();
  });

  /** Plays until something has come about, as its worker does. */
  const until = async (what: () => boolean) => {
    for (let i = 0; i < 500 && !what(); i++) {
      player.tick(performance.now());
      await new Promise((turn) => setTimeout(turn, 10));
    }
    expect(what()).toBe(true);
  };

  it('shows what is due, begins at a keyframe, and shows nothing once its encoder is gone', async () => {
    const tags = await encoded(30);
    player.begins();
    // In the middle of its stream: nothing of it can be decoded before the next keyframe.
    for (const tag of tags.slice(5)) player.tag(tag);
    await until(() => player.fates(performance.now()).video === 'gone');
    expect(frames).toBe(0);
    player.ends();
    player.begins();
    for (const tag of tags) player.tag(tag);
    await until(() => frames === 30);
    expect(player.fates(performance.now())).toEqual({ video: 'there', audio: 'none' });
    player.ends();
    expect(player.fates(performance.now())).toEqual({ video: 'gone', audio: 'gone' });
    await until(() => got.at(-1)?.frame === null);
  });

  it('lets the last frame go when nothing follows it', async () => {
    player.begins();
    for (const tag of await encoded(5)) player.tag(tag);
    await until(() => frames === 5);
    await until(() => got.at(-1)?.frame === null);
    expect(player.fates(performance.now()).video).toBe('gone');
  });

  it('survives what is no video, and goes on at the next keyframe', async () => {
    const tags = await encoded(10);
    const broken = tags.map((tag, i) => (i === 3 ? { ...tag, body: tag.body.map(() => 0x17) } : tag));
    player.begins();
    for (const tag of broken) player.tag(tag);
    for (const tag of tags) player.tag({ ...tag, timeMs: tag.timeMs + 400 });
    await until(() => frames >= 10);
  });
});

/** A configuration, and so many frames of 30 a second, the first of them a keyframe. */
async function encoded(count: number): Promise<FlvTag[]> {
  const tags: FlvTag[] = [];
  const encoder = new VideoEncoder({
    output: (chunk, metadata) => {
      const head = metadata?.decoderConfig?.description;
      if (head) tags.push({ kind: 9, timeMs: 0, body: Uint8Array.of(0x17, 0, 0, 0, 0, ...bytesOf(head)) });
      const data = new Uint8Array(chunk.byteLength);
      chunk.copyTo(data);
      const body = Uint8Array.of(chunk.type === 'key' ? 0x17 : 0x27, 1, 0, 0, 0, ...data);
      tags.push({ kind: 9, timeMs: Math.round(chunk.timestamp / 1000), body });
    },
    error: (error) => fail(error),
  });
  encoder.configure({
    codec: 'avc1.42E01F',
    width: 160,
    height: 96,
    framerate: 30,
    bitrate: 200_000,
    latencyMode: 'realtime',
    avc: { format: 'avc' },
  });
  const canvas = new OffscreenCanvas(160, 96);
  const context = canvas.getContext('2d')!;
  for (let i = 0; i < count; i++) {
    context.fillStyle = `hsl(${i * 9} 80% 50%)`;
    context.fillRect(0, 0, 160, 96);
    const frame = new VideoFrame(canvas, { timestamp: Math.round((i * 1e6) / 30) });
    encoder.encode(frame, { keyFrame: i === 0 });
    frame.close();
  }
  await encoder.flush();
  encoder.close();
  return tags;
}

const bytesOf = (data: AllowSharedBufferSource): Uint8Array =>
  ArrayBuffer.isView(data)
    ? new Uint8Array(data.buffer, data.byteOffset, data.byteLength)
    : new Uint8Array(data);
