import {
  audioConfigurationTag,
  audioTag,
  decodeTags,
  isConfiguration,
  isKeyframe,
  readBody,
  videoTag,
  type FlvTag,
} from '@juncta/core/media/flv';
import { InputReceivers, type InputReceiver } from './receivers';

const UNIT = [Uint8Array.of(0x65, 1, 2, 3)];
const heads: FlvTag[] = [
  { kind: 9, timeMs: 0, body: Uint8Array.of(0x17, 0, 0, 0, 0, 1) },
  audioConfigurationTag(Uint8Array.of(0x11, 0x90), 0),
];
const key = (timeMs: number) => videoTag(UNIT, true, timeMs);
const frame = (timeMs: number) => videoTag(UNIT, false, timeMs);
const sound = (timeMs: number) => audioTag(Uint8Array.of(9), timeMs);

class Desk implements InputReceiver {
  waiting = 0;
  got: string[] = [];
  send(bytes: Uint8Array): void {
    const { tags, consumed } = decodeTags(bytes);
    expect(consumed).toBe(bytes.length);
    for (const tag of tags)
      this.got.push(
        isConfiguration(tag) ? 'head' : isKeyframe(tag) ? 'key' : tag.kind === 8 ? 'sound' : 'frame',
      );
  }
  tell(isHere: boolean): void {
    this.got.push(isHere ? 'here' : 'gone');
  }
  closed(): void {
    this.got.push('closed');
  }
  take(): string[] {
    return this.got.splice(0);
  }
}

describe('desks that receive an outside picture', () => {
  const input = { isHere: true, configurations: heads };
  let receivers: InputReceivers;
  let desk: Desk;
  let told: number;
  const come = (...tags: FlvTag[]) => tags.forEach((tag) => receivers.tag(tag, readBody(tag)!));

  beforeEach(() => {
    Object.assign(input, { isHere: true, configurations: heads });
    told = 0;
    receivers = new InputReceivers(input, () => (told += 1));
    desk = new Desk();
  });

  it('begin with what a decoder has to know, and at a keyframe', () => {
    receivers.add(desk);
    come(frame(0), sound(0), key(33), frame(66));
    expect(desk.take()).toEqual(['here', 'head', 'head', 'sound', 'key', 'frame']);
  });

  it('are told when the encoder goes, and begin anew when it is back', () => {
    Object.assign(input, { isHere: false, configurations: [] });
    receivers.add(desk);
    Object.assign(input, { isHere: true });
    receivers.changed();
    come(...heads, key(0), frame(33));
    Object.assign(input, { isHere: false });
    receivers.changed();
    Object.assign(input, { isHere: true });
    receivers.changed();
    come(...heads, frame(0), key(33));
    const line = ['gone', 'here', 'head', 'head', 'key'];
    expect(desk.take()).toEqual(['gone', ...line, 'frame', 'gone', ...line]);
  });

  it('begin anew when another encoder takes over', () => {
    receivers.add(desk);
    come(key(5000), frame(5033));
    receivers.changed();
    come(...heads, frame(0), key(33));
    expect(desk.take().slice(5)).toEqual(['gone', 'here', 'head', 'head', 'key']);
  });

  it('wait for the next keyframe after what came has other parameters', () => {
    receivers.add(desk);
    come(key(0), heads[0]!, frame(33), key(66));
    expect(desk.take().slice(3)).toEqual(['key', 'head', 'key']);
  });

  it('get nothing more while their line is full, and go on at a keyframe', () => {
    const other = new Desk();
    receivers.add(desk);
    receivers.add(other);
    come(key(0));
    desk.waiting = 10_000_000;
    come(frame(33), sound(33), key(66), heads[0]!);
    desk.waiting = 0;
    come(frame(99), sound(99), key(132));
    expect(desk.take().slice(3)).toEqual(['key', 'head', 'sound', 'key']);
    expect(other.take().slice(3)).toEqual(['key', 'frame', 'sound', 'key', 'head', 'sound', 'key']);
  });

  it('hear that it is no more, and get nothing once they have left', () => {
    const leave = receivers.add(desk);
    expect([told, receivers.isEmpty]).toEqual([1, false]);
    receivers.add(new Desk());
    leave();
    leave();
    expect(told).toBe(3);
    come(key(0));
    receivers.close();
    expect(desk.take()).toEqual(['here', 'head', 'head']);
    const late = new Desk();
    receivers.add(late);
    receivers.close();
    expect(late.take().at(-1)).toBe('closed');
  });
});
