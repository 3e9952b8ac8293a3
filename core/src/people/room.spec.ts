import { FEED_STATES } from '../feeds';
import { sourceId } from '../stage';
import {
  ASKABLE,
  enterBy,
  maySend,
  mayWatch,
  needsAccepting,
  onAirSign,
  PROGRAMME_PUBLISHER,
  stillAsked,
  type Offer,
} from './room';

describe('the room of a show', () => {
  const guest = { kind: 'guest', personId: 'pascoe' } as const;
  const desk = { kind: 'desk' } as const;
  const [PASCOE, MEI_LIN] = [sourceId('camera', 'pascoe'), sourceId('camera', 'mei-lin')];
  const SLIDES = sourceId('screen', 'mei-lin');
  const seenAndHeard = { isSeen: true, isHeard: true };

  it('lets a desk receive everybody, and not its own programme', () => {
    expect(mayWatch(desk, PASCOE, [])).toBeTrue();
    expect(mayWatch(desk, SLIDES, [])).toBeTrue();
    expect(mayWatch(desk, PROGRAMME_PUBLISHER, [])).toBeFalse();
  });

  it('lets a guest receive the programme and the others on stage, never themselves', () => {
    const stage = [PASCOE, MEI_LIN].map((source) => ({ source, ...seenAndHeard }));
    expect(mayWatch(guest, PROGRAMME_PUBLISHER, [])).toBeTrue();
    expect(mayWatch(guest, MEI_LIN, stage)).toBeTrue();
    expect(mayWatch(guest, PASCOE, stage)).toBeFalse();
    expect(mayWatch(guest, SLIDES, stage))
      .withContext('a screen in the wings')
      .toBeFalse();
    expect(mayWatch(guest, SLIDES, [{ source: SLIDES, ...seenAndHeard }])).toBeTrue();
  });

  it('lets no guest hear whom the desk has turned off', () => {
    expect(mayWatch(guest, MEI_LIN, [{ source: MEI_LIN, isSeen: true, isHeard: false }])).toBeFalse();
    expect(mayWatch(guest, MEI_LIN, [{ source: MEI_LIN, isSeen: false, isHeard: true }])).toBeTrue();
  });

  const SENDING: readonly [string, boolean][] = [
    ['camera:pascoe:1', true],
    ['camera:pascoe:3', true],
    ['camera:pascoe:4', false],
    ['screen:pascoe:1', true],
    ['overlay:pascoe:1', false],
    ['camera:mei-lin:1', false],
    [PROGRAMME_PUBLISHER, false],
  ];
  for (const [publisher, may] of SENDING) {
    it(`lets a guest send what is theirs, and some of it (${publisher}: ${may})`, () => {
      expect(maySend(guest, publisher as never)).toBe(may);
    });
  }

  it('lets a desk send the programme, and nothing else', () => {
    expect(maySend(desk, PROGRAMME_PUBLISHER)).toBeTrue();
    expect(maySend(desk, PASCOE)).toBeFalse();
  });

  it('lets a first camera in, and has everything else accepted', () => {
    expect(needsAccepting(PASCOE)).toBeFalse();
    expect(needsAccepting(sourceId('camera', 'pascoe', 2))).toBeTrue();
    expect(needsAccepting(SLIDES)).toBeTrue();
  });

  const offer = (more: Partial<Offer>): Offer => ({
    source: PASCOE,
    video: 'there',
    audio: 'there',
    ...more,
  });
  const ASKING: readonly [string, readonly Offer[], readonly string[]][] = [
    ['nothing is there', [], ['audio', 'video', 'screen']],
    ['all of it is off', [offer({ video: 'off', audio: 'off' })], ['audio', 'video', 'screen']],
    ['the microphone is on', [offer({ video: 'off' })], ['video', 'screen']],
    ['another one stands in for it', [offer({ video: 'gone', audio: 'replaced' })], ['video', 'screen']],
    ['a screen is offered, whose sound is no voice', [offer({ source: SLIDES })], ['audio', 'video']],
  ];
  for (const [what, offers, left] of ASKING) {
    it(`asks until it has come about: ${what}`, () => {
      expect(stillAsked(ASKABLE, offers)).toEqual(left as never);
    });
  }

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
