import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { ProgrammeView } from '@juncta/contract/programme';
import type { Recording } from '@juncta/contract/recordings';
import type { FeedReport, ProgrammeReport } from '@juncta/contract/relay';
import type { Show } from '@juncta/contract/shows';
import type { Role } from '@juncta/core/team';
import { provideStore, Store } from '@ngrx/store';
import { tower } from '../testing/destinations';
import { draftListing, lookAtListings } from '../testing/listings';
import { plannedShow } from '../testing/shows';
import { TeamActions } from '../team/team.actions';
import { teamFeature } from '../team/team.feature';
import { FeedsPanel } from './feeds-panel';
import { ProgrammeActions } from '../programme/programme.actions';
import { programmeFeature } from '../programme/programme.feature';
import { feed, programme, SHOW, view } from '../testing/programme';
import type { ListingsView } from '@juncta/contract/listings';
import { listingsFeature } from '../listings/listings.feature';

const destination = tower();

describe('the board of feeds', () => {
  let fixture: ComponentFixture<FeedsPanel>;
  let element: HTMLElement;
  let store: Store;

  function setUp(
    role: Role,
    given: ProgrammeView,
    change: Partial<Show> = {},
    covered = false,
    listings: Partial<ListingsView> = {},
  ): void {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({
          [listingsFeature.name]: listingsFeature.reducer,
          [programmeFeature.name]: programmeFeature.reducer,
          [teamFeature.name]: teamFeature.reducer,
        }),
      ],
    });
    store = TestBed.inject(Store);
    const member = { id: 'm', name: 'Teo', email: '', role };
    store.dispatch(TeamActions.sessionKnown({ session: { member, guest: null, demo: true } as never }));
    store.dispatch(ProgrammeActions.opened({ showId: SHOW }));
    store.dispatch(ProgrammeActions.known({ showId: SHOW, view: given }));
    lookAtListings(store, SHOW, listings);
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
      ProgrammeActions.startFeed({ showId: SHOW, destinationId: 'd' }),
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
    ['Go on air now', [ProgrammeActions.startFeed({ showId: SHOW, destinationId: 'd' })]],
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
    setUp('host', view(), over, false, { listings: [draftListing({ state: 'closed' })] });
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

  it('says state, time on air and how many watch, and offers the end', () => {
    setUp(
      'producer',
      view({ programme: programme({ feeds: [feed({ state: 'on_air' })], runId: 'r', showTimeMs: 66_000 }) }),
      {},
      false,
      { listings: [draftListing({ state: 'open', viewers: 124 })] },
    );
    expect(element.textContent).toContain('On air');
    expect(element.textContent).toContain('0:01:05');
    expect(element.querySelector('.figures')!.textContent).toMatch(/124\s*watching/);
    expect(key('End the feed to Our tower')).toBeDefined();
    // What lamp and word say already takes no line of the board.
    expect(element.querySelector('jn-feed-row p')).toBeNull();
    expect(element.querySelector('jn-feed-row > .visually-hidden')!.textContent).toContain(
      'Seen from outside',
    );
  });

  const TROUBLE: [string, Partial<FeedReport>, string][] = [
    [
      'a wrong key',
      { state: 'failed', reason: 'refused_key', placeSays: 'No such key.' },
      'The place says: “No such key.”',
    ],
    ['a lost line', { state: 'recovering', reason: 'lost_connection', attempt: 3 }, '(try 3)'],
    ['pictures left out', { leftOutFrames: 60 }, '60 pictures were left out'],
  ];
  for (const [what, change, words] of TROUBLE) {
    it(`tells of ${what}`, () => {
      setUp('host', view({ programme: programme({ feeds: [feed(change)] }) }));
      expect(element.textContent).toContain(words);
    });
  }

  it('tells of an encoder that does not keep pace', () => {
    const encoded = {
      height: 720,
      rateHz: 30,
      videoKbps: 2500,
      shape: 'landscape' as const,
      keyframeS: 2,
      destinationIds: ['d'],
      cores: 0.6,
    };
    const behind = { ...encoded, state: 'behind' as const };
    setUp('host', view({ programme: programme({ feeds: [feed()], renditions: [behind] }) }));
    expect(element.querySelector('jn-feed-row [role=status].warn')!.textContent).toContain(
      'does not keep pace',
    );
  });

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
    setUp('host', view({ programme: programme({ feeds: [lost] }) }), {}, false, {
      destinations: [impatient],
    });
    expect(element.querySelector('[role=timer]')!.textContent).toMatch(
      /The place ends the event in 0:00:(39|40)\./,
    );
  });

  it('ends the show only after saying what that does at each place', () => {
    setUp('host', view({ programme: programme({ runId: 'r', showTimeMs: 5000, feeds: [feed()] }) }));
    const dispatched = spyOn(store, 'dispatch');
    fixture.componentInstance.askToEnd();
    TestBed.tick();
    const dialog = document.querySelector('ngb-modal-window')!;
    expect(dialog.textContent).toContain('Nobody knows what the end of the feed does there.');
    expect(dispatched).not.toHaveBeenCalled();
    [...dialog.querySelectorAll('button')]
      .find(({ textContent }) => textContent.includes('End everywhere now'))!
      .click();
    expect(dispatched.calls.allArgs().flat()).toEqual([ProgrammeActions.endShow({ showId: SHOW })]);
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
    setUp('host', view(), {}, false, { destinations: [], listings: [] });
    expect(element.textContent).toContain('Nothing here yet.');
  });

  it('lists the recordings, the newest run first, the finished ones to watch', () => {
    const recording = (change: Partial<Recording>): Recording => ({
      runId: 'r1',
      kind: 'programme',
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
    key('Watch the Programme recording').click();
    fixture.detectChanges();
    expect(element.querySelector('video')!.getAttribute('src')).toBe('/api/shows/s/recordings/r1/programme');
  });
});
