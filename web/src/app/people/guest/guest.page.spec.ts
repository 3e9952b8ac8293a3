import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { computed, provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { RoomView } from '@juncta/contract/people';
import { GuestPage } from './guest.page';
import { RoomLink, type RoomStatus } from '../room/room-link';

const YOU = 'c0000000-0000-4000-8000-000000000001';

/** A room that does as it is told. */
class FakeRoom {
  readonly status = signal<RoomStatus>('away');
  readonly view = signal<RoomView | null>(null);
  readonly streams = signal({});
  readonly sign = computed(() => this.view()?.people[0]?.sign ?? 'wings');
  readonly done: string[] = [];
  sending: MediaStream | null = null;
  sends: object | null = null;

  send(stream: MediaStream | null): void {
    this.sending = stream;
  }
  setSends(sends: object): void {
    this.sends = sends;
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
  put(sign: 'wings' | 'stage' | 'on_air'): void {
    const you = { personId: YOU, publication: 1, sends: { video: true, audio: true }, sign };
    this.view.set({ you: YOU, people: [you], stage: [], programme: null, media: true });
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
      name: 'Pascoe Trethewey',
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
    expect(room.sending!.getVideoTracks()).toEqual(camera.getVideoTracks());
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
    expect(room.sends).toEqual({ video: false, audio: true });
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
