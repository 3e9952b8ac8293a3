import type { Packet } from '@juncta/core/media/packets';
import { Outbox } from '@juncta/core/uplink';
import { BacklogLane } from './backlog-lane';
import type { PacketStore } from './packet-store';
import type { UplinkSocket } from './uplink-socket';

const packet = (number: number): Packet => ({
  session: '315b41ed-56aa-4b2a-9862-803dc9990a15',
  number,
  track: 'video',
  key: number === 1,
  slate: false,
  timeUs: number * 33_333,
  durationUs: 33_333,
  payload: new Uint8Array(1000),
});

describe('the lane of what was missed', () => {
  let room: number;
  let sent: number;
  let ready: boolean;
  /** Lets the store that was asked for last give what it holds. */
  let read: () => void;
  let lane: BacklogLane;
  const settle = () => new Promise((done) => setTimeout(done));

  beforeEach(() => {
    const outbox = new Outbox();
    for (const number of [1, 2, 3]) outbox.addLeft(number);
    [room, sent, ready] = [100_000, 0, true];
    const socket = {
      get ready() {
        return ready;
      },
      underWay: { bytes: 0 },
      send: () => (sent += 1),
    };
    const store = { around: () => Promise.resolve([1, 2, 3].map(packet)) };
    lane = new BacklogLane(outbox, {
      store: () => new Promise((done) => (read = () => done(store as unknown as PacketStore))),
      open: () => socket as unknown as UplinkSocket,
      room: () => room,
    });
  });

  it('sends what there is room for, and asks for nothing while there is none', async () => {
    room = 0;
    await lane.go();
    expect(sent).toBe(0);
    room = 100_000;
    void lane.go();
    read();
    await settle();
    expect(sent).toBe(3);
  });

  it('looks again what the line carries once a slow store has given it', async () => {
    void lane.go();
    room = 0;
    read();
    await settle();
    expect(sent).toBe(0);
    room = 100_000;
    void lane.go();
    read();
    await settle();
    expect(sent).toBe(3);
  });

  it('sends nothing over a line that broke meanwhile, and misses nothing by it', async () => {
    void lane.go();
    ready = false;
    read();
    await settle();
    expect(sent).toBe(0);
    ready = true;
    void lane.go();
    await settle();
    read();
    await settle();
    expect(sent).toBe(3);
  });
});
