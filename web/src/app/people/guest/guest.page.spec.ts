import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { computed, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { RoomSource, RoomView } from '@juncta/contract/people';
import type { Asked, Offer, OnStage } from '@juncta/core/people';
import { sourceId, type SourceId } from '@juncta/core/stage';
import { Subject } from 'rxjs';
import { GuestPage } from './guest.page';
import { RoomLink, type RoomStatus } from '../room/room-link';

const YOU = 'c0000000-0000-4000-8000-000000000001';
const CAMERA = sourceId('camera', YOU);
const SCREEN = sourceId('screen', YOU);

/** A room that does as it is told. */
class FakeRoom {
  readonly status = signal<RoomStatus>('away');
  readonly view = signal<RoomView | null>(null);
  readonly streams = signal({});
  readonly sign = computed(() => this.view()?.people[0]?.sign ?? 'wings');
  readonly done: string[] = [];
  readonly declined = new Subject<SourceId>();
  readonly sending = new Map<string, MediaStream>();
  offers: readonly Offer[] = [];

  send(source: string, stream: MediaStream | null): void {
    if (stream) this.sending.set(source, stream);
    else this.sending.delete(source);
  }
  offer(offers: readonly Offer[]): void {
    this.offers = offers;
  }
  decline(what: Asked): void {
    this.done.push(`decline ${what}`);
  }
  enter(): Promise<void> {
    this.done.push('enter');
    this.status.set('in');
    return Promise.resolve();
  }
  leave(): void {
    this.done.push('leave');
    this.status.set('away');
  }
  takeOver(): void {
    this.done.push('takeOver');
  }
  want(): void {
    // Nobody is received here.
  }
  put(
    sign: 'wings' | 'stage' | 'on_air',
    more: { asked?: Asked[]; stage?: OnStage[]; accepted?: SourceId[] } = {},
  ): void {
    const sources = this.offers.map((offer): RoomSource => ({
      ...offer,
      publication: 1,
      isAccepted: offer.source === CAMERA || (more.accepted ?? []).includes(offer.source),
    }));
    const you = { personId: YOU, sources, asked: more.asked ?? [], sign };
    this.view.set({ you: YOU, people: [you], stage: more.stage ?? [], programme: null, media: true });
  }
}

describe('the guest’s page', () => {
  let fixture: ComponentFixture<GuestPage>;
  let backend: HttpTestingController;
  let room: FakeRoom;
  let element: HTMLElement;
  let camera: MediaStream;

  beforeEach(() => {
    sessionStorage.removeItem('juncta.guest');
    camera = document.createElement('canvas').captureStream();
    spyOn(navigator.mediaDevices, 'getUserMedia').and.resolveTo(camera);
    room = new FakeRoom();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([]),
        { provide: RoomLink, useValue: room },
      ],
    });
    backend = TestBed.inject(HttpTestingController);
  });
  afterEach(() => sessionStorage.removeItem('juncta.guest'));

  async function open(): Promise<void> {
    fixture = TestBed.createComponent(GuestPage);
    element = fixture.nativeElement as HTMLElement;
    const view = {
      personId: YOU,
      name: 'Pascoe Trethewey',
      pictureFormat: '720p30',
      showTitle: 'Rye and patience',
      startsAtMs: null,
      zone: null,
      plannedMinutes: 60,
      hosts: ['Odalys Brandt'],
    };
    backend.expectOne('/api/guest').flush(view);
    await fixture.whenStable();
  }
  const key = (name: string) =>
    [...element.querySelectorAll('button')].find(({ textContent }) => textContent.includes(name));
  async function press(name: string): Promise<void> {
    key(name)!.click();
    await settled();
  }
  /** Cameras and rooms are opened in their own time. */
  async function settled(): Promise<void> {
    for (let turns = 0; turns < 5; turns++) await new Promise((turn) => setTimeout(turn));
    await fixture.whenStable();
  }
  async function goIn(): Promise<void> {
    await open();
    await press('Try camera and microphone');
    await press('Go in');
    for (let turns = 0; turns < 500 && room.status() !== 'in'; turns++) await settled();
  }
  const asksToStay = () => {
    // The runner of these specs takes a real `beforeunload` for the end of them.
    const leave = new Event('leave', { cancelable: true });
    fixture.componentInstance.onLeave(leave);
    return leave.defaultPrevented;
  };

  it('says what show it is, and that nobody sees or hears them yet', async () => {
    await open();
    expect(element.querySelector('h1')!.textContent).toContain('Rye and patience');
    expect(element.textContent).toContain('with Odalys Brandt');
    expect(element.textContent).toContain('You are not on air. Nobody sees or hears you.');
    expect(room.done).toEqual([]);
  });

  it('lets them in with the picture they have seen, and no other', async () => {
    await goIn();
    expect(room.done).toEqual(['enter']);
    expect(room.sending.get(CAMERA)!.getVideoTracks()).toEqual(camera.getVideoTracks());
    expect(room.offers).toEqual([{ source: CAMERA, video: 'there', audio: 'none' }]);
  });

  it('lets go of whoever waits at one press, and asks nothing', async () => {
    await goIn();
    room.put('wings');
    await settled();
    expect(asksToStay()).toBeFalse();
    await press('Leave');
    expect(room.done).toEqual(['enter', 'leave']);
    expect(key('Go in')).toBeDefined();
  });

  for (const sign of ['stage', 'on_air'] as const) {
    it(`lets nobody fall out of the programme by one wrong press (${sign})`, async () => {
      await goIn();
      room.put(sign);
      await settled();
      expect(asksToStay()).toBeTrue();
      await press('Leave');
      expect(room.done).toEqual(['enter']);
      await press('Press again: you are in the programme');
      expect(room.done).toEqual(['enter', 'leave']);
      expect(asksToStay()).toBeFalse();
    });
  }

  it('turns picture and sound off at the source, and says so to the room', async () => {
    await goIn();
    room.put('on_air');
    await settled();
    await press('Picture on');
    expect(room.offers[0]!.video).toBe('off');
    expect(camera.getVideoTracks()[0]!.enabled).toBeFalse();
    await press('Picture off');
    expect(camera.getVideoTracks()[0]!.enabled).toBeTrue();
  });

  it('comes back in by itself after a reload, and not after leaving', async () => {
    await goIn();
    fixture.destroy();
    room.done.length = 0;
    await open();
    for (let turns = 0; turns < 500 && room.done.length === 0; turns++) await settled();
    expect(room.done).toEqual(['enter']);
    room.put('wings');
    await settled();
    await press('Leave');
    fixture.destroy();
    room.done.length = 0;
    await open();
    await settled();
    expect(room.done).toEqual([]);
  });

  it('offers a screen, says what becomes of it, and ends it when the team does not need it', async () => {
    const shared = document.createElement('canvas').captureStream();
    spyOn(navigator.mediaDevices, 'getDisplayMedia').and.resolveTo(shared);
    await goIn();
    await press('Share a screen');
    expect([...room.sending.keys()]).toEqual([CAMERA, SCREEN]);
    room.put('wings');
    await settled();
    expect(element.textContent).toContain('Offered to the team');
    room.put('wings', { accepted: [SCREEN] });
    await settled();
    expect(element.textContent).toContain('The team sees it. Viewers do not.');
    const stage = [{ source: SCREEN, isSeen: true, isHeard: true }];
    room.put('on_air', { accepted: [SCREEN], stage });
    await settled();
    expect(element.textContent).toContain('Viewers see it now.');
    room.declined.next(SCREEN);
    await settled();
    expect(shared.getTracks()[0]!.readyState).toBe('ended');
    expect([...room.sending.keys()]).toEqual([CAMERA]);
    expect(room.offers.map(({ source }) => source)).toEqual([CAMERA]);
    expect(element.textContent).toContain('The team does not need what you shared.');
  });

  it('says that a screen is ended as soon as it is, and takes it along when the guest leaves', async () => {
    const screens = [0, 1].map(() => document.createElement('canvas').captureStream());
    spyOn(navigator.mediaDevices, 'getDisplayMedia').and.returnValues(
      ...screens.map((one) => Promise.resolve(one)),
    );
    await goIn();
    await press('Share a screen');
    // As with the bar that the browser shows.
    screens[0]!.getTracks()[0]!.stop();
    screens[0]!.getTracks()[0]!.dispatchEvent(new Event('ended'));
    await settled();
    expect(room.offers.map(({ source }) => source)).toEqual([CAMERA]);
    await press('Share a screen');
    expect(room.offers.length).toBe(2);
    await press('Leave');
    expect(room.offers).toEqual([]);
    expect(screens[1]!.getTracks()[0]!.readyState).toBe('ended');
  });

  it('passes on what the team asks: done by the guest, or not', async () => {
    await goIn();
    await press('Picture on');
    room.put('stage', { asked: ['video', 'screen'] });
    await settled();
    expect(element.textContent).toContain('The team asks you to turn your picture on.');
    await press('Turn picture on');
    expect(room.offers[0]!.video).toBe('there');
    const screen = [...element.querySelectorAll('jn-notice')].find(({ textContent }) =>
      textContent.includes('share your screen'),
    )!;
    [...screen.querySelectorAll('button')].at(-1)!.click();
    expect(room.done).toContain('decline screen');
  });

  it('says what the team has turned off', async () => {
    await goIn();
    room.put('on_air', { stage: [{ source: CAMERA, isSeen: true, isHeard: false }] });
    await settled();
    expect(element.textContent).toContain('The team has turned your sound off: viewers do not hear you.');
  });

  it('offers to go on here when the link is in use in another place', async () => {
    await open();
    room.status.set('elsewhere');
    await settled();
    await press('Go on here');
    expect(room.done).toEqual(['takeOver']);
  });

  it('says so when the link is taken back, and the camera goes dark', async () => {
    await goIn();
    expect(camera.getTracks().map(({ readyState }) => readyState)).toEqual(['live']);
    room.status.set('signed_out');
    await settled();
    expect(camera.getTracks().map(({ readyState }) => readyState)).toEqual(['ended']);
    expect(element.textContent).toContain('Your link does not work any more');
  });
});
