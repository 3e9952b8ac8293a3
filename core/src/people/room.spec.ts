import { FEED_STATES } from '../feeds';
import { enterBy, mayWatch, onAirSign, PROGRAMME_PUBLISHER } from './room';

describe('the room of a show', () => {
  const guest = { kind: 'guest', personId: 'pascoe' } as const;

  it('lets a desk receive everybody, and not its own programme', () => {
    expect(mayWatch({ kind: 'desk' }, 'pascoe', [])).toBeTrue();
    expect(mayWatch({ kind: 'desk' }, PROGRAMME_PUBLISHER, [])).toBeFalse();
  });

  it('lets a guest receive the programme and the others on stage, never themselves', () => {
    const stage = ['pascoe', 'mei-lin'];
    expect(mayWatch(guest, PROGRAMME_PUBLISHER, [])).toBeTrue();
    expect(mayWatch(guest, 'mei-lin', stage)).toBeTrue();
    expect(mayWatch(guest, 'pascoe', stage)).toBeFalse();
    expect(mayWatch(guest, 'wanjiru', stage))
      .withContext('somebody in the wings')
      .toBeFalse();
  });

  it('lets a link be used in one place at a time', () => {
    expect(enterBy(null, 'tab-1', false)).toBe('free');
    expect(enterBy('tab-1', 'tab-1', false))
      .withContext('a reload')
      .toBe('free');
    expect(enterBy('tab-1', 'tab-2', false)).toBe('taken');
    expect(enterBy('tab-1', 'tab-2', true)).toBe('moves');
  });

  it('says on air for every feed that may reach viewers, and for nobody in the wings', () => {
    const signs = Object.fromEntries(FEED_STATES.map((state) => [state, onAirSign(true, [state])]));
    expect(signs).toEqual({
      off: 'stage',
      dialling: 'stage',
      held: 'stage',
      sending: 'on_air',
      on_air: 'on_air',
      recovering: 'on_air',
      ended: 'stage',
      failed: 'stage',
    });
    for (const state of FEED_STATES) expect(onAirSign(false, [state])).toBe('wings');
    expect(onAirSign(true, ['failed', 'on_air'])).toBe('on_air');
    expect(onAirSign(true, [])).toBe('stage');
  });
});
