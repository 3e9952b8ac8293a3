import { HttpTestingController } from '@angular/common/http/testing';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { Practice } from '@juncta/contract/chat';
import { Store } from '@ngrx/store';
import { tower } from '../../testing/destinations';
import { ShowsActions } from '../../shows/shows.actions';
import { ChatActions } from '../chat.actions';
import { chatFeature } from '../chat.feature';
import { PracticeBar } from './practice-bar';
import { PracticeDialog } from './practice-dialog';
import { known, message, provideChat, SHOW, signIn } from '../../testing/chat';
import { lookAtListings } from '../../testing/listings';

const PRACTICE: Practice = { by: 'Ingrid', startedMs: 1000, speed: 2, messages: 312, given: 120 };
const flood = (id: string, sinceMs: number) => ({
  id,
  showId: SHOW,
  sinceMs,
  endedMs: null,
  messages: 20,
  writers: 9,
  destinationIds: ['d'],
  samples: ['come over'],
  answer: 'open' as const,
  answeredBy: null,
});
const OUR_TOWER = { destinations: [tower({ id: 'd', name: 'Our tower' })], listings: [] };

function setUp(listingsKnown = true) {
  TestBed.configureTestingModule({ providers: provideChat() });
  const store = TestBed.inject(Store);
  signIn(store, 'moderator');
  store.dispatch(ChatActions.opened({ showId: SHOW }));
  if (listingsKnown) lookAtListings(store, SHOW, OUR_TOWER);
  return { store, backend: TestBed.inject(HttpTestingController) };
}
const press = async (fixture: ComponentFixture<unknown>, label: string) => {
  const element = fixture.nativeElement as HTMLElement;
  [...element.querySelectorAll('button')].find((one) => one.textContent.trim() === label)!.click();
  await fixture.whenStable();
};
const textOf = (fixture: ComponentFixture<unknown>) =>
  (fixture.nativeElement as HTMLElement).textContent.replace(/\s+/g, ' ');

describe('a practice', () => {
  it('takes with it all that came with it, and nothing else', () => {
    const { store } = setUp();
    const messages = [message('m1'), message('m2', { practice: true }), message('m3')];
    const floods = [flood('in practice', 2000), flood('before', 500)];
    store.dispatch(known(messages, { practice: PRACTICE, floods }));
    const query = { text: 'Text', destinationId: null, kind: null, fromShowTimeMs: null, before: null };
    store.dispatch(ChatActions.find({ showId: SHOW, query }));
    store.dispatch(ChatActions.found({ query, messages: messages.slice(1), more: false }));
    const held = () => store.selectSignal(chatFeature.selectChatState)();
    store.dispatch(ChatActions.practiceChanged({ showId: SHOW, practice: { ...PRACTICE, given: 121 } }));
    expect(held().messages.length).toBe(3);
    store.dispatch(ChatActions.practiceChanged({ showId: 'another', practice: null }));
    expect(held().messages.length).toBe(3);
    store.dispatch(ChatActions.practiceChanged({ showId: SHOW, practice: null }));
    expect(held().messages.map(({ id }) => id)).toEqual(['m1', 'm3']);
    expect(held().found!.messages!.map(({ id }) => id)).toEqual(['m3']);
    expect(held().floods.map(({ id }) => id)).toEqual(['before']);
  });

  it('says how far it is, and what was done beside what was done that evening', async () => {
    const { store, backend } = setUp();
    const fixture = TestBed.createComponent(PracticeBar);
    fixture.componentRef.setInput('showId', SHOW);
    fixture.componentRef.setInput('mayWrite', true);
    await fixture.whenStable();
    expect(textOf(fixture).trim()).toBe('');
    store.dispatch(known([], { practice: PRACTICE }));
    await fixture.whenStable();
    expect(textOf(fixture)).toContain('120 of 312 messages have come, begun by Ingrid');
    await press(fixture, 'End the practice');
    backend.expectNone(() => true);
    await press(fixture, 'End it for all, and clear');
    const outcome = {
      given: 120,
      notShownThen: 14,
      notShownBoth: 11,
      notShownNow: 17,
      askedThen: 5,
      askedBoth: 5,
      askedNow: 6,
    };
    backend
      .expectOne(({ method, url }) => method === 'DELETE' && url === `/api/shows/${SHOW}/chat/practice`)
      .flush({ outcome });
    store.dispatch(ChatActions.practiceChanged({ showId: SHOW, practice: null }));
    await fixture.whenStable();
    expect(textOf(fixture)).toContain(
      'Of 14 that were set aside or hidden that evening, 11 were so now, and 6 more. ' +
        'Of 5 questions, 5 became one again, and 1 more.',
    );
    await press(fixture, 'Put away');
    expect(textOf(fixture).trim()).toBe('');
  });

  it('is begun with a show that is over, or a file, and says beforehand what it will be', async () => {
    const { store, backend } = setUp();
    const show = (id: string, endedAtMs: number | null) => ({ id, endedAtMs, text: { title: `Show ${id}` } });
    const shows = [show('early', 1), show('late', 2), show('planned', null), show(SHOW, 3)] as never;
    store.dispatch(ShowsActions.known({ shows, series: [], seq: 1 }));
    const fixture = TestBed.createComponent(PracticeDialog);
    fixture.componentRef.setInput('showId', SHOW);
    fixture.componentRef.setInput('headingId', 'h');
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    const choice = element.querySelector('select')!;
    expect([...choice.options].map(({ text }) => text)).toEqual(['Choose one', 'Show late', 'Show early']);
    const begin = () =>
      [...element.querySelectorAll('button')].find((one) => one.textContent.trim() === 'Begin')!;
    expect(begin().disabled).toBe(true);
    choice.value = 'late';
    choice.dispatchEvent(new Event('change'));
    const lines = [
      { text: 'one', author: 'Ilse', writtenAtMs: 0, destination: 'Our tower' },
      { text: 'two', author: 'Ilse', writtenAtMs: 600_000, destination: 'Elsewhere' },
      { text: 'ours', author: 'us', writtenAtMs: 1, destination: 'Our tower', owner: true },
    ].map((line) => JSON.stringify(line));
    backend.expectOne('/api/shows/late/chat.jsonl').flush(new Blob([[...lines, 'no line'].join('\n')]));
    const told = () => element.querySelector('[role=status]')!.textContent;
    for (let i = 0; i < 200 && !told().includes('2 messages'); i++) {
      await new Promise((later) => setTimeout(later, 25));
      await fixture.whenStable();
    }
    expect(told()).toContain('2 messages. What the house wrote (1) is left out');
    expect(told()).toContain('One line could not be read.');
    expect(told()).toContain('This show does not go to Elsewhere');
    element.querySelectorAll<HTMLInputElement>('[name=practice-speed]')[3]!.click();
    await fixture.whenStable();
    const closed = jasmine.createSpy();
    fixture.componentInstance.closed.subscribe(closed);
    await press(fixture, 'Begin');
    const asked = backend.expectOne(`/api/shows/${SHOW}/chat/practice/8`);
    const another = { code: 'not_ready', sentence: 'Teo practises here already.' };
    asked.flush(another, { status: 409, statusText: 'Conflict' });
    await fixture.whenStable();
    expect(textOf(fixture)).toContain('Teo practises here already.');
    expect(closed).not.toHaveBeenCalled();
    await press(fixture, 'Begin');
    backend.expectOne(`/api/shows/${SHOW}/chat/practice/8`).flush(PRACTICE);
    expect(closed).toHaveBeenCalled();
  });
});

describe('a file to practise with', () => {
  async function choose(listingsKnown: boolean) {
    const { store } = setUp(listingsKnown);
    const fixture = TestBed.createComponent(PracticeDialog);
    fixture.componentRef.setInput('showId', SHOW);
    fixture.componentRef.setInput('headingId', 'h');
    await fixture.whenStable();
    const line = JSON.stringify({ text: 'one', author: 'Ilse', writtenAtMs: 0, destination: 'Elsewhere' });
    const chosen = new DataTransfer();
    chosen.items.add(new File([line], 'evening.jsonl'));
    const input = (fixture.nativeElement as HTMLElement).querySelector<HTMLInputElement>('[type=file]')!;
    input.files = chosen.files;
    input.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    return { store, fixture };
  }
  const says = async (fixture: ComponentFixture<unknown>, sentence: string) => {
    for (let i = 0; i < 200 && !textOf(fixture).includes(sentence); i++) {
      await new Promise((later) => setTimeout(later, 25));
      await fixture.whenStable();
    }
    expect(textOf(fixture)).toContain(sentence);
  };

  it('may be chosen before it is known where the show goes', async () => {
    const { store, fixture } = await choose(false);
    expect(textOf(fixture)).toContain('Reading the messages');
    lookAtListings(store, SHOW, OUR_TOWER);
    await says(fixture, 'One message.');
  });

  it('needs a destination as whose its messages come', async () => {
    const { store, fixture } = await choose(false);
    lookAtListings(store, SHOW, { destinations: [], listings: [] });
    await says(fixture, 'This show goes nowhere yet.');
    lookAtListings(store, SHOW, OUR_TOWER);
    await says(fixture, 'One message.');
    expect(textOf(fixture)).not.toContain('goes nowhere');
  });
});

describe('moments of the show', () => {
  it('that were known by the rule move once more is known, where they were written only', () => {
    const { store } = setUp();
    const about = { showTimeAbout: true };
    store.dispatch(
      known([
        message('m1', { ...about, showTimeMs: 20_000 }),
        message('m2', { showTimeMs: 20_000 }),
        message('m3', { ...about, showTimeMs: 20_000, destinationId: 'other' }),
        message('m4', { ...about, showTimeMs: 4000 }),
        message('m5', { ...about, showTimeMs: null }),
      ]),
    );
    store.dispatch(ChatActions.timesRighted({ showId: SHOW, destinationId: 'd', byMs: -5000 }));
    const now = store.selectSignal(chatFeature.selectMessages)();
    expect(now.map(({ showTimeMs, showTimeAbout }) => [showTimeMs, showTimeAbout])).toEqual([
      [15_000, false],
      [20_000, false],
      [20_000, true],
      [null, false],
      [null, false],
    ]);
  });
});
