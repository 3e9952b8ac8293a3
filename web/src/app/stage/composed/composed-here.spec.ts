import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { ProgrammeReport } from '@juncta/contract/relay';
import { provideStore, Store } from '@ngrx/store';
import { ProgrammeActions } from '../../programme/programme.actions';
import { programmeFeature } from '../../programme/programme.feature';
import { ComposedHere } from './composed-here';
import type { LeavingFor } from './leaving';
import { WakeLock } from './wake-lock';

const SHOW = { id: 'show-a', title: 'Rye and patience' };

describe('what this tab composes', () => {
  let here: ComposedHere;
  let ended: number;
  let awake: jasmine.Spy;

  beforeEach(() => {
    ended = 0;
    awake = jasmine.createSpy('want');
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideStore({ [programmeFeature.name]: programmeFeature.reducer }),
        { provide: WakeLock, useValue: { want: awake } },
      ],
    });
    here = TestBed.inject(ComposedHere);
  });
  afterEach(() => {
    here.ended();
    TestBed.tick();
    document.querySelectorAll('ngb-modal-window').forEach((left) => left.remove());
  });

  const begin = () =>
    here.began(SHOW, () => {
      ended += 1;
      here.ended();
    });
  /** Another show is looked at, or this one is, and has a run or has none. */
  function looks(showId: string, runId: string | null): void {
    const store = TestBed.inject(Store);
    store.dispatch(ProgrammeActions.opened({ showId }));
    const programme = { showId, runId } as ProgrammeReport;
    store.dispatch(ProgrammeActions.programmeChanged({ programme }));
    TestBed.tick();
  }
  const asksToStay = () => {
    // The runner of these specs takes a real `beforeunload` for the end of them.
    const leave = new Event('leave', { cancelable: true });
    here.onLeave(leave);
    return leave.defaultPrevented;
  };

  it('is nothing at first, and nobody is asked anything', async () => {
    looks('show-a', 'run');
    expect(here.show()).toBeNull();
    expect(asksToStay()).toBeFalse();
    expect(await here.mayLeaveFor({ what: 'sign_out' })).toBeTrue();
    expect(awake.calls.mostRecent().args).toEqual([false]);
  });

  it('is on air while it has a run, whatever show is looked at, and keeps the computer awake', () => {
    begin();
    looks('show-a', null);
    expect([here.onAir(), asksToStay()]).toEqual([false, false]);
    looks('show-a', 'run');
    expect([here.onAir(), asksToStay()]).toEqual([true, true]);
    expect(awake.calls.mostRecent().args).toEqual([true]);
    looks('show-b', null);
    expect([here.onAir(), asksToStay()]).toEqual([true, true]);
    looks('show-a', null);
    expect([here.onAir(), asksToStay()]).toEqual([false, false]);
    expect(awake.calls.mostRecent().args).toEqual([false]);
  });

  it('is not on air any more once nothing is composed here', () => {
    begin();
    looks('show-a', 'run');
    here.ended();
    TestBed.tick();
    expect([here.onAir(), asksToStay()]).toEqual([false, false]);
  });

  it('may always go to its own desk', async () => {
    begin();
    expect(await here.mayLeaveFor({ what: 'desk', showId: 'show-a' })).toBeTrue();
    expect(ended).toBe(0);
  });

  async function asked(leaving: LeavingFor): Promise<{ dialog: HTMLElement; answer: Promise<boolean> }> {
    const answer = here.mayLeaveFor(leaving);
    for (let turns = 0; turns < 1000 && !document.querySelector('jn-leave-programme h2'); turns++)
      await new Promise((turn) => setTimeout(turn, 10));
    TestBed.tick();
    return { dialog: document.querySelector<HTMLElement>('jn-leave-programme')!, answer };
  }
  const press = (dialog: HTMLElement, name: string) =>
    [...dialog.querySelectorAll('button')].find(({ textContent }) => textContent.includes(name))!.click();

  it('is asked about before another desk is opened, and stays where it is when it is not meant', async () => {
    begin();
    looks('show-a', 'run');
    const { dialog, answer } = await asked({ what: 'desk', showId: 'show-b' });
    expect(dialog.textContent).toContain('This tab composes “Rye and patience”');
    expect(dialog.textContent).toContain('It is on air.');
    const other = dialog.querySelector('a')!;
    expect([other.getAttribute('href'), other.target]).toEqual(['/desk/show-b', '_blank']);
    press(dialog, 'Stay with it');
    expect(await answer).toBeFalse();
    expect(ended).toBe(0);
  });

  it('is ended in good order when going on is meant', async () => {
    begin();
    looks('show-a', null);
    const { dialog, answer } = await asked({ what: 'sign_out' });
    expect(dialog.textContent).toContain('Nothing of it goes out yet.');
    expect(dialog.querySelector('a')).toBeNull();
    press(dialog, 'Stop composing and sign out');
    expect(await answer).toBeTrue();
    expect(ended).toBe(1);
  });
});
