import type { Offer } from '@juncta/core/people';
import { sourceId } from '@juncta/core/stage';
import { RoomState } from './room-state';

describe('what is known of a room', () => {
  const PASCOE = sourceId('camera', 'pascoe');
  const SCREEN = sourceId('screen', 'pascoe');
  const offer = (source = PASCOE, more: Partial<Offer> = {}): Offer => ({
    source,
    video: 'there',
    audio: 'there',
    ...more,
  });
  let state: RoomState;
  beforeEach(() => (state = new RoomState()));
  const pascoe = () => state.view(null, [], true).people.find(({ personId }) => personId === 'pascoe');
  const accepted = () =>
    pascoe()
      ?.sources.filter(({ isAccepted }) => isAccepted)
      .map(({ source }) => source);

  it('is who offers something, and whether it arrives', () => {
    state.offer('pascoe', [offer()]);
    expect(pascoe()).toEqual({
      personId: 'pascoe',
      sources: [{ ...offer(), publication: null, isAccepted: true }],
      asked: [],
      sign: 'wings',
    });
    state.arrives(PASCOE, 4);
    expect(pascoe()!.sources[0]!.publication).toBe(4);
    state.arrives(PASCOE, 5);
    state.endsArriving(PASCOE, 4);
    expect(pascoe()!.sources[0]!.publication).withContext('the end of the one before').toBe(5);
    state.leave('pascoe');
    expect(pascoe()).toBeUndefined();
  });

  it('lets nothing but a first camera in by itself', () => {
    state.offer('pascoe', [offer(), offer(SCREEN)]);
    expect(accepted()).toEqual([PASCOE]);
    state.accept(SCREEN);
    expect(accepted()).toEqual([PASCOE, SCREEN]);
    state.refuse(SCREEN);
    expect(accepted()).toEqual([PASCOE]);
  });

  it('keeps what was accepted for whoever comes back, and not for what was ended', () => {
    state.offer('pascoe', [offer(), offer(SCREEN)]);
    state.accept(SCREEN);
    state.leave('pascoe');
    state.offer('pascoe', [offer(), offer(SCREEN)]);
    expect(accepted()).toEqual([PASCOE, SCREEN]);
    state.offer('pascoe', [offer()]);
    state.offer('pascoe', [offer(), offer(SCREEN)]);
    expect(accepted()).withContext('another screen').toEqual([PASCOE]);
  });

  it('takes a desk’s word for what was accepted before, but for what was ended meanwhile', () => {
    state.remember([SCREEN]);
    state.offer('pascoe', [offer(), offer(SCREEN)]);
    expect(accepted()).toEqual([PASCOE, SCREEN]);
    state.offer('pascoe', [offer()]);
    state.remember([SCREEN]);
    state.offer('pascoe', [offer(), offer(SCREEN)]);
    expect(accepted()).toEqual([PASCOE]);
  });

  it('asks somebody who is there, once, until they have done it or will not', () => {
    state.ask('pascoe', 'audio');
    expect(pascoe()).withContext('nobody is there to be asked').toBeUndefined();
    state.offer('pascoe', [offer(PASCOE, { audio: 'off', video: 'off' })]);
    for (const what of ['audio', 'audio', 'video', 'screen'] as const) state.ask('pascoe', what);
    expect(pascoe()!.asked).toEqual(['audio', 'video', 'screen']);
    state.offer('pascoe', [offer(PASCOE, { video: 'off' })]);
    expect(pascoe()!.asked).toEqual(['video', 'screen']);
    state.answer('pascoe', 'video');
    expect(pascoe()!.asked).toEqual(['screen']);
    state.ask('pascoe', 'audio');
    expect(pascoe()!.asked).withContext('it is on already').toEqual(['screen']);
  });

  it('says on stage for whoever has any source there', () => {
    state.offer('pascoe', [offer(), offer(SCREEN)]);
    state.stage = [{ source: SCREEN, isSeen: true, isHeard: true }];
    expect(pascoe()!.sign).toBe('stage');
    expect(state.view('pascoe', ['on_air'], true).people[0]!.sign).toBe('on_air');
  });
});
