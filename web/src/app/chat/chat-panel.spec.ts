import { provideHttpClient } from '@angular/common/http';
import { provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { ChatMessage } from '@juncta/contract/chat';
import type { Role } from '@juncta/core/team';
import { provideStore, Store, type Action } from '@ngrx/store';
import { tower } from '../destinations/testing';
import { RelayActions } from '../relay/relay.actions';
import { relayFeature } from '../relay/relay.feature';
import { TeamActions } from '../team/team.actions';
import { teamFeature } from '../team/team.feature';
import { ChatActions } from './chat.actions';
import { chatFeature } from './chat.feature';
import { ChatPanel } from './chat-panel';

const SHOW = 's';
const message = (id: string, change: Partial<ChatMessage> = {}): ChatMessage => ({
  id,
  showId: SHOW,
  destinationId: 'd',
  author: { id: 'ilse', name: 'Ilse', owner: false },
  text: `Text of ${id}`,
  writtenAtMs: Number(id.replace(/\D/g, '')),
  showTimeMs: 61_000,
  replyTo: null,
  sentBy: null,
  standing: 'shown',
  by: null,
  hiddenThere: null,
  question: 'none',
  ...change,
});

describe('the messages', () => {
  let fixture: ComponentFixture<ChatPanel>;
  let element: HTMLElement;
  let store: Store;
  let sent: Action[];

  async function setUp(role: Role, messages: readonly ChatMessage[]): Promise<void> {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({
          [chatFeature.name]: chatFeature.reducer,
          [relayFeature.name]: relayFeature.reducer,
          [teamFeature.name]: teamFeature.reducer,
        }),
      ],
    });
    store = TestBed.inject(Store);
    const member = { id: 'm', name: 'Ingrid', email: 'i@house.example', role };
    store.dispatch(TeamActions.sessionKnown({ session: { member, guest: null, demo: true } as never }));
    store.dispatch(RelayActions.opened({ showId: SHOW }));
    const view = { programme: null, destinations: [tower()], listings: [], composing: null, atMs: 0, seq: 1 };
    store.dispatch(RelayActions.known({ showId: SHOW, view }));
    fixture = TestBed.createComponent(ChatPanel);
    fixture.componentRef.setInput('showId', SHOW);
    fixture.componentRef.setInput('over', false);
    await fixture.whenStable();
    const known = { showId: SHOW, messages, lines: [], onProgramme: null, seq: 1, atMs: 0 };
    store.dispatch(ChatActions.known(known));
    await fixture.whenStable();
    element = fixture.nativeElement as HTMLElement;
    sent = [];
    const dispatch = store.dispatch.bind(store) as (action: Action) => void;
    spyOn(store, 'dispatch').and.callFake(((action: Action) => {
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
});
