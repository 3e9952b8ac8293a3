import { SLOW_MACHINE, type EncodingMachine } from './encode-cost';
import type { Rendition } from './planner';
import {
  getsOf,
  joinRunning,
  planProgramme,
  whoGetsProgramme,
  type EncoderLimit,
  type Place,
} from './programme-plan';

const machine = (cores: number): EncodingMachine => ({ cores, cost: SLOW_MACHINE, isMeasured: false });
const place = (id: string, change: Partial<EncoderLimit> = {}): Place => ({
  id,
  encoder: {
    shape: 'landscape',
    maxHeight: 1080,
    maxFramesPerS: 60,
    maxKbps: 12_000,
    keyframeS: 2,
    ...change,
  },
});
const STRICT = place('strict', { maxFramesPerS: 30, maxKbps: 4200 });

describe('what a programme sends, and what its places get', () => {
  it('is all that is wanted where every place takes it, and nothing is encoded', () => {
    const plan = planProgramme('1080p60', [place('a'), place('b')], machine(0));
    expect([plan.programme.videoKbps, plan.copied, plan.renditions]).toEqual([9000, ['a', 'b'], []]);
  });

  it('is a little less for everybody where a place takes nearly as much: that is seen by nobody', () => {
    const plan = planProgramme('720p30', [place('a'), STRICT], machine(8));
    expect([plan.programme.videoKbps, plan.copied, plan.cores]).toEqual([3840, ['a', 'strict'], 0]);
  });

  it('is not lowered for a place that takes much less: it gets a rendition of its own', () => {
    const plan = planProgramme('1080p30', [place('a'), STRICT], machine(8));
    expect([plan.programme.videoKbps, plan.copied]).toEqual([6500, ['a']]);
    expect(getsOf(plan, 'a')).toEqual({ kind: 'programme' });
    expect(getsOf(plan, 'strict')).toEqual({
      kind: 'rendition',
      rendition: { shape: 'landscape', height: 1080, rateHz: 30, videoKbps: 3840, keyframeS: 2 },
    });
  });

  it('has fewer bits for everybody where nothing can be encoded, and leaves out who takes no such picture', () => {
    for (const none of [machine(0), null]) {
      const lowered = planProgramme('1080p30', [place('a'), STRICT], none);
      expect([lowered.programme.videoKbps, lowered.copied, lowered.unserved]).toEqual([
        3840,
        ['a', 'strict'],
        [],
      ]);
      const beyond = planProgramme('1080p60', [place('a'), STRICT], none);
      expect([beyond.programme.videoKbps, beyond.copied]).toEqual([9000, ['a']]);
      expect(getsOf(beyond, 'strict')).toEqual({ kind: 'none' });
    }
  });

  it('has a smaller picture for one place rather than fewer bits for seven', () => {
    const many = ['a', 'b', 'c', 'd', 'e', 'f', 'g'].map((id) => place(id));
    const plan = planProgramme('1080p30', [...many, STRICT], machine(1));
    expect([plan.programme.videoKbps, plan.copied.length, plan.unserved]).toEqual([6500, 7, []]);
    const [{ rendition, cores }] = plan.renditions as [(typeof plan.renditions)[0]];
    expect([rendition.height, rendition.videoKbps]).toEqual([720, 3840]);
    expect(cores).toBeCloseTo(0.187 + 0.249 + 0.47, 2);
  });
});

describe('the limits of a programme', () => {
  const plan = planProgramme('1080p60', [place('a'), STRICT], machine(4));

  it('are those of the places that get it, and not of those for which is encoded apart', () => {
    expect(whoGetsProgramme(plan, [], [])).toEqual(['a']);
    expect(whoGetsProgramme(plan, ['a', 'strict'], ['strict'])).toEqual(['a']);
  });

  it('stay those of a place that gets it now, though a later plan would encode for it', () => {
    // It was started while it took as much as the show had; another place came since, and the plan is another.
    expect(whoGetsProgramme(plan, ['strict'], []).toSorted()).toEqual(['a', 'strict']);
  });
});

describe('a place that joins', () => {
  const plan = planProgramme('1080p60', [place('a'), STRICT], machine(4));
  const own: Rendition = { shape: 'landscape', height: 1080, rateHz: 30, videoKbps: 3840, keyframeS: 2 };
  const join = (running: readonly Rendition[], coresLeft: number) =>
    joinRunning(plan, STRICT, running, machine(4), coresLeft);
  const gets = (rendition: Rendition) => ({ kind: 'rendition' as const, rendition });

  it('gets the programme where it takes it, whatever runs', () =>
    expect(joinRunning(plan, place('a'), [own], machine(4), 0)).toEqual({ kind: 'programme' }));

  it('gets its own rendition where that runs, or where there is room', () => {
    expect(join([own], 0)).toEqual(gets(own));
    expect(join([], 2)).toEqual(gets(own));
  });

  it('gets the best that runs and that it takes where there is no room; or nothing', () => {
    const small = { ...own, height: 720, videoKbps: 2500 };
    expect(join([{ ...own, videoKbps: 5000 }, { ...small, height: 480 }, small], 0.1)).toEqual(gets(small));
    expect(join([{ ...own, videoKbps: 5000 }], 0.1)).toEqual({ kind: 'none' });
  });
});
