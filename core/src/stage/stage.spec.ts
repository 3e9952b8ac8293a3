import fc from 'fast-check';
import { act, hear, stageOf, startReplica, type KnownStage, type StageReplica } from './replica';
import { peopleIn, placedIn } from './scene';
import { outsideSource, sourceId } from './sources';
import { AS_IT_COMES } from './adjustment';
import {
  adjustmentOf,
  changeStage,
  EMPTY_STAGE,
  isBare,
  isCleared,
  type Stage,
  type StageChange,
} from './stage';

const [A, B, C] = ['a', 'b', 'c'].map((person) => sourceId('camera', person)) as [
  ReturnType<typeof sourceId>,
  ReturnType<typeof sourceId>,
  ReturnType<typeof sourceId>,
];
const on = (source: typeof A): StageChange => ({ type: 'scene', event: { type: 'bring_on', source } });
const take = (takes: number): StageChange => ({ type: 'take', takes });
const after = (...changes: StageChange[]): Stage =>
  changes.reduce((stage: Stage, change) => changeStage(stage, change).stage, EMPTY_STAGE);
const shown = ({ programme, armed }: Stage) => [placedIn(programme), armed && placedIn(armed)];

describe('the stage', () => {
  it('is changed at once while nothing is armed, and prepared unseen while something is', () => {
    expect(shown(after(on(A)))).toEqual([[A], null]);
    expect(shown(after(on(A), { type: 'arm' }))).toEqual([[A], [A]]);
    expect(shown(after(on(A), { type: 'arm' }, on(B)))).toEqual([[A], [A, B]]);
    expect(shown(after(on(A), { type: 'arm' }, on(B), { type: 'arm' }))).toEqual([[A], [A, B]]);
    expect(shown(after(on(A), { type: 'arm' }, on(B), { type: 'disarm' }, on(C)))).toEqual([[A, C], null]);
    const direct: StageChange = { type: 'programme', event: { type: 'take_off', source: A } };
    expect(shown(after(on(A), { type: 'arm' }, on(B), direct))).toEqual([[], [A, B]]);
  });

  it('takes what is armed, and goes back by the next take', () => {
    const ready = [on(A), { type: 'arm' } as const, on(B)];
    expect(shown(after(...ready, take(0)))).toEqual([[A, B], [A]]);
    expect(shown(after(...ready, take(0), take(1)))).toEqual([[A], [A, B]]);
  });

  it('takes once when two desks take at the same moment', () => {
    const taken = after(on(A), { type: 'arm' }, on(B), take(0));
    const second = changeStage(taken, take(0));
    expect(second.refused).toBe('taken_before');
    expect(second.stage).toBe(taken);
  });

  it('keeps how a source is adjusted, whatever scene it stands in', () => {
    const adjust = (values: object): StageChange => ({ type: 'adjust', source: A, values });
    const stage = after(adjust({ zoom: 2 }), on(A), adjust({ mirror: true }), { type: 'clear' });
    expect(adjustmentOf(stage, A)).toEqual({ ...AS_IT_COMES, zoom: 2, mirror: true });
    expect(adjustmentOf(stage, B)).toBe(AS_IT_COMES);
  });

  describe('with outside pictures', () => {
    const outside = (inputId: string, source: ReturnType<typeof sourceId> | null): StageChange => ({
      type: 'outside',
      inputId,
      source,
    });
    const whole = outsideSource('i');

    it('has each as one source, which changes in its place and takes what it was off with it', () => {
      const brought = after(outside('i', whole), on(A), on(whole), { type: 'arm' }, on(B));
      expect(brought.outside).toEqual([{ inputId: 'i', source: whole }]);
      expect(shown(brought)).toEqual([
        [A, whole],
        [A, whole, B],
      ]);
      const asC = changeStage(brought, outside('i', C)).stage;
      expect(shown(asC)).toEqual([
        [A, C],
        [A, C, B],
      ]);
      expect(asC.programme.layers.filter(({ place }) => place.by === 'layer').length).toBe(2);
      const gone = changeStage(asC, outside('i', null)).stage;
      expect(shown(gone)).toEqual([[A], [A, B]]);
      expect(gone.outside).toEqual([]);
    });

    it('puts a source that is placed already where the other was', () => {
      const stage = after(outside('i', whole), on(whole), on(A), outside('i', A));
      expect(shown(stage)).toEqual([[A], null]);
    });

    it('takes the same twice, each source once, and no more than can be decoded', () => {
      const four = ['a', 'b', 'c', 'd'].map((id) => outside(id, outsideSource(id)));
      expect(after(...four, ...four).outside.length).toBe(4);
      const full = after(...four);
      expect(changeStage(full, outside('e', outsideSource('e'))).refused).toBe('too_many_outside');
      expect(changeStage(full, outside('a', outsideSource('b'))).refused).toBe('source_taken');
      expect(changeStage(full, outside('a', C)).refused).toBe(null);
    });

    it('is cleared of them, and counts none of them as people', () => {
      const stage = after(outside('i', whole), on(whole), on(A));
      expect(peopleIn(stage.programme)).toEqual(['a']);
      expect(isCleared(after(outside('i', whole)))).toBe(false);
      expect(isCleared(changeStage(stage, { type: 'clear' }).stage)).toBe(true);
    });
  });

  it('refuses to take what is not there', () => {
    expect(changeStage(EMPTY_STAGE, take(0)).refused).toBe('nothing_armed');
  });

  it('is bare after it was cleared, with its layout kept', () => {
    const cleared = after(on(A), { type: 'arm' }, on(B), take(0), { type: 'clear' });
    expect([isBare(cleared), cleared.armed, cleared.programme.layout]).toEqual([true, null, 'auto']);
  });

  it('shows the slate that is chosen while there is no picture, and the first one again when it was cleared', () => {
    expect(EMPTY_STAGE.slate).toBe('before');
    const broken = after({ type: 'slate', slate: 'break' });
    expect([broken.slate, isCleared(broken)]).toEqual(['break', false]);
    const cleared = changeStage(broken, { type: 'clear' }).stage;
    expect([cleared.slate, isCleared(cleared)]).toEqual(['before', true]);
  });
});

describe('a desk’s copy of the stage', () => {
  const start = () => startReplica({ version: 0, stage: EMPTY_STAGE });
  const doing = (replica: StageReplica, id: string, change: StageChange) =>
    act(replica, { id, change }).replica;

  it('shows at once what is done here, over what the others did', () => {
    const mine = doing(start(), '1', on(B));
    expect(placedIn(stageOf(mine).programme)).toEqual([B]);
    const both = hear(mine, { version: 1, stage: after(on(A)) }, []);
    expect(placedIn(stageOf(both).programme)).toEqual([A, B]);
    const settled = hear(both, { version: 2, stage: after(on(A), on(B)) }, ['1']);
    expect([placedIn(stageOf(settled).programme), settled.waiting]).toEqual([[A, B], []]);
  });

  it('does not go back when an old word comes late, and keeps no change that was refused', () => {
    const now = hear(start(), { version: 5, stage: after(on(A)) }, []);
    expect(hear(now, { version: 3, stage: EMPTY_STAGE }, []).known.version).toBe(5);
    const taken = act(hear(start(), { version: 1, stage: after(on(A), { type: 'arm' }) }, []), {
      id: 't',
      change: take(0),
    }).replica;
    expect(stageOf(hear(taken, { version: 1, stage: taken.known.stage }, ['t'])).takes).toBe(0);
  });

  it('refuses here already what cannot be', () => {
    const { replica, refused } = act(start(), { id: 't', change: take(0) });
    expect([refused, replica.waiting]).toEqual(['nothing_armed', []]);
  });

  it('comes to what the server has, however desks and words cross', () => {
    const anyChange = fc.constantFrom<StageChange>(
      on(A),
      on(B),
      on(C),
      { type: 'arm' },
      { type: 'disarm' },
      { type: 'scene', event: { type: 'take_off', source: A } },
      { type: 'scene', event: { type: 'layout', layout: 'row' } },
    );
    /** Who does what; null: the server takes what waits at a desk, and tells both. */
    const anyStep = fc.record({ desk: fc.nat(1), change: fc.option(anyChange) });
    fc.assert(
      fc.property(fc.array(anyStep, { maxLength: 30 }), (steps) => {
        const desks = [start(), start()];
        let known: KnownStage = { version: 0, stage: EMPTY_STAGE };
        let ids = 0;
        const deliver = (desk: number) => {
          const given = desks[desk]!.waiting;
          if (given.length === 0) return;
          const stage = given.reduce((before, { change }) => changeStage(before, change).stage, known.stage);
          known = { version: known.version + 1, stage };
          const done = given.map(({ id }) => id);
          desks.forEach((replica, i) => (desks[i] = hear(replica, known, done)));
        };
        for (const { desk, change } of steps) {
          if (change) desks[desk] = doing(desks[desk]!, String(ids++), change);
          else deliver(desk);
        }
        deliver(0);
        deliver(1);
        for (const replica of desks) {
          expect(replica.waiting).toEqual([]);
          expect(stageOf(replica)).toEqual(known.stage);
        }
      }),
    );
  });
});
