import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { Actions } from '@ngrx/effects';
import { ScannedActionsSubject, Store, type Action } from '@ngrx/store';
import { tower } from '../../testing/destinations';
import { ChatActions } from '../chat.actions';
import { ChatWriter } from './chat-writer';
import { message, provideChat, SHOW, signIn } from '../../testing/chat';

/** A place that takes twenty bytes. */
function narrow(): ReturnType<typeof tower> {
  const place = tower({ id: 'narrow' });
  const { capabilities } = place.rules;
  const chat = { ...capabilities.chat, reply: { max: 20, unit: 'utf8_byte' } };
  return {
    ...place,
    rules: { ...place.rules, place: 'Narrow', capabilities: { ...capabilities, chat } as never },
  };
}

describe('what is written to viewers', () => {
  let fixture: ComponentFixture<ChatWriter>;
  let store: Store;
  let written: ReturnType<typeof ChatActions.write>[];

  beforeEach(() => {
    TestBed.configureTestingModule({
      providers: [...provideChat(), { provide: Actions, useExisting: ScannedActionsSubject }],
    });
    store = TestBed.inject(Store);
    signIn(store, 'moderator');
    written = [];
    TestBed.inject(ScannedActionsSubject).subscribe((action: Action) => {
      if (action.type === ChatActions.write.type)
        written.push(action as ReturnType<typeof ChatActions.write>);
    });
  });

  async function open(places = [tower()], showId = SHOW): Promise<void> {
    fixture = TestBed.createComponent(ChatWriter);
    fixture.componentRef.setInput('showId', showId);
    fixture.componentRef.setInput('places', places);
    fixture.componentRef.setInput('hasOpen', true);
    await fixture.whenStable();
  }
  const element = () => fixture.nativeElement as HTMLElement;
  const field = () => element().querySelector('textarea')!;
  const label = () => element().querySelector('label')!.textContent.trim();
  const submit = () => element().querySelector<HTMLButtonElement>('button[type=submit]')!;
  async function type(text: string): Promise<void> {
    field().value = text;
    field().dispatchEvent(new Event('input'));
    await fixture.whenStable();
  }
  async function press(key: string, more: KeyboardEventInit = {}): Promise<void> {
    field().dispatchEvent(new KeyboardEvent('keydown', { key, cancelable: true, ...more }));
    await fixture.whenStable();
  }
  const enter = (shiftKey = false) => press('Enter', { shiftKey });
  const outcome = (sent: boolean) => ({ destinationId: 'd', sent, sentence: sent ? null : 'Not there.' });
  async function answered(...sent: boolean[]): Promise<void> {
    const outcomes = sent.map(outcome) as never;
    store.dispatch(ChatActions.written({ id: written.at(-1)!.id, outcomes }));
    await fixture.whenStable();
  }

  it('goes to everybody with a second press of Enter, once, and leaves the field when all have it', async () => {
    await open();
    expect(label()).toBe('To viewers everywhere');
    await type('  Good evening  ');
    await enter(true);
    expect(written).toEqual([]);
    await enter();
    expect(written).toEqual([]);
    expect(submit().textContent).toContain('To everybody at 1 place. Press again');
    await enter();
    await enter();
    expect(written.map(({ text, replyTo }) => [text, replyTo])).toEqual([['Good evening', null]]);
    await answered(true, true);
    expect(field().value).toBe('');
  });

  it('stays in the field when one place did not take it, and is the same message when it is sent again', async () => {
    await open();
    await type('Good evening');
    await enter();
    await enter();
    await answered(true, false);
    expect(field().value).toBe('Good evening');
    await enter();
    await enter();
    expect(new Set(written.map(({ id }) => id)).size).toBe(1);
    expect(written.length).toBe(2);
    await type('Good evening all');
    await answered(true);
    await enter();
    await enter();
    expect(new Set(written.map(({ id }) => id)).size).toBe(2);
  });

  for (const [what, change] of [
    ['another text', () => type('Good evening all')],
    ['Escape', () => press('Escape')],
    ['a key that is held down', () => press('Enter', { repeat: true })],
    [
      'an answer in between',
      async () => {
        fixture.componentInstance.answer(message('m1'));
        await fixture.whenStable();
      },
    ],
  ] as const)
    it(`is not sent to all by ${what}`, async () => {
      await open();
      await type('Good evening');
      await enter();
      await change();
      await fixture.whenStable();
      expect(written).toEqual([]);
      if (what !== 'a key that is held down') expect(submit().textContent).not.toContain('Press again');
    });

  it('takes the cursor out of the field once it is sent, so that keys are keys again', async () => {
    await open();
    const done = jasmine.createSpy('done');
    fixture.componentInstance.done.subscribe(done);
    fixture.componentInstance.answer(message('m1'));
    await type('Ten days');
    await enter();
    expect(document.activeElement).toBe(field());
    await answered(true);
    expect(done).toHaveBeenCalledTimes(1);
  });

  it('is not sent empty, to nobody, or longer than a place takes', async () => {
    await open([]);
    await type('Good evening');
    expect(submit().disabled).toBeTrue();
    fixture.componentRef.setInput('places', [tower(), narrow()]);
    await fixture.whenStable();
    expect(submit().disabled).toBeFalse();
    await type('Good evening to all of you');
    expect(element().textContent).toContain('6 too long for Narrow');
    expect(submit().disabled).toBeTrue();
    await enter();
    await type('   ');
    await enter();
    expect(written).toEqual([]);
  });

  it('answers one viewer where they wrote, until it is meant for all', async () => {
    await open();
    fixture.componentInstance.answer(message('m1'));
    await fixture.whenStable();
    expect(label()).toContain('Answer to Ilse');
    await type('Ten days');
    await enter();
    expect(written.at(-1)!.replyTo).toBe('m1');
    await answered(true);
    fixture.componentInstance.answer(message('m2', { kind: 'private' }));
    await fixture.whenStable();
    expect(label()).toContain('To Ilse alone');
    [...element().querySelectorAll('button')].at(-1)!.click();
    await fixture.whenStable();
    expect(label()).toBe('To viewers everywhere');
  });

  it('is still there after a look at another page, for its own show', async () => {
    await open();
    fixture.componentInstance.answer(message('m1'));
    await type('Ten days, if');
    fixture.destroy();
    await open([tower()], 'another');
    expect([field().value, label()]).toEqual(['', 'To viewers everywhere']);
    fixture.componentRef.setInput('showId', SHOW);
    await fixture.whenStable();
    expect(field().value).toBe('Ten days, if');
    expect(label()).toContain('Answer to Ilse');
    await enter();
    await answered(true);
    fixture.destroy();
    await open();
    expect(field().value).toBe('');
  });
});
