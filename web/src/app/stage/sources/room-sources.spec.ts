import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { RoomPerson, RoomView } from '@juncta/contract/people';
import type { Offer, OnStage } from '@juncta/core/people';
import { adjustmentOf, EMPTY_STAGE, sourceId, type SourceId, type Stage } from '@juncta/core/stage';
import { RoomLink } from '../../people/room/room-link';
import { ComposingDesk } from '../composing-desk';
import { StageLink } from '../stage-link';
import { RoomSources } from './room-sources';

const CAMERA = sourceId('camera', 'pascoe');
const SCREEN = sourceId('screen', 'pascoe');
const offer = (source: SourceId): Offer => ({ source, video: 'there', audio: 'there' });

describe('guests’ sources at the desk', () => {
  const view = signal<RoomView | null>(null);
  const streams = signal<Readonly<Record<string, MediaStream>>>({});
  const stage = signal<Stage>(EMPTY_STAGE);
  let wanted: readonly string[];
  let told: readonly OnStage[][];
  let added: string[];
  let dropped: string[];

  beforeEach(() => {
    [wanted, told, added, dropped] = [[], [], [], []];
    view.set(null);
    streams.set({});
    stage.set(EMPTY_STAGE);
    const room = {
      view,
      streams,
      want: (all: readonly string[]) => (wanted = all),
      setStage: (on: OnStage[]) => (told = [...told, on]),
      send: () => undefined,
    };
    const desk = {
      status: signal('composing'),
      returnTo: () => undefined,
      dropSource: (id: string) => dropped.push(id),
      sources: {
        addGuest: ({ source }: Offer) => added.push(source),
        guestChanged: () => undefined,
        lose: () => undefined,
      },
    };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: RoomLink, useValue: room },
        { provide: ComposingDesk, useValue: desk },
        { provide: StageLink, useValue: { stage } },
      ],
    });
    TestBed.inject(RoomSources);
    jasmine.clock().install();
  });
  afterEach(() => jasmine.clock().uninstall());

  /** In the room with a camera, and with a screen if it is said what became of it. */
  function put(screen: 'offered' | 'accepted' | null, isIn = true): void {
    const sources = [
      { ...offer(CAMERA), publication: 1, isAccepted: true },
      ...(screen ? [{ ...offer(SCREEN), publication: 2, isAccepted: screen === 'accepted' }] : []),
    ];
    const pascoe: RoomPerson = { personId: 'pascoe', sources, asked: [], sign: 'wings' };
    view.set({ you: null, people: isIn ? [pascoe] : [], stage: [], programme: null, media: true });
    TestBed.tick();
  }

  it('are received when a desk wants them, and not before', () => {
    put('offered');
    expect(wanted).toEqual([CAMERA]);
    put('accepted');
    expect(wanted).toEqual([CAMERA, SCREEN]);
    streams.set({ [CAMERA]: new MediaStream(), [SCREEN]: new MediaStream() });
    TestBed.tick();
    expect(added).toEqual([CAMERA, SCREEN]);
  });

  it('leave the stage when their owner ends them', () => {
    put('accepted');
    put(null);
    expect(dropped).toEqual([SCREEN]);
  });

  it('keep their place while their owner is away for a moment, and not for long', () => {
    put('accepted');
    put('accepted', false);
    jasmine.clock().tick(9_000);
    put('accepted');
    jasmine.clock().tick(60_000);
    expect(dropped).toEqual([]);
    put('accepted', false);
    jasmine.clock().tick(10_000);
    expect(dropped).withContext('the camera keeps its place').toEqual([SCREEN]);
  });

  it('are told that they are heard and not seen where a layout is for fewer', () => {
    const layers = [sourceId('camera', 'odalys'), CAMERA].map((source) => ({
      source,
      place: { by: 'layout' } as const,
    }));
    stage.set({ ...EMPTY_STAGE, programme: { ...EMPTY_STAGE.programme, layout: 'alone', layers } });
    TestBed.tick();
    expect(told.at(-1)!.map(({ isSeen, isHeard }) => [isSeen, isHeard])).toEqual([
      [true, true],
      [false, true],
    ]);
  });

  it('are told of what is on programme, once for every difference they would notice', () => {
    const layers = [{ source: CAMERA, place: { by: 'layout' } as const }];
    const on = { ...EMPTY_STAGE, programme: { ...EMPTY_STAGE.programme, layers } };
    for (const one of [
      on,
      { ...on, takes: 4 },
      { ...on, adjustments: { [CAMERA]: { ...adjustmentOf(on, CAMERA), isMuted: true } } },
    ]) {
      stage.set(one);
      TestBed.tick();
    }
    expect(told).toEqual([
      [{ source: CAMERA, isSeen: true, isHeard: true }],
      [{ source: CAMERA, isSeen: true, isHeard: false }],
    ]);
  });
});
