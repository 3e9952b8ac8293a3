import type { PacketMessage, EncoderRequest } from '../stage/messages';
import type { UplinkReport } from './messages';
import { FakeLine, fakeLines } from '../testing/uplink';
import { Uplink } from './uplink';

const VIDEO_FRAME_BYTES = 15_000;
/** A disk that has much to do takes its time. */
const PATIENCE_MS = 10_000;
const realNowMs = performance.now.bind(performance);

describe('the uplink', () => {
  let undo: () => void;
  let uplink: Uplink;
  let composer: MessagePort;
  let atUs: number;
  const wishes: EncoderRequest[] = [];
  const reports: UplinkReport[] = [];

  beforeEach(() => {
    jasmine
      .clock()
      .install()
      .mockDate(new Date(2026, 3, 1));
    // The store and messages between ports take their own time, whatever the clock says.
    spyOn(performance, 'now').and.callFake(() => Date.now());
    undo = fakeLines();
    wishes.length = 0;
    reports.length = 0;
    atUs = 0;
    begin();
  });
  afterEach(() => {
    uplink.stop();
    composer.close();
    jasmine.clock().uninstall();
    undo();
  });

  function begin(): void {
    const { port1, port2 } = new MessageChannel();
    composer = port1;
    composer.onmessage = ({ data }: MessageEvent<EncoderRequest>) => wishes.push(data);
    const start = {
      type: 'start',
      showId: crypto.randomUUID(),
      session: crypto.randomUUID(),
      uplinkUrl: 'ws://relay.invalid/uplink',
      ticket: 'a.ticket',
      packets: port2,
      size: { width: 1280, height: 720 },
      videoKbps: 4000,
      audioKbps: 160,
    } as const;
    uplink = new Uplink(start, (report) => reports.push(report));
  }

  /** Until it holds, in the browser's own time: what is asked for goes through ports and promises. */
  async function until(holds: () => boolean): Promise<void> {
    const untilMs = realNowMs() + PATIENCE_MS;
    while (!holds()) {
      if (realNowMs() > untilMs) throw new Error('it did not come about');
      await turn();
    }
  }
  const turn = () =>
    new Promise<void>((done) => {
      const { port1, port2 } = new MessageChannel();
      port1.onmessage = () => {
        port1.close();
        done();
      };
      port2.postMessage(null);
    });
  const live = () => FakeLine.of('live').at(-1)!;
  const backlog = () => FakeLine.of('backlog').at(-1);
  const connected = () => until(() => live()?.hello !== null && wishes.some(wantsKeyframe));
  const wantsKeyframe = ({ type }: EncoderRequest) => type === 'keyframe_wanted';

  function packet(more: Partial<PacketMessage> = {}): void {
    atUs += 33_333;
    const payload = new Uint8Array(VIDEO_FRAME_BYTES);
    composer.postMessage({
      track: 'video',
      key: false,
      slate: false,
      timeUs: atUs,
      durationUs: 33_333,
      payload,
      ...more,
    });
  }
  const videoFrames = (count: number) => {
    for (let i = 0; i < count; i++) packet();
  };

  it('says who it is, asks for a keyframe, and sends from there on', async () => {
    await connected();
    expect(live().hello).toEqual(
      jasmine.objectContaining({ ticket: 'a.ticket', lane: 'live', videoKbps: 4000, audioKbps: 160 }),
    );
    packet({ key: true });
    packet({ track: 'audio', key: true, payload: new Uint8Array(200) });
    videoFrames(2);
    await until(() => live().packets.length === 4);
    expect(live().numbers).toEqual([1, 2, 3, 4]);
    expect(live().packets.map(({ track }) => track)).toEqual(['video', 'audio', 'video', 'video']);
  });

  it('sends what was made before the keyframe on the other lane', async () => {
    await connected();
    videoFrames(3);
    packet({ key: true });
    await until(() => live().packets.length === 1);
    expect(live().numbers).toEqual([4]);
    live().takeAll();
    jasmine.clock().tick(1000);
    await until(() => backlog()?.packets.length === 3);
    expect(backlog()!.numbers).toEqual([1, 2, 3]);
  });

  it('comes back by itself, goes on at a keyframe, and sends again what nobody acknowledged', async () => {
    await connected();
    packet({ key: true });
    videoFrames(4);
    await until(() => live().packets.length === 5);
    live().answer({ type: 'acknowledged', lane: 'live', number: 2 });
    const first = live();
    first.break();
    videoFrames(2);
    wishes.length = 0;
    jasmine.clock().tick(4000);
    await until(() => live() !== first && live().hello !== null);
    await until(() => wishes.some(wantsKeyframe));
    packet({ key: true });
    await until(() => live().numbers.includes(8));
    live().takeAll();
    jasmine.clock().tick(1000);
    await until(() => (backlog()?.packets.length ?? 0) >= 5);
    expect(backlog()!.numbers).toEqual([3, 4, 5, 6, 7]);
  });

  it('tells whether viewers see the slate, for as long as the relay can say so', async () => {
    const told = () => reports.flatMap((report) => (report.type === 'covered' ? [report.on] : []));
    await connected();
    live().answer({ type: 'covered', on: true });
    live().answer({ type: 'covered', on: false });
    live().break();
    expect(told()).toEqual([true, false, null]);
  });

  it('takes a line on which nothing is said for dead', async () => {
    await connected();
    packet({ key: true });
    await until(() => live().packets.length === 1);
    const first = live();
    jasmine.clock().tick(3500);
    expect(first.closed).toBeFalse();
    jasmine.clock().tick(1600);
    expect(first.closed).toBeTrue();
  });

  it('lets what was missed wait while what is live does', async () => {
    await connected();
    videoFrames(3);
    packet({ key: true });
    videoFrames(30);
    await until(() => live().packets.length === 31);
    // The line is short: half came at once. The rest has been under way for a second by the time that anybody asks.
    live().answer({ type: 'measured', bytes: Math.round(live().bytes / 2) });
    jasmine.clock().tick(1000);
    for (let i = 0; i < 50; i++) await turn();
    expect(backlog()?.packets ?? []).toEqual([]);
    live().takeAll();
    await until(() => backlog()?.packets.length === 3);
    expect(backlog()!.numbers).toEqual([1, 2, 3]);
  });

  it('has no more of what was missed under way than the line can take', async () => {
    await connected();
    videoFrames(60);
    packet({ key: true });
    await until(() => live().packets.length === 1);
    live().takeAll();
    jasmine.clock().tick(1000);
    await until(() => (backlog()?.bytes ?? 0) > 250_000);
    backlog()!.answer({ type: 'measured', bytes: 0 });
    for (let i = 0; i < 20; i++) await turn();
    expect(backlog()!.bytes).toBeLessThan(350_000);
    for (let rounds = 0; rounds < 10 && backlog()!.packets.length < 60; rounds++) {
      const before = backlog()!.bytes;
      backlog()!.takeAll();
      await until(() => backlog()!.bytes > before || backlog()!.packets.length === 60);
    }
    expect(backlog()!.numbers).toEqual(Array.from({ length: 60 }, (_, i) => i + 1));
  });

  it('tries the other lane again only after a while when it breaks', async () => {
    await connected();
    videoFrames(2);
    packet({ key: true });
    await until(() => live().packets.length === 1);
    live().takeAll();
    jasmine.clock().tick(1000);
    await until(() => backlog()?.packets.length === 2);
    backlog()!.break();
    live().answer({ type: 'measured', bytes: live().bytes });
    for (let i = 0; i < 20; i++) await turn();
    expect(FakeLine.of('backlog').length).toBe(1);
    jasmine.clock().tick(1000);
    await until(() => FakeLine.of('backlog').length === 2 && backlog()!.packets.length === 2);
    expect(backlog()!.numbers).toEqual([1, 2]);
  });

  it('skips to the next keyframe when seconds of programme wait, and keeps what it skipped', async () => {
    await connected();
    packet({ key: true });
    live().answer({ type: 'measured', bytes: 0 });
    videoFrames(220);
    await until(() => live().bytes > 3_000_000);
    const upTo = live().numbers.at(-1)!;
    videoFrames(5);
    await turn();
    live().takeAll();
    jasmine.clock().tick(1000);
    await until(() => wishes.filter(wantsKeyframe).length > 1);
    packet({ key: true });
    await until(() => live().packets.at(-1)!.key);
    expect(live().numbers.at(-1)).toBe(227);
    live().takeAll();
    jasmine.clock().tick(1000);
    await until(() => (backlog()?.packets.length ?? 0) > 10);
    backlog()!.takeAll();
    await until(() => backlog()!.numbers.at(-1) === 226);
    expect(backlog()!.numbers[0]).toBe(upTo + 1);
  });

  it('has the picture softer within seconds when less arrives than is sent', async () => {
    await connected();
    // How long the line is says the first that comes.
    packet({ key: true });
    await until(() => live().packets.length === 1);
    jasmine.clock().tick(60);
    live().answer({ type: 'measured', bytes: live().bytes });
    videoFrames(30);
    await until(() => live().packets.length === 31);
    jasmine.clock().tick(1100);
    await until(() => wishes.some(({ type }) => type === 'rate'));
    const [rate] = wishes.flatMap((request) => (request.type === 'rate' ? [request.videoKbps] : []));
    expect(rate).toBeLessThan(4000);
    const figures = reports.flatMap((report) => (report.type === 'figures' ? [report] : [])).at(-1)!;
    expect(figures.videoKbps).toBe(rate!);
    expect(figures.waitingBytes).toBeGreaterThan(400_000);
  });

  it('is told a lower ceiling, and sends no more than that at once', async () => {
    await connected();
    uplink.limit(2500);
    await until(() => wishes.some(({ type }) => type === 'rate'));
    expect(wishes.at(-1)).toEqual({ type: 'rate', videoKbps: 2500 });
  });

  it('sends the slate again to a relay that has lost its memory', async () => {
    await connected();
    packet({ slate: true, key: true });
    await until(() => live().packets.length === 1);
    const first = live();
    first.break();
    jasmine.clock().tick(4000);
    await until(() => live() !== first && live().packets.length === 1);
    expect(live().packets[0]!.slate).toBeTrue();
  });

  it('sends a new slate in the place of the one before, to a relay that missed it as well', async () => {
    await connected();
    packet({ slate: true, key: true });
    packet({ slate: true, key: false });
    packet({ slate: true, key: true });
    await until(() => live().packets.length === 3);
    const first = live();
    first.break();
    jasmine.clock().tick(4000);
    await until(() => live() !== first && live().packets.length > 0);
    expect(live().packets.map(({ number, key }) => [number, key])).toEqual([[3, true]]);
  });

  it('says why it was refused, and does not come back until it has another ticket', async () => {
    FakeLine.greeting = { type: 'refused', code: 'ticket', sentence: 'This desk may not send.' };
    live()?.break();
    jasmine.clock().tick(4000);
    await until(() => reports.some(({ type }) => type === 'refused'));
    const lines = FakeLine.all.length;
    jasmine.clock().tick(20_000);
    await turn();
    expect(FakeLine.all.length).toBe(lines);
    FakeLine.greeting = 'welcome';
    uplink.renew('another.ticket', 'ws://relay.invalid/uplink');
    await until(() => live().hello?.ticket === 'another.ticket');
    expect(reports.find(({ type }) => type === 'refused')).toEqual(
      jasmine.objectContaining({ code: 'ticket', sentence: 'This desk may not send.' }),
    );
  });

  it('hands a renewed ticket to the lines that are open, and none of them is opened again', async () => {
    await connected();
    const lines = FakeLine.all.length;
    uplink.renew('another.ticket', 'ws://relay.invalid/uplink');
    expect(live().said).toEqual([{ type: 'renew', ticket: 'another.ticket' }]);
    expect(FakeLine.all.length).toBe(lines);
    live().break();
    jasmine.clock().tick(4000);
    await until(() => live().hello?.ticket === 'another.ticket');
  });

  it('carries the panic key straight to the relay', async () => {
    await connected();
    uplink.cover(true);
    expect(live().said).toEqual([{ type: 'cover', on: true }]);
  });
});
