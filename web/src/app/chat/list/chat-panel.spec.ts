import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { ChatMessage } from '@juncta/contract/chat';
import type { Role } from '@juncta/core/team';
import { Store, type Action } from '@ngrx/store';
import { ChatActions } from '../chat.actions';
import { ChatPanel } from './chat-panel';
import { known, message, provideChat, SHOW, signIn } from '../../testing/chat';
import { lookAtListings } from '../../testing/listings';

describe('the messages', () => {
  let fixture: ComponentFixture<ChatPanel>;
  let element: HTMLElement;
  let store: Store;
  let sent: Action[];

  async function setUp(role: Role, messages: readonly ChatMessage[], more = false): Promise<void> {
    TestBed.configureTestingModule({ providers: provideChat() });
    store = TestBed.inject(Store);
    signIn(store, role);
    lookAtListings(store, SHOW, { listings: [] });
    fixture = TestBed.createComponent(ChatPanel);
    fixture.componentRef.setInput('showId', SHOW);
    fixture.componentRef.setInput('over', false);
    await fixture.whenStable();
    store.dispatch(known(messages, { more }));
    await fixture.whenStable();
    element = fixture.nativeElement as HTMLElement;
    sent = [];
    const dispatch = store.dispatch.bind(store) as (action: Action) => void;
    spyOn(store, 'dispatch').and.callFake(((action: Action) => {
      // Where somebody reads is no order.
      if (action.type !== ChatActions.readingBack.type && action.type !== ChatActions.atNewest.type)
        sent.push(action);
      dispatch(action);
    }) as never);
  }
  const texts = () => [...element.querySelectorAll('li .text')].map((one) => one.textContent.trim());
  const press = async (name: string | RegExp) => {
    const found = [...element.querySelectorAll('button')].find((one) => {
      const label = one.textContent.replace(/\s+/g, ' ').trim();
      return typeof name === 'string' ? label === name : name.test(label);
    });
    if (!found) throw new Error(`there is no key ${String(name)}`);
    found.click();
    await fixture.whenStable();
  };

  const three = [
    message('m1'),
    message('m2', { standing: 'aside', by: 'links' }),
    message('m3', { question: 'lined_up' }),
    message('m4', { standing: 'hidden', by: 'Teo', hiddenThere: false }),
  ];

  it('are in a list of their own when they are not shown, and why is said', async () => {
    await setUp('moderator', three);
    expect(texts()).toEqual(['Text of m1', 'Text of m3']);
    await press(/^Set aside 2$/);
    expect(texts()).toEqual(['Text of m2', 'Text of m4']);
    const why = [...element.querySelectorAll('.why')].map((one) => one.textContent.trim());
    expect(why[0]).toBe('Set aside: an address');
    expect(why[1]).toContain('Hidden: Teo');
    expect(why[1]).toContain('Viewers there still see it.');
    await press(/^Questions 1$/);
    expect(texts()).toEqual(['Text of m3']);
  });

  it('stay in the house by one press, and leave it by two', async () => {
    await setUp('moderator', three);
    element.querySelector<HTMLElement>('[data-id="m1"]')!.click();
    await fixture.whenStable();
    await press('Hide');
    expect(sent.length).withContext('armed only').toBe(0);
    await press('Hide it there too');
    const hide = { showId: SHOW, messageId: 'm1', act: 'hide' } as const;
    expect(sent).toEqual([jasmine.objectContaining(hide)]);
    store.dispatch(
      ChatActions.moderated({
        messageId: 'm1',
        act: 'hide',
        messages: [message('m1', { standing: 'hidden', by: 'Ingrid', hiddenThere: true })],
        sentence: null,
      }),
    );
    await fixture.whenStable();
    expect(texts()).toEqual(['Text of m3']);
    await press('Undo');
    expect(sent.at(-1)).toEqual(jasmine.objectContaining({ messageId: 'm1', act: 'let_through' }));
  });

  it('go on the programme as long as reading them takes', async () => {
    await setUp('moderator', [message('m1', { text: 'x'.repeat(150) })]);
    element.querySelector<HTMLElement>('[data-id="m1"]')!.click();
    await fixture.whenStable();
    await press(/^On programme/);
    expect(sent).toEqual([jasmine.objectContaining({ messageId: 'm1', seconds: 11 })]);
  });

  it('stay where they are while somebody reads further up, and what comes is counted', async () => {
    await setUp(
      'moderator',
      Array.from({ length: 60 }, (_, i) => message(`m${100 + i}`)),
    );
    const list = element.querySelector<HTMLElement>('ul')!;
    list.style.cssText = 'height: 200px; overflow-y: auto; display: block';
    // It scrolls by itself, too: that is no reading.
    list.scrollTop = 80;
    list.dispatchEvent(new Event('scroll'));
    await fixture.whenStable();
    store.dispatch(ChatActions.added({ showId: SHOW, messages: [message('m998')] }));
    await fixture.whenStable();
    expect(texts().at(-1)).toBe('Text of m998');
    list.dispatchEvent(new Event('wheel'));
    list.scrollTop = 50;
    list.dispatchEvent(new Event('scroll'));
    await fixture.whenStable();
    const before = texts();
    // One that is newer, and one that was late and belongs in the middle.
    store.dispatch(ChatActions.added({ showId: SHOW, messages: [message('m999'), message('m110a')] }));
    await fixture.whenStable();
    expect(texts()).toEqual([...before, 'Text of m999']);
    await press(/^2 new below$/);
    expect(texts().at(-1)).toBe('Text of m999');
    expect(texts().length).toBe(63);
  });

  it('stay where they are while somebody deals with one, and go on when that is done', async () => {
    await setUp(
      'moderator',
      Array.from({ length: 60 }, (_, i) => message(`m${100 + i}`)),
    );
    const list = element.querySelector<HTMLElement>('ul')!;
    list.style.cssText = 'height: 200px; overflow-y: auto; display: block';
    list.scrollTop = list.scrollHeight;
    element.querySelector<HTMLElement>('[data-id="m157"]')!.click();
    await fixture.whenStable();
    await new Promise((drawn) => setTimeout(drawn));
    const { scrollTop } = list;
    const more = Array.from({ length: 12 }, (_, i) => message(`m${900 + i}`));
    store.dispatch(ChatActions.added({ showId: SHOW, messages: more }));
    await fixture.whenStable();
    await new Promise((drawn) => setTimeout(drawn));
    expect(list.scrollTop).toBe(scrollTop);
    expect(element.querySelector('.below')!.textContent).toContain('12 new below');
    // It is set aside, and with it what somebody stayed for.
    store.dispatch(
      ChatActions.added({ showId: SHOW, messages: [message('m157', { standing: 'aside', by: 'Ingrid' })] }),
    );
    await fixture.whenStable();
    expect(element.querySelector('jn-message-acts')).toBeNull();
    await press(/^12 new below$/);
    expect(texts().at(-1)).toBe('Text of m911');
    expect(element.querySelector('.below')).toBeNull();
  });

  it('are drawn only as far as they are near, and asked for when there are some before', async () => {
    await setUp(
      'moderator',
      Array.from({ length: 500 }, (_, i) => message(`m${1000 + i}`)),
      true,
    );
    expect(texts().length).toBe(80);
    expect(texts().at(-1)).toBe('Text of m1499');
    const list = element.querySelector<HTMLElement>('ul')!;
    list.style.cssText = 'height: 200px; overflow-y: auto; display: block';
    const toHead = async () => {
      list.dispatchEvent(new Event('wheel'));
      list.scrollTop = 1;
      list.dispatchEvent(new Event('scroll'));
      await fixture.whenStable();
    };
    for (let i = 0; i < 6; i++) await toHead();
    expect(texts()[0]).toBe('Text of m1000');
    await toHead();
    expect(sent.at(-1)).toEqual(ChatActions.earlier({ showId: SHOW }));
    const older = Array.from({ length: 200 }, (_, i) => message(`m${800 + i}`));
    store.dispatch(ChatActions.earlierKnown({ showId: SHOW, messages: older, more: false }));
    await fixture.whenStable();
    for (let i = 0; i < 4; i++) await toHead();
    expect(texts()[0]).toBe('Text of m800');
    expect(element.textContent).toContain('This is where it began.');
  });

  it('that are older than all that is here are not put in with a hole behind them', async () => {
    await setUp('moderator', [message('m500'), message('m501')], true);
    const muted = { standing: 'hidden' as const, by: 'Ingrid' };
    // One writer was muted: what they wrote long ago comes with the rest.
    store.dispatch(
      ChatActions.added({ showId: SHOW, messages: [message('m3', muted), message('m500', muted)] }),
    );
    await fixture.whenStable();
    await press(/^Set aside 1$/);
    expect(texts()).toEqual(['Text of m500']);
  });

  it('are found among all, and changed there as well', async () => {
    await setUp('moderator', [message('m1')]);
    await press(/^Find$/);
    const field = element.querySelector<HTMLSelectElement>('form select')!;
    field.dispatchEvent(new Event('change'));
    const asked = sent.at(-1) as ReturnType<typeof ChatActions.find>;
    expect(asked.type).toBe(ChatActions.find.type);
    const found = [message('m0', { text: 'Long ago' })];
    store.dispatch(ChatActions.found({ query: asked.query!, messages: found, more: false }));
    await fixture.whenStable();
    expect(texts()).toEqual(['Long ago']);
    expect(element.textContent).toContain('1 match');
    expect(element.textContent).withContext('of a few found').not.toContain('This is where it began.');
    store.dispatch(
      ChatActions.added({ showId: SHOW, messages: [message('m0', { text: 'Long ago', standing: 'aside' })] }),
    );
    await fixture.whenStable();
    expect(element.querySelector('.why')!.textContent).toContain('Set aside');
    store.dispatch(ChatActions.found({ query: asked.query!, messages: [], more: false }));
    await fixture.whenStable();
    expect(element.querySelector('.belongs')!.textContent).toBe('Nothing matches.');
    await press(/^Find$/);
    expect(texts()).toEqual(['Text of m1']);
    expect(element.textContent).toContain('This is where it began.');
  });

  it('say who wrote them: for the first time, once more, to the house alone, or not any more', async () => {
    const ilse = message('m1').author;
    await setUp('moderator', [
      message('m1', { first: true, author: { ...ilse, badges: ['regular'] } }),
      message('m2', { first: true, author: { ...ilse, id: 'orla', otherShows: 2 }, editedAtMs: 5 }),
      message('m3', { kind: 'private' }),
      message('m4', { kind: 'sale', first: true, text: 'bought a bag' }),
      message('m5', { takenBack: true, forHost: 'told' }),
    ]);
    const marks = [...element.querySelectorAll('li')].map((li) =>
      [...li.querySelectorAll('.mark')].map((mark) => mark.textContent),
    );
    expect(marks.slice(-5)).toEqual([
      ['new', 'regular'],
      ['back', 'changed'],
      ['to us alone'],
      ['sale'],
      ['told the host'],
    ]);
    const back = element.querySelectorAll<HTMLElement>('.mark')[2]!;
    expect(back.title).toContain('they wrote in 2 shows before');
    expect(element.textContent).toContain('Taken back by whoever wrote it');
    // Neither goes on the programme, by key or by button.
    for (const id of ['m3', 'm5']) {
      element.querySelector<HTMLElement>(`[data-id="${id}"]`)!.click();
      await fixture.whenStable();
      expect(element.querySelector('jn-message-acts')!.textContent).not.toContain('On programme');
      fixture.componentInstance.putChosen();
      fixture.componentInstance.lineUpChosen();
    }
    expect(sent.filter(({ type }) => type !== ChatActions.take.type)).toEqual([]);
    await press(/^To us alone 1$/);
    expect(texts()).toEqual(['Text of m3']);
  });

  it('have beside them what the team noted about their writer', async () => {
    await setUp('moderator', [
      message('m1'),
      message('m2', { author: { ...message('m2').author, id: 'orla' } }),
    ]);
    const note = { destinationId: 'd', authorId: 'orla', note: 'Asks well', by: 'Teo', atMs: 1 };
    store.dispatch(ChatActions.viewerNoted({ note }));
    await fixture.whenStable();
    expect([...element.querySelectorAll('.note')].map((one) => one.textContent)).toEqual(['Asks well']);
    store.dispatch(ChatActions.viewerNoted({ note: { ...note, note: '' } }));
    await fixture.whenStable();
    expect(element.querySelector('.note')).toBeNull();
  });

  it('say who of the others is at one, and tell them when somebody stays at one', async () => {
    jasmine.clock().install();
    await setUp('moderator', [
      message('m1', { takenBy: { memberId: 'other', name: 'Teo' } }),
      message('m2', { takenBy: { memberId: 'm', name: 'Ingrid' } }),
    ]);
    const marks = [...element.querySelectorAll('.taken')].map((one) => one.textContent.trim());
    expect(marks).toEqual(['Teo is at it']);
    element.querySelector<HTMLElement>('[data-id="m2"]')!.click();
    await fixture.whenStable();
    jasmine.clock().tick(500);
    expect(sent.some(({ type }) => type === ChatActions.take.type))
      .withContext('only passing by')
      .toBeFalse();
    jasmine.clock().tick(200);
    expect(sent.at(-1)).toEqual(ChatActions.take({ showId: SHOW, messageId: 'm2', act: 'take' }));
    element.querySelector<HTMLElement>('[data-id="m2"]')!.click();
    await fixture.whenStable();
    expect(sent.at(-1)).toEqual(ChatActions.take({ showId: SHOW, messageId: 'm2', act: 'release' }));
    jasmine.clock().uninstall();
  });

  it('of a flood go aside and come back with it, but not what a person dealt with', async () => {
    const flood = {
      id: 'f',
      showId: SHOW,
      sinceMs: 0,
      endedMs: null,
      messages: 3,
      writers: 3,
      destinationIds: ['d'],
      samples: ['Copied'],
      answer: 'open' as const,
      answeredBy: null,
    };
    await setUp('moderator', [
      message('m1', { flood: 'f' }),
      message('m2', { flood: 'f', standing: 'aside', by: 'repeat' }),
      message('m3', { flood: 'f', standing: 'hidden', by: 'Teo' }),
      message('m4'),
    ]);
    store.dispatch(ChatActions.floodChanged({ flood }));
    await fixture.whenStable();
    expect(element.textContent).toContain('A flood is coming in');
    await press('Set all of it aside');
    expect(sent.at(-1)).toEqual(ChatActions.answerFlood({ showId: SHOW, floodId: 'f', answer: 'aside' }));
    store.dispatch(ChatActions.floodAnswered({ flood: { ...flood, answer: 'aside', answeredBy: 'Ingrid' } }));
    await fixture.whenStable();
    expect(texts()).toEqual(['Text of m4']);
    store.dispatch(
      ChatActions.floodAnswered({ flood: { ...flood, answer: 'let_be', answeredBy: 'Ingrid' } }),
    );
    await fixture.whenStable();
    expect(texts()).toEqual(['Text of m1', 'Text of m2', 'Text of m4']);
    expect(element.querySelector('jn-flood-notice')!.textContent.trim()).toBe('');
  });

  it('are made short for the screen, and only there', async () => {
    await setUp('moderator', [message('m1', { text: 'A long text '.repeat(40) })]);
    element.querySelector<HTMLElement>('[data-id="m1"]')!.click();
    await fixture.whenStable();
    await press(/^Shorten$/);
    const field = element.querySelector<HTMLTextAreaElement>('textarea.short')!;
    expect(field.value.length).toBe(280);
    field.value = '  Short ';
    field.dispatchEvent(new Event('input'));
    await fixture.whenStable();
    await press(/^On programme/);
    expect(sent.at(-1)).toEqual(
      ChatActions.putOnProgramme({ showId: SHOW, messageId: 'm1', seconds: 3, text: 'Short' }),
    );
    expect(element.querySelector('textarea.short')).toBeNull();
  });
});
