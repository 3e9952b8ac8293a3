import fc from 'fast-check';
import { Outbox, type Lane } from './outbox';

describe('Outbox', () => {
  it('keeps what is made without a line, and goes on live at a keyframe', () => {
    const outbox = new Outbox();
    expect(outbox.add(1, true, 'video')).toBeFalse();
    outbox.connected();
    expect(outbox.wantsKey).toBeTrue();
    expect(outbox.add(2, false, 'video')).toBeFalse();
    expect(outbox.add(3, true, 'audio'))
      .withContext('sound is no keyframe')
      .toBeFalse();
    expect(outbox.add(4, true, 'video')).toBeTrue();
    expect(outbox.add(5, true, 'audio')).toBeTrue();
    expect(outbox.missedCount).toBe(3);
    expect(outbox.firstMissed).toBe(1);
  });

  it('sends again what was under way when the line broke', () => {
    const outbox = new Outbox();
    outbox.connected();
    for (let n = 1; n <= 5; n++) outbox.add(n, n === 1, 'video');
    outbox.acknowledged('live', 2);
    outbox.lost('live');
    expect([outbox.missedCount, outbox.firstMissed]).toEqual([3, 3]);
    expect(outbox.needs(1, 2)).toBeFalse();
    expect(outbox.needs(2, 3)).toBeTrue();
  });

  it('counts what is under way on the backlog lane as missed until it is safe', () => {
    const outbox = new Outbox();
    outbox.add(1, true, 'video');
    outbox.connected();
    expect(outbox.takeMissed(1)).toBeTrue();
    expect(outbox.missedCount).toBe(1);
    outbox.acknowledged('backlog', 1);
    expect([outbox.missedCount, outbox.done]).toEqual([0, true]);
  });

  it('skips to a keyframe when the line is too slow', () => {
    const outbox = new Outbox();
    outbox.connected();
    outbox.add(1, true, 'video');
    outbox.skipToKey();
    expect(outbox.add(2, false, 'video')).toBeFalse();
    expect(outbox.add(3, true, 'video')).toBeTrue();
  });

  it('ignores an acknowledgement of what it never sent there', () => {
    const outbox = new Outbox();
    outbox.connected();
    outbox.add(1, true, 'video');
    outbox.acknowledged('backlog', 1);
    outbox.acknowledged('live', 99);
    expect(outbox.done).toBeFalse();
  });

  it('has delivered everything in the end, whatever broke when', () => {
    const act = fc.constantFrom(
      'add',
      'add',
      'add',
      'ack',
      'ackBacklog',
      'break',
      'breakBacklog',
      'connect',
      'missed',
      'slow',
    );
    fc.assert(
      fc.property(fc.array(act, { maxLength: 150 }), (acts) => {
        const outbox = new Outbox();
        const delivered = new Set<number>();
        const wire: Record<Lane, number[]> = { live: [], backlog: [] };
        let made = 0;
        let open = false;
        const acknowledge = (lane: Lane, count: number) => {
          const got = wire[lane].splice(0, count);
          for (const number of got) delivered.add(number);
          if (got.length > 0) outbox.acknowledged(lane, got.at(-1)!);
        };
        const sendMissed = () => {
          const first = outbox.firstMissed;
          if (first !== null && outbox.takeMissed(first)) wire.backlog.push(first);
        };
        for (const one of acts) {
          if (one === 'add' && outbox.add(++made, made % 4 === 0, 'video')) wire.live.push(made);
          if (one === 'ack') acknowledge('live', 2);
          if (one === 'ackBacklog') acknowledge('backlog', 2);
          if (one === 'connect' && !open) {
            outbox.connected();
            open = true;
          }
          if (one === 'break' && open) {
            outbox.lost('live');
            wire.live = [];
            open = false;
          }
          if (one === 'breakBacklog') {
            outbox.lost('backlog');
            wire.backlog = [];
          }
          if (one === 'slow') outbox.skipToKey();
          if (one === 'missed') sendMissed();
        }
        acknowledge('live', Infinity);
        while (outbox.firstMissed !== null) sendMissed();
        acknowledge('backlog', Infinity);
        expect(outbox.done).toBeTrue();
        expect(delivered.size).toBe(made);
      }),
    );
  });
});
