import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { RoomSource, RoomView } from '@juncta/contract/people';
import type { ShowPerson } from '@juncta/contract/shows';
import { EMPTY_STAGE, sourceId, type SourceId, type Stage } from '@juncta/core/stage';
import { provideStore, Store } from '@ngrx/store';
import { RoomLink } from '../../people/room/room-link';
import { StandIns } from '../../people/room/stand-ins';
import { TeamActions } from '../../team/team.actions';
import { teamFeature } from '../../team/team.feature';
import { ComposingDesk } from '../composing-desk';
import { StageLink } from '../stage-link';
import { WhoComposes } from '../who-composes';
import { PeoplePanel } from './people-panel';

const NAMES = ['Odalys', 'Pascoe', 'Mei-Lin', 'Wanjiru', 'Soraya', 'Ilse', 'Ngozi', 'Benedikt'];
const PEOPLE = NAMES.map((name): ShowPerson => ({
  id: name.toLowerCase(),
  memberId: null,
  name,
  part: 'guest',
  about: '',
}));
const PASCOE = sourceId('camera', 'pascoe');
const SCREEN = sourceId('screen', 'pascoe');

describe('people at the desk', () => {
  let fixture: ComponentFixture<PeoplePanel>;
  let said: string[];
  const stage = signal<Stage>(EMPTY_STAGE);
  const view = signal<RoomView | null>(null);

  beforeEach(() => {
    said = [];
    stage.set(EMPTY_STAGE);
    view.set(null);
    const room = {
      view,
      ask: (who: string, what: string) => said.push(`ask ${who} ${what}`),
      accept: (source: string, isAccepted: boolean) =>
        said.push(`${isAccepted ? 'accept' : 'refuse'} ${source}`),
    };
    const link = {
      stage,
      takeOff: () => undefined,
      bringOn: (source: string) => said.push(`on ${source}`),
    };
    const standIns = {
      personIds: signal([]),
      busy: signal(false),
      problem: signal(null),
      available: signal(false),
    };
    const desk = { missing: signal([]), sources: { deviceProblem: signal(null) } };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideStore({ [teamFeature.name]: teamFeature.reducer }),
        { provide: StageLink, useValue: link },
        { provide: RoomLink, useValue: room },
        { provide: StandIns, useValue: standIns },
        { provide: ComposingDesk, useValue: desk },
        { provide: WhoComposes, useValue: { isHere: signal(true), isAnywhere: signal(true) } },
      ],
    });
    const member = { id: 'm', name: 'Teo', email: '', role: 'producer' };
    TestBed.inject(Store).dispatch(
      TeamActions.sessionKnown({ session: { member, guest: null, demo: true } as never }),
    );
  });

  async function open(on: boolean): Promise<HTMLElement> {
    fixture = TestBed.createComponent(PeoplePanel);
    fixture.componentRef.setInput('people', PEOPLE);
    fixture.componentRef.setInput('on', on);
    fixture.componentRef.setInput('none', 'nobody');
    await fixture.whenStable();
    return fixture.nativeElement as HTMLElement;
  }
  function pascoeHas(...sources: Partial<RoomSource>[]): void {
    const all = sources.map((one): RoomSource => ({
      source: PASCOE,
      video: 'there',
      audio: 'there',
      publication: 1,
      isAccepted: true,
      ...one,
    }));
    const pascoe = { personId: 'pascoe', sources: all, asked: [], sign: 'wings' } as const;
    view.set({ you: null, people: [pascoe], stage: [], programme: null, media: true });
  }
  const atHand = (...sources: SourceId[]): void => {
    const all = sources.map(
      (source) => ({ source, origin: 'guest', video: 'there', audio: 'there' }) as const,
    );
    stage.set({ ...stage(), sources: all });
  };
  const putOn = (...sources: SourceId[]): void => {
    const layers = sources.map((source) => ({ source, place: { by: 'layout' } as const }));
    stage.set({ ...stage(), programme: { ...EMPTY_STAGE.programme, layers } });
  };
  const rows = (element: HTMLElement) =>
    [...element.querySelectorAll('jn-source-row')].map((row) =>
      row.textContent.replaceAll(/\s+/g, ' ').trim(),
    );
  const press = (element: HTMLElement, name: string) =>
    element.querySelector<HTMLElement>(`button[aria-label="${name}"]`)!.click();

  it('have what a guest offers before everything else, to accept or to decline', async () => {
    pascoeHas({}, { source: SCREEN, isAccepted: false });
    atHand(PASCOE);
    const element = await open(false);
    expect(rows(element)[0]).toBe('Screen of Pascoeoffered by a guest Accept Decline');
    expect(rows(element)[1]).toContain('here by link');
    press(element, 'Decline Screen of Pascoe');
    press(element, 'Accept Screen of Pascoe');
    expect(said).toEqual([`refuse ${SCREEN}`, `accept ${SCREEN}`]);
  });

  it('are told of whoever is on stage with their sound off, and may ask for it', async () => {
    pascoeHas({ audio: 'off' });
    atHand(PASCOE);
    putOn(PASCOE);
    const element = await open(true);
    expect(element.textContent).toContain('Their sound is off: they turned it off themselves.');
    press(element, 'Ask Pascoe to turn their sound on');
    expect(said).toEqual(['ask pascoe audio']);
  });

  it('are told of whoever is heard and not seen, since the layout is for fewer', async () => {
    atHand(PASCOE, sourceId('camera', 'odalys'));
    putOn(sourceId('camera', 'odalys'), PASCOE);
    const element = await open(true);
    expect(element.textContent).not.toContain('heard, not seen');
    stage.update((now) => ({ ...now, programme: { ...now.programme, layout: 'alone' } }));
    await fixture.whenStable();
    const told = rows(element).filter((words) => words.includes('heard, not seen'));
    expect(told.length).toBe(1);
    expect(told[0]).toMatch(/^Pascoe/);
  });

  it('have a line each while they are few, and share lines with nothing but numbers when they are many', async () => {
    const cameras = PEOPLE.map(({ id }) => sourceId('camera', id));
    atHand(...cameras.slice(0, 6));
    putOn(cameras[0]!);
    const element = await open(false);
    expect(rows(element)[0]).toMatch(/^Pascoe Guest, here by link ?Bring on/);
    atHand(...cameras);
    await fixture.whenStable();
    expect(element.querySelector('ul')!.classList).toContain('many');
    expect(element.textContent).not.toContain('here by link');
    // Whoever reads with their ears hears the whole.
    press(element, 'Bring on Pascoe');
    expect(said).toEqual([`on ${PASCOE}`]);
  });
});
