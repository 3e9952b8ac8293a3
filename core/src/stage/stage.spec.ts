import fc from 'fast-check';
import { act, hear, stageOf, startReplica, type KnownStage, type StageReplica } from './replica';
import { placedIn } from './scene';
import { sourceId } from './sources';
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
