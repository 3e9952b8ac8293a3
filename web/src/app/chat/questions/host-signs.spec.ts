import { TestBed } from '@angular/core/testing';
import { Store, type Action } from '@ngrx/store';
import { ChatActions } from '../chat.actions';
import { ForHost } from './for-host';
import { NextQuestion } from './next-question';
import { known, message, provideChat, SHOW, signIn } from '../../testing/chat';

describe('what only the host has to know of', () => {
  it('is told to the host alone, one after the other, until it is seen', async () => {
    TestBed.configureTestingModule({ providers: provideChat() });
    const store = TestBed.inject(Store);
    signIn(store, 'host', 'Odalys');
    store.dispatch(ChatActions.opened({ showId: SHOW }));
    const fixture = TestBed.createComponent(ForHost);
    fixture.componentRef.setInput('showId', SHOW);
    const told = [
      message('m1', { forHost: 'told', text: 'Your sleeve' }),
      message('m2', { forHost: 'told' }),
    ];
    store.dispatch(ChatActions.added({ showId: SHOW, messages: [...told, message('m3')] }));
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    expect(element.textContent).toContain('Your sleeve');
    expect(element.textContent).toContain('one more behind it');
    const dispatched = spyOn(store, 'dispatch').and.callThrough();
    element.querySelector('button')!.click();
    const seen = { showId: SHOW, messageId: 'm1', act: 'host_seen' as const };
    expect(dispatched).toHaveBeenCalledWith(ChatActions.moderate(seen) as never);
    signIn(store, 'producer', 'Odalys');
    await fixture.whenStable();
    expect(element.textContent.trim()).toBe('');
  });
});

describe('the next question', () => {
  it('is the first that is lined up and shown, with how many wait behind it', async () => {
    TestBed.configureTestingModule({ providers: provideChat() });
    const store = TestBed.inject(Store);
    signIn(store, 'host', 'Odalys');
    store.dispatch(ChatActions.opened({ showId: SHOW }));
    const fixture = TestBed.createComponent(NextQuestion);
    fixture.componentRef.setInput('showId', SHOW);
    await fixture.whenStable();
    const element = fixture.nativeElement as HTMLElement;
    expect(element.textContent).toContain('Questions that are lined up come here');
    const messages = [
      message('m1', { question: 'answered' }),
      message('m2', { question: 'lined_up', standing: 'hidden' }),
      message('m3', { question: 'lined_up', text: 'How warm?' }),
      message('m4', { question: 'lined_up' }),
      message('m5', { question: 'lined_up' }),
    ];
    store.dispatch(known(messages));
    await fixture.whenStable();
    expect(element.querySelector('.text')!.textContent).toBe('How warm?');
    expect(element.textContent).toContain('2 more behind it');
    const sent: Action[] = [];
    spyOn(store, 'dispatch').and.callFake(((action: Action) => sent.push(action)) as never);
    [...element.querySelectorAll('button')].find((one) => one.textContent.trim() === 'Answered')!.click();
    expect(sent).toEqual([ChatActions.moderate({ showId: SHOW, messageId: 'm3', act: 'answered' })]);
  });
});
