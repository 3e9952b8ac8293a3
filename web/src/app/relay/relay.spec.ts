import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { ProgrammeView } from '@juncta/contract/programme';
import type { Recording } from '@juncta/contract/recordings';
import type { FeedReport, ProgrammeReport } from '@juncta/contract/relay';
import type { Show } from '@juncta/contract/shows';
import type { Role } from '@juncta/core/team';
import { provideStore, Store } from '@ngrx/store';
import { DestinationsPage } from '../destinations/destinations.page';
import { tower } from '../destinations/testing';
import { draftListing } from '../listings/testing';
import { plannedShow } from '../shows/testing';
import { TeamActions } from '../team/team.actions';
import { teamFeature } from '../team/team.feature';
import { AlarmStrip } from './alarm-strip';
import { FeedsPanel } from './feeds-panel';
import { RelayActions } from './relay.actions';
import { relayFeature } from './relay.feature';

const SHOW = 's';
const destination = tower();
const feed = (change: Partial<FeedReport> = {}): FeedReport => ({
  destinationId: 'd',
  state: 'sending',
  sinceMs: 0,
  attempt: 0,
  reason: null,
  placeSays: null,
  bitrateKbps: 4100,
  onAirMs: 65_000,
  leftOutPictures: 0,
  ...change,
});
const programme = (change: Partial<ProgrammeReport> = {}): ProgrammeReport => ({
  showId: SHOW,
  state: 'source',
  deskId: 'desk',
  runId: null,
  showTimeMs: null,
  incomingKbps: 4000,
  delayMs: 0,
  isDrilled: false,
  silentMs: null,
  loadPercent: 3,
  disk: { freeBytes: 10 ** 12, recording: true },
  feeds: [],
  recordings: [],
  ...change,
});
const view = (change: Partial<ProgrammeView> = {}): ProgrammeView => ({
  programme: programme(),
  destinations: [destination],
  listings: [draftListing()],
  marks: [],
  composing: null,
  atMs: 0,
  seq: 1,
  ...change,
});

describe('the relay in the store', () => {
  const { reducer } = relayFeature;
  const opened = reducer(undefined, RelayActions.opened({ showId: SHOW }));
  const known = reducer(opened, RelayActions.known({ showId: SHOW, view: view() }));

  it('takes reports of the show that is looked at, and of no other', () => {
    const other = programme({ showId: 'other', state: 'slate' });
    expect(reducer(known, RelayActions.programmeChanged({ programme: other })).programme!.state).toBe(
      'source',
    );
    const both = [other, programme({ state: 'covered' })];
    expect(reducer(known, RelayActions.figures({ programmes: both })).programme!.state).toBe('covered');
  });

  it('keeps the last report while the relay is away', () => {
    const away = reducer(known, RelayActions.known({ showId: SHOW, view: view({ programme: null }) }));
    expect(away.programme!.state).toBe('source');
  });

  it('begins afresh with another show, and stays with the same', () => {
    expect(reducer(known, RelayActions.opened({ showId: SHOW }))).toBe(known);
    expect(reducer(known, RelayActions.opened({ showId: 'other' })).destinations).toEqual([]);
    expect(reducer(known, RelayActions.known({ showId: 'other', view: view() }))).toBe(known);
  });

  it('is busy from an order to its answer, and keeps what was refused', () => {
    const busy = reducer(known, RelayActions.startFeed({ showId: SHOW, destinationId: 'd' }));
    expect(busy.busy).toBeTrue();
    const error = { code: 'relay_away', sentence: 'Away.' } as const;
    expect(reducer(busy, RelayActions.refused({ error }))).toEqual(
      jasmine.objectContaining({ busy: false, error }),
    );
    const done = reducer(busy, RelayActions.done({ programme: programme({ feeds: [feed()] }) }));
    expect([done.busy, done.programme!.feeds.length]).toEqual([false, 1]);
    const late = reducer(done, RelayActions.notTakenYet());
    expect(late.insisting).toBeFalse();
  });

  it('is forgotten with the session', () => {
    expect(reducer(known, TeamActions.signedOut({ unasked: true })).showId).toBeNull();
  });
});

describe('the board of feeds', () => {
  let fixture: ComponentFixture<FeedsPanel>;
  let element: HTMLElement;
  let store: Store;

  function setUp(role: Role, given: ProgrammeView, change: Partial<Show> = {}, covered = false): void {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [relayFeature.name]: relayFeature.reducer, [teamFeature.name]: teamFeature.reducer }),
      ],
    });
    store = TestBed.inject(Store);
    const member = { id: 'm', name: 'Teo', email: '', role };
    store.dispatch(TeamActions.sessionKnown({ session: { member, guest: null, demo: true } as never }));
    store.dispatch(RelayActions.opened({ showId: SHOW }));
    store.dispatch(RelayActions.known({ showId: SHOW, view: given }));
    fixture = TestBed.createComponent(FeedsPanel);
    fixture.componentRef.setInput('show', plannedShow(SHOW, 0, change));
    fixture.componentRef.setInput('covered', covered);
    fixture.componentRef.setInput('none', 'Nothing here yet.');
    fixture.detectChanges();
    element = fixture.nativeElement as HTMLElement;
  }
  const key = (name: string) =>
    [...element.querySelectorAll('button')].find(
      (button) => (button.ariaLabel ?? button.textContent).trim() === name,
    )!;

  it('starts a feed on the second press', () => {
    setUp('host', view());
    const dispatched = spyOn(store, 'dispatch');
    key('Start the feed to Our tower').click();
    fixture.detectChanges();
    expect(dispatched).not.toHaveBeenCalled();
    key('Start now').click();
    expect(dispatched.calls.allArgs().flat()).toEqual([
      RelayActions.startFeed({ showId: SHOW, destinationId: 'd' }),
    ]);
  });

  /** A closed dialog's answer is a promise; nothing else is waited for. */
  const settle = async () => {
    await new Promise((turn) => setTimeout(turn));
    fixture.detectChanges();
  };
  const dialogKey = (name: string) =>
    [...document.querySelectorAll<HTMLElement>('ngb-modal-window button')].find(
      ({ textContent }) => textContent.trim() === name,
    )!;
  const inTwoDays = { startsAtMs: Date.now() + 2 * 86_400_000 };

  for (const [answer, asked] of [
    ['Do not start', []],
    ['Go on air now', [RelayActions.startFeed({ showId: SHOW, destinationId: 'd' })]],
  ] as const)
    it(`asks before a show airs days early: ${answer}`, async () => {
      setUp('host', view(), inTwoDays);
      const dispatched = spyOn(store, 'dispatch');
      key('Start the feed to Our tower').click();
      TestBed.tick();
      fixture.detectChanges();
      expect(key('Start now')).toBeUndefined();
      const dialog = document.querySelector('ngb-modal-window')!;
      expect(dialog.textContent).toMatch(/planned for .*, in \d/);
      expect(dialog.textContent).toContain('Our tower');
      expect(document.activeElement).toBe(dialogKey('Do not start'));
      dialogKey(answer).click();
      await settle();
      expect(dispatched.calls.allArgs().flat() as unknown).toEqual(asked);
    });

  it('offers a drill instead of an early start, and begins it', async () => {
    setUp('host', view(), inTwoDays);
    key('Start the feed to Our tower').click();
    TestBed.tick();
    dialogKey('Begin a drill').click();
    await settle();
    const asked = TestBed.inject(HttpTestingController).match(`/api/shows/${SHOW}/drill`);
    expect(asked.map(({ request }) => request.method)).toContain('POST');
  });

  it('has nothing that starts by habit once the show is over, and two ways back', async () => {
    const over = { startedAtMs: Date.now() - 61 * 60_000, endedAtMs: Date.now() - 60_000 };
    setUp('host', view({ listings: [draftListing({ state: 'closed' })] }), over);
    expect(key('Start the feed to Our tower')).toBeUndefined();
    expect(element.textContent).toContain('The show ended at');
    expect(key('Begin a drill')).toBeUndefined();
    key('Put back to planned').click();
    fixture.detectChanges();
    key('Put back now').click();
    const asked = TestBed.inject(HttpTestingController).expectOne(`/api/shows/${SHOW}/put-back`);
    asked.flush(
      { code: 'not_ready', sentence: 'Its event is still being ended at Our tower.' },
      { status: 409, statusText: 'No' },
    );
    await settle();
    expect(element.textContent).toContain('still being ended');
    key('Go on air again…').click();
    fixture.detectChanges();
    expect(key('Start the feed to Our tower')).toBeDefined();
  });

  it('says of every feed that it is covered', () => {
    setUp(
      'host',
      view({ programme: programme({ feeds: [feed({ state: 'on_air' })], runId: 'r' }) }),
      {},
      true,
    );
    expect(element.textContent).toContain('Covered');
    expect(element.textContent).not.toContain('Seen from outside');
    expect(element.querySelector('.live')).toBeNull();
  });

  it('starts nothing before there is a picture', () => {
    setUp('host', view({ programme: programme({ state: 'waiting' }) }));
    expect(key('Start the feed to Our tower').disabled).toBeTrue();
    expect(element.textContent).toContain('once a programme is composed');
  });

  it('says state, time on air and rate, and offers the end', () => {
    setUp(
      'producer',
      view({ programme: programme({ feeds: [feed({ state: 'on_air' })], runId: 'r', showTimeMs: 66_000 }) }),
    );
    expect(element.textContent).toContain('On air');
    expect(element.textContent).toContain('0:01:05');
    expect(element.textContent).toContain('4100');
    expect(element.textContent).toContain('0:01:06');
    expect(key('End the feed to Our tower')).toBeDefined();
    expect(key('End show')).toBeDefined();
  });

  const TROUBLE: [string, Partial<FeedReport>, string][] = [
    [
      'a wrong key',
      { state: 'failed', reason: 'refused_key', placeSays: 'No such key.' },
      'The place says: “No such key.”',
    ],
    ['a lost line', { state: 'recovering', reason: 'lost_connection', attempt: 3 }, '(try 3)'],
    ['pictures left out', { leftOutPictures: 60 }, '60 pictures were left out'],
  ];
  for (const [what, change, words] of TROUBLE) {
    it(`tells of ${what}`, () => {
      setUp('host', view({ programme: programme({ feeds: [feed(change)] }) }));
      expect(element.textContent).toContain(words);
    });
  }

  const DISKS: [string, ProgrammeReport['disk'], string][] = [
    ['enough', { freeBytes: 10 ** 12, recording: true }, 'Room to record'],
    ['short', { freeBytes: 9 * 10 ** 9, recording: true }, 'room for only'],
    ['full', { freeBytes: 10 ** 12, recording: false }, 'disk is full'],
  ];
  for (const [what, disk, words] of DISKS) {
    it(`forecasts a disk that is ${what}`, () => {
      setUp('host', view({ programme: programme({ disk }) }));
      expect(element.textContent).toContain(words);
    });
  }

  it('counts down what the place does by itself', () => {
    const { rules } = destination;
    const feedLoss = { patienceS: 60, then: 'event_ends', cleanEndEnds: 'yes' } as const;
    const impatient = {
      ...destination,
      rules: { ...rules, capabilities: { ...rules.capabilities, feedLoss } },
    };
    const lost = feed({ state: 'recovering', reason: 'lost_connection', sinceMs: Date.now() - 20_000 });
    setUp('host', view({ destinations: [impatient], programme: programme({ feeds: [lost] }) }));
    expect(element.querySelector('[role=timer]')!.textContent).toMatch(
      /The place ends the event in 0:00:(39|40)\./,
    );
  });

  it('ends the show only after saying what that does at each place', () => {
    setUp('host', view({ programme: programme({ runId: 'r', showTimeMs: 5000, feeds: [feed()] }) }));
    const dispatched = spyOn(store, 'dispatch');
    key('End show').click();
    TestBed.tick();
    const dialog = document.querySelector('ngb-modal-window')!;
    expect(dialog.textContent).toContain('Nobody knows what the end of the feed does there.');
    expect(dispatched).not.toHaveBeenCalled();
    [...dialog.querySelectorAll('button')]
      .find(({ textContent }) => textContent.includes('End everywhere now'))!
      .click();
    expect(dispatched.calls.allArgs().flat()).toEqual([RelayActions.endShow({ showId: SHOW })]);
  });

  it('says that the relay is away', () => {
    setUp('host', view({ programme: null }));
    expect(element.textContent).toContain('The relay does not answer.');
  });

  it('shows a moderator everything and lets them change nothing', () => {
    setUp('moderator', view());
    const keys = [...element.querySelectorAll('button')].map(({ ariaLabel }) => ariaLabel);
    expect(keys).toEqual(['Our tower, look closely']);
    expect(element.textContent).toContain('A host or a producer starts and ends feeds.');
  });

  it('says what belongs there when there is no destination', () => {
    setUp('host', view({ destinations: [] }));
    expect(element.textContent).toContain('Nothing here yet.');
  });

  it('lists the recordings, the newest run first, the finished ones to watch', () => {
    const recording = (change: Partial<Recording>): Recording => ({
      runId: 'r1',
      kind: 'clean',
      status: 'ready',
      bytes: 2_400_000,
      lengthMs: 61_000,
      startedAtMs: 1,
      missing: { packets: 0, ms: 0, damagedBytes: 0 },
      ...change,
    });
    const recordings = [
      recording({}),
      recording({ runId: 'r0', startedAtMs: 0, missing: { packets: 3, ms: 66, damagedBytes: 900 } }),
      recording({ runId: 'r2', status: 'finishing', bytes: null, startedAtMs: 2 }),
    ];
    setUp('host', view({ programme: programme({ recordings }) }));
    const rows = [...element.querySelectorAll('jn-recordings-list li')].map((row) => row.textContent);
    expect(rows[0]).toContain('the file is being made');
    expect(rows[1]).toContain('0:01:01');
    expect(rows[1]).toContain('2.4 MB');
    expect(rows[1]).not.toContain('missing');
    expect(rows[2]).toContain('3 packets are missing: the picture stands still for 0.1 s in all.');
    expect(rows[2]).toContain('The damaged parts are kept on the relay.');
    key('Watch the Clean recording').click();
    fixture.detectChanges();
    expect(element.querySelector('video')!.getAttribute('src')).toBe('/api/shows/s/recordings/r1/clean');
  });
});

describe('the page of destinations', () => {
  it('adds one, and says at each field what is wrong', async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([]),
        provideStore({ [teamFeature.name]: teamFeature.reducer }),
      ],
    });
    const member = { id: 'm', name: 'Teo', email: '', role: 'producer' };
    TestBed.inject(Store).dispatch(
      TeamActions.sessionKnown({ session: { member, guest: null, demo: true } as never }),
    );
    const fixture = TestBed.createComponent(DestinationsPage);
    const element = fixture.nativeElement as HTMLElement;
    const backend = TestBed.inject(HttpTestingController);
    backend.expectOne('/api/destinations').flush({ destinations: [] });
    fixture.detectChanges();
    expect(element.textContent).toContain('There is no destination yet.');
    const key = [...element.querySelectorAll('button')].find((one) =>
      one.textContent.includes('by address and key'),
    );
    key!.click();
    fixture.detectChanges();
    element.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }));
    const fields = [{ field: 'address', code: 'empty', sentence: 'The server address is missing.' }];
    const asked = backend.expectOne('/api/destinations');
    expect(asked.request.method).toBe('POST');
    const first = asked.request.body as { id: string };
    asked.flush({ code: 'bad_input', sentence: 'x', fields }, { status: 400, statusText: 'Bad' });
    fixture.detectChanges();
    expect(element.querySelector('#address-problem')!.textContent).toBe('The server address is missing.');
    element.querySelector('form')!.dispatchEvent(new Event('submit', { cancelable: true }));
    const again = backend.expectOne('/api/destinations');
    expect((again.request.body as { id: string }).id)
      .withContext('the same, asked once more')
      .toBe(first.id);
    again.flush(destination);
    backend.expectOne('/api/destinations').flush({ destinations: [destination] });
    fixture.detectChanges();
    expect(element.textContent).toContain('Our tower was added.');
    expect(element.querySelector('table')!.textContent).toContain('rtmps://tower.example/live');
  });
});

describe('what needs a person', () => {
  async function strip(
    change: Partial<ProgrammeView>,
    silentSinceMs: number | null = null,
  ): Promise<HTMLElement> {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [relayFeature.name]: relayFeature.reducer }),
      ],
    });
    const store = TestBed.inject(Store);
    store.dispatch(RelayActions.opened({ showId: SHOW }));
    store.dispatch(RelayActions.known({ showId: SHOW, view: view(change) }));
    const fixture = TestBed.createComponent(AlarmStrip);
    fixture.componentRef.setInput('silentSinceMs', silentSinceMs);
    await fixture.whenStable();
    return fixture.nativeElement as HTMLElement;
  }

  it('is that nothing is heard, unless it is covered and meant to be so', async () => {
    const running = programme({ runId: 'run', feeds: [feed()] });
    const silent = await strip({ programme: running }, Date.now() - 20_000);
    expect(silent.textContent).toContain('Viewers hear nothing. Is a microphone off?');
    TestBed.resetTestingModule();
    const covered = await strip({ programme: { ...running, state: 'covered' } }, Date.now() - 20_000);
    expect(covered.textContent.trim()).toBe('');
    TestBed.resetTestingModule();
    const heard = await strip({ programme: running });
    expect(heard.textContent.trim()).toBe('');
    // Whoever composes: the relay hears what goes out.
    for (const [silentMs, words] of [
      [14_000, ''],
      [16_000, 'Viewers hear nothing. Is a microphone off?'],
    ] as const) {
      TestBed.resetTestingModule();
      const elsewhere = await strip({ programme: { ...running, silentMs } });
      expect(elsewhere.querySelector('li')?.textContent.trim() ?? '').toBe(words);
    }
  });

  it('is said with its place and in the title of the page, and nothing else is', async () => {
    document.title = 'The desk';
    const feeds = [feed({ state: 'failed', reason: 'gave_up', sinceMs: Date.now() })];
    const element = await strip({ programme: programme({ feeds }) });
    expect(element.querySelector('[role="alert"]')!.textContent).toContain(
      `${destination.name} has failed. Start it again.`,
    );
    expect(document.title).toBe('! The desk');
    TestBed.resetTestingModule();
    expect(document.title).toBe('The desk');
    const calm = await strip({ programme: programme({ feeds: [feed({ state: 'recovering' })] }) });
    expect(calm.textContent.trim()).toBe('');
  });

  it('is nothing while a drill goes on', async () => {
    const feeds = [feed({ state: 'failed', sinceMs: Date.now() })];
    const element = await strip({ programme: programme({ feeds, isDrilled: true }) });
    expect(element.textContent.trim()).toBe('');
  });
});
