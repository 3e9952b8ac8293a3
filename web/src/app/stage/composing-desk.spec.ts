import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideStore, Store } from '@ngrx/store';
import { programmeFeature } from '../programme/programme.feature';
import { TICKET_RENEWED_EVERY_MS } from '@juncta/contract/uplink';
import type { UplinkMessage, UplinkReport } from '../uplink/messages';
import type { Show } from '@juncta/contract/shows';
import { ShowsActions } from '../shows/shows.actions';
import { showsFeature } from '../shows/shows.feature';
import { plannedShow } from '../testing/shows';
import { ComposedHere } from './composed/composed-here';
import { ComposingDesk } from './composing-desk';
import type { OpenedShow } from './dressed/show-drawing';
import type { ComposerMessage, ComposerReport } from './messages';
import { PLAIN_DRESSING } from '@juncta/core/dressing';
import type { PictureFormat } from '@juncta/core/programme';
import { EMPTY_STAGE, placedIn, sourceId, type Stage } from '@juncta/core/stage';
import { EventFeed } from '../api/event-feed';
import { Dressings } from '../dressing/dressings';
import { FRESH_DESK, recallDesk, rememberDesk } from './desk-memory';
import { StageLink } from './stage-link';

const PEOPLE = [
  { id: 'p1', name: 'Odalys Brandt', part: 'host', about: '' },
  { id: 'p2', name: 'Pascoe Trethewey', part: 'guest', about: '' },
] as unknown as OpenedShow['people'];

const [ODALYS, PASCOE] = ['p1', 'p2'].map((id) => sourceId('camera', id)) as [
  ReturnType<typeof sourceId>,
  ReturnType<typeof sourceId>,
];

class FakeWorker {
  static all: FakeWorker[] = [];
  onmessage: ((event: { data: unknown }) => void) | null = null;
  terminated = false;
  readonly heard: { type: string }[] = [];

  constructor() {
    FakeWorker.all.push(this);
  }
  postMessage(message: { type: string }): void {
    this.heard.push(message);
  }
  terminate(): void {
    this.terminated = true;
  }
  says(report: UplinkReport | ComposerReport): void {
    this.onmessage!({ data: report });
  }
  last<T extends { type: string }>(type: T['type']): T | undefined {
    return this.heard.filter((message) => message.type === type).at(-1) as T | undefined;
  }
}

describe('the composing desk', () => {
  let desk: ComposingDesk;
  let stage: StageLink;
  let backend: HttpTestingController;
  let showId: string;
  const real = globalThis.Worker;
  const dressing = signal(PLAIN_DRESSING);

  beforeEach(() => {
    FakeWorker.all = [];
    dressing.set(PLAIN_DRESSING);
    // No fonts are served here.
    spyOn(document.fonts, 'load').and.resolveTo([]);
    globalThis.Worker = FakeWorker as unknown as typeof Worker;
    showId = crypto.randomUUID();
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: EventFeed, useValue: { follow: () => undefined, follows: () => true } },
        { provide: Dressings, useValue: { follow: () => Promise.resolve(), of: () => dressing() } },
        provideStore({
          [programmeFeature.name]: programmeFeature.reducer,
          [showsFeature.name]: showsFeature.reducer,
        }),
      ],
    });
    desk = TestBed.inject(ComposingDesk);
    stage = TestBed.inject(StageLink);
    backend = TestBed.inject(HttpTestingController);
  });
  afterEach(() => {
    desk.end();
    globalThis.Worker = real;
    sessionStorage.removeItem(`juncta.desk.${showId}`);
  });

  const path = () => `/api/shows/${showId}/composing`;
  async function until(what: string, holds: () => boolean): Promise<void> {
    for (let turns = 0; turns < 2000; turns++) {
      if (holds()) return;
      await new Promise((turn) => setTimeout(turn, 10));
    }
    throw new Error(`waited in vain until ${what}`);
  }
  /** The next wish for a ticket. */
  async function wish() {
    let found: ReturnType<HttpTestingController['match']> = [];
    await until('a ticket is asked for', () => {
      found = backend.match(path());
      return found.length > 0;
    });
    return found[0]!;
  }
  const give = async (ticket = 'a.ticket') => {
    const asked = await wish();
    asked.flush({ ticket, uplinkUrl: 'ws://relay.invalid/uplink' });
    return asked.request.body as { deskId: string; takeOver: boolean };
  };
  const refuse = async (code: string, sentence: string) =>
    (await wish()).flush({ code, sentence }, { status: 409, statusText: 'No' });
  /** In the order in which they are started: their addresses are made up by the build. */
  const uplink = () => FakeWorker.all[0]!;
  const composer = () => FakeWorker.all[1]!;
  const asPlanned = (pictureFormat: PictureFormat = '720p30'): OpenedShow => ({
    id: showId,
    title: 'Rye and patience',
    people: PEOPLE,
    seriesId: null,
    pictureFormat,
    start: null,
  });
  /** Opens a desk, and the server tells how the stage was left. */
  function open(left: Partial<Stage> = {}): Promise<void> {
    const opening = desk.open(asPlanned());
    backend
      .expectOne(`/api/shows/${showId}/stage`)
      .flush({ known: { version: 1, stage: { ...EMPTY_STAGE, ...left } }, seq: 1 });
    return opening;
  }
  const onStage = () => placedIn(stage.stage().programme);
  async function begin(): Promise<void> {
    await open();
    const beginning = desk.begin(false);
    await give();
    await beginning;
  }

  it('composes with a ticket, and says to the whole tab that it does', async () => {
    await begin();
    expect(desk.status()).toBe('composing');
    const start = uplink().last<Extract<UplinkMessage, { type: 'start' }>>('start')!;
    expect([start.ticket, start.showId, start.videoKbps]).toEqual(['a.ticket', showId, 4000]);
    expect(composer().last('start')).toBeDefined();
    expect(TestBed.inject(ComposedHere).show()).toEqual({ id: showId, title: 'Rye and patience' });
    expect(recallDesk(showId).composing).toBeTrue();
  });

  it('shows another dressing at once, and leaves what is the same', async () => {
    await begin();
    const dressed = () => composer().heard.filter(({ type }) => type === 'backdrop').length;
    TestBed.tick();
    const before = dressed();
    dressing.set({ ...PLAIN_DRESSING });
    TestBed.tick();
    dressing.set({ ...PLAIN_DRESSING, backdrop: 'plain' });
    TestBed.tick();
    await until('it is drawn', () => dressed() > before);
    expect(dressed()).toBe(before + 1);
    expect(composer().last('slate')).withContext('the relay gets another, too').toBeDefined();
    expect(composer().last('setting')).toBeDefined();
  });

  it('begins anew in another picture, before anything goes out', async () => {
    await begin();
    const changing = desk.open(asPlanned('1080p30'));
    await give('another.ticket');
    await changing;
    const [before, , after, composerAfter] = FakeWorker.all;
    expect(before!.last('stop')).toBeDefined();
    const start = after!.last<Extract<UplinkMessage, { type: 'start' }>>('start')!;
    expect([start.size, start.videoKbps]).toEqual([{ width: 1920, height: 1080 }, 6500]);
    const { encoding, slate } = composerAfter!.last<Extract<ComposerMessage, { type: 'start' }>>('start')!;
    expect([encoding.format, slate.width, slate.height]).toEqual(['1080p30', 1920, 1080]);
    expect(desk.status()).toBe('composing');
  });

  it('follows what is planned, whatever page is looked at', async () => {
    await begin();
    const store = TestBed.inject(Store);
    const planned = plannedShow(showId, 1);
    store.dispatch(ShowsActions.showSaved({ show: planned }));
    TestBed.tick();
    expect(TestBed.inject(ComposedHere).show()?.title).toBe(planned.text.title);
    expect(composer().last('slate')).withContext('which names the show').toBeDefined();
    store.dispatch(ShowsActions.showSaved({ show: { ...planned, version: 2, pictureFormat: '720p60' } }));
    TestBed.tick();
    await give('another.ticket');
    await until('it is composed anew', () => FakeWorker.all.length === 4);
    const { encoding } = FakeWorker.all[3]!.last<Extract<ComposerMessage, { type: 'start' }>>('start')!;
    expect([encoding.format, desk.status()]).toEqual(['720p60', 'composing']);
  });

  it('begins in the last of the pictures that are chosen while it begins', async () => {
    await open();
    const beginning = desk.begin(false);
    const first = await wish();
    const changing = desk.open(asPlanned('1080p30'));
    await give('another.ticket');
    await changing;
    first.flush({ ticket: 'a.ticket', uplinkUrl: 'ws://relay.invalid/uplink' });
    await beginning;
    expect(FakeWorker.all.length).withContext('one uplink and one composer').toBe(2);
    expect(composer().last<Extract<ComposerMessage, { type: 'start' }>>('start')!.encoding.format).toBe(
      '1080p30',
    );
    expect([desk.status(), desk.problem()]).toEqual(['composing', null]);
  });

  it('draws graphics when they change, and not with every change of the stage', async () => {
    await begin();
    const drawnGraphics = () =>
      composer().heard.filter((one) => one.type === 'graphics') as unknown as Extract<
        ComposerMessage,
        { type: 'graphics' }
      >[];
    expect(drawnGraphics().length).toBe(1);
    stage.do({
      type: 'graphics',
      change: { type: 'ticker', values: { isOn: true, lines: ['Doors at eight'] } },
    });
    stage.bringOn(ODALYS);
    expect(drawnGraphics().length).toBe(2);
    expect(drawnGraphics().at(-1)!.graphics.ticker?.lines.length).toBe(1);
    dressing.set({ ...PLAIN_DRESSING, manner: 'cut' });
    TestBed.tick();
    await until('they are drawn in the other dressing', () => drawnGraphics().length === 3);
  });

  it('asks before it takes a show from another desk', async () => {
    await open();
    void desk.begin(false);
    await refuse('composed_elsewhere', 'Teo composes this show at another desk.');
    await until('it is said', () => desk.status() === 'elsewhere');
    expect(desk.problem()).toContain('Teo');
    const beginning = desk.begin(true);
    expect((await give()).takeOver).toBeTrue();
    await beginning;
    expect([desk.status(), desk.problem()]).toEqual(['composing', null]);
  });

  it('comes back by itself into what it composed before a reload, with its pictures', async () => {
    rememberDesk(showId, {
      ...FRESH_DESK,
      composing: true,
      sources: { [ODALYS]: { origin: 'pattern' as const } },
    });
    const layers = [ODALYS, PASCOE].map((source) => ({ source, place: { by: 'layout' as const } }));
    const opening = open({ programme: { layout: 'pair', own: null, names: false, layers } });
    await give();
    await opening;
    expect(desk.status()).toBe('composing');
    const { setting } = composer().last<Extract<ComposerMessage, { type: 'start' }>>('start')!;
    expect(placedIn(setting.programme.scene)).toEqual([ODALYS, PASCOE]);
    expect(desk.onProgramme()).toEqual(['p1', 'p2']);
    expect(desk.sources.known()[ODALYS]?.origin).toBe('pattern');
    const made = composer().last<Extract<ComposerMessage, { type: 'made_source' }>>('made_source');
    expect(made?.id).toBe(ODALYS);
    expect(stage.stage().sources.map(({ source }) => source)).toEqual([ODALYS]);
  });

  it('ends in good order: the workers hear of it, and are gone a moment later', async () => {
    await begin();
    desk.sources.addPattern(ODALYS);
    const workers = [...FakeWorker.all];
    jasmine.clock().install();
    try {
      desk.end();
      expect(composer().last('stop')).toBeDefined();
      expect(uplink().last('stop')).toBeDefined();
      expect(workers.map(({ terminated }) => terminated)).toEqual([false, false, false]);
      jasmine.clock().tick(500);
      expect(workers.map(({ terminated }) => terminated)).toEqual([true, true, true]);
    } finally {
      jasmine.clock().uninstall();
    }
    expect([desk.status(), desk.sources.known()]).toEqual(['idle', {}]);
    expect(TestBed.inject(ComposedHere).show()).toBeNull();
    expect(recallDesk(showId).composing).toBeFalse();
  });

  it('puts everything down when its page is unloaded, and still knows that it composed', async () => {
    await begin();
    desk.sources.addPattern(ODALYS);
    const patterns = FakeWorker.all[2]!;
    desk.pageGoes();
    expect(patterns.last('end')).toEqual(jasmine.objectContaining({ id: ODALYS }));
    expect([composer().last('stop'), uplink().last('stop')]).not.toContain(undefined);
    expect(recallDesk(showId)).toEqual(
      jasmine.objectContaining({ composing: true, sources: { [ODALYS]: { origin: 'pattern' as const } } }),
    );
    const heard = composer().heard.length;
    desk.pageGoes();
    expect(composer().heard.length).toBe(heard);
  });

  it('is over at this desk when another took over, and does not come back by itself', async () => {
    await begin();
    uplink().says({ type: 'refused', code: 'taken_over', sentence: 'Another desk composes this show now.' });
    expect([desk.status(), desk.problem()]).toEqual(['taken_over', 'Another desk composes this show now.']);
    expect(recallDesk(showId).composing).toBeFalse();
    expect(TestBed.inject(ComposedHere).show()).toBeNull();
  });

  describe('whose ticket has run out', () => {
    const runsOut = () => uplink().says({ type: 'refused', code: 'ticket', sentence: 'Reload the page.' });
    const renewed = () => uplink().last<Extract<UplinkMessage, { type: 'ticket' }>>('ticket')?.ticket;

    it('gets another, and goes on without a word', async () => {
      await begin();
      runsOut();
      await give('another.ticket');
      await until('the uplink has it', () => renewed() === 'another.ticket');
      expect([desk.status(), desk.problem()]).toEqual(['composing', null]);
    });

    it('gets another long before, and nobody hears of it', async () => {
      const later = spyOn(window, 'setTimeout').and.callThrough();
      await begin();
      const due = () => later.calls.all().filter(({ args }) => args[1] === TICKET_RENEWED_EVERY_MS);
      expect(due().length).toBe(1);
      due()[0]!.args[0]();
      await give('the.next.ticket');
      await until('the uplink has it', () => renewed() === 'the.next.ticket');
      expect([desk.status(), desk.problem()]).toEqual(['composing', null]);
      await until('it is renewed again later', () => due().length === 2);
    });

    it('asks until it gets one, while the server is away', async () => {
      await begin();
      runsOut();
      (await wish()).error(new ProgressEvent('error'));
      await until('it is said', () => desk.problem() !== null);
      expect(desk.status()).toBe('composing');
      await give('a.late.ticket');
      await until('the uplink has it', () => renewed() === 'a.late.ticket');
      expect(desk.problem()).toBeNull();
    });

    it('has been taken over when another desk composes by now', async () => {
      await begin();
      runsOut();
      await refuse('composed_elsewhere', 'Teo composes this show at another desk.');
      await until('it is over here', () => desk.status() === 'taken_over');
      expect(desk.problem()).toContain('Teo');
    });
  });

  it('says whose camera is gone, and keeps their place', async () => {
    await begin();
    desk.sources.addPattern(ODALYS);
    stage.bringOn(ODALYS);
    composer().says({ type: 'source_ended', id: ODALYS, track: 'video' });
    expect(desk.sources.known()[ODALYS]).toEqual(jasmine.objectContaining({ video: 'gone', audio: 'there' }));
    composer().says({ type: 'source_ended', id: ODALYS, track: 'audio' });
    expect(desk.sources.known()[ODALYS]).toEqual(jasmine.objectContaining({ video: 'gone', audio: 'gone' }));
    expect(onStage()).toEqual([ODALYS]);
    desk.dropSource(ODALYS);
    expect([onStage(), desk.sources.known()]).toEqual([[], {}]);
    expect(composer().last<Extract<ComposerMessage, { type: 'drop_source' }>>('drop_source')?.id).toBe(
      ODALYS,
    );
  });

  it('lets go of a camera that was allowed when nothing was composed any more', async () => {
    await begin();
    const camera = document.createElement('canvas').captureStream();
    let allow: (stream: MediaStream) => void = () => undefined;
    const asked = spyOn(navigator.mediaDevices, 'getUserMedia').and.returnValue(
      new Promise((done) => (allow = done)),
    );
    const [first, second] = [desk.sources.addCamera(ODALYS), desk.sources.addCamera(ODALYS)];
    await second;
    expect(asked).toHaveBeenCalledTimes(1);
    desk.end();
    allow(camera);
    await first;
    expect(camera.getTracks().map(({ readyState }) => readyState)).toEqual(['ended']);
    expect(desk.sources.known()).toEqual({});
  });

  it('hands a camera to the composer, and remembers it for a reload', async () => {
    await begin();
    const camera = document.createElement('canvas').captureStream();
    spyOn(navigator.mediaDevices, 'getUserMedia').and.resolveTo(camera);
    await desk.sources.addCamera(ODALYS);
    const source = composer().last<Extract<ComposerMessage, { type: 'device_source' }>>('device_source')!;
    expect([source.id, source.fromRoom, source.video !== null, source.audio]).toEqual([
      ODALYS,
      false,
      true,
      null,
    ]);
    expect(recallDesk(showId).sources).toEqual({ [ODALYS]: { origin: 'camera' as const, choice: {} } });
    desk.dropSource(ODALYS);
    expect(camera.getTracks().map(({ readyState }) => readyState)).toEqual(['ended']);
    expect(recallDesk(showId).sources).toEqual({});
  });

  it('says why there is no camera', async () => {
    await begin();
    spyOn(navigator.mediaDevices, 'getUserMedia').and.rejectWith(new DOMException('no', 'NotAllowedError'));
    await desk.sources.addCamera(ODALYS);
    expect([desk.sources.deviceProblem(), desk.sources.known()]).toEqual(['refused', {}]);
  });

  it('notices when nothing is heard of those on stage', async () => {
    await begin();
    const figures = (peak: number) => composer().says({ type: 'figures', peak } as ComposerReport);
    figures(0);
    expect(desk.silentSinceMs()).withContext('nobody is on stage').toBeNull();
    desk.sources.addPattern(ODALYS);
    stage.bringOn(ODALYS);
    figures(0);
    const since = desk.silentSinceMs();
    expect(since).not.toBeNull();
    figures(0);
    expect(desk.silentSinceMs()).toBe(since);
    figures(0.3);
    expect(desk.silentSinceMs()).toBeNull();
  });

  it('sends no more than the strictest place takes', async () => {
    await begin();
    desk.limitTo([
      { name: 'Wide', maxKbps: 9000 },
      { name: 'Narrow', maxKbps: 2600 },
    ]);
    const { videoKbps } = uplink().last<Extract<UplinkMessage, { type: 'ceiling' }>>('ceiling')!;
    expect(videoKbps).toBeLessThan(2600);
    expect(videoKbps).toBeGreaterThan(2000);
  });

  it('covers by the relay’s own line, and only while there is one', async () => {
    await begin();
    expect(desk.cover(true)).toBeFalse();
    uplink().says({ type: 'figures', connected: true } as UplinkReport);
    expect(desk.cover(true)).toBeTrue();
    expect(uplink().last<Extract<UplinkMessage, { type: 'cover' }>>('cover')).toEqual({
      type: 'cover',
      on: true,
    });
  });

  it('knows from the relay’s own line whether viewers see the slate, and nothing without one', async () => {
    await begin();
    expect(desk.covered()).toBeNull();
    for (const on of [false, true, false, null]) {
      uplink().says({ type: 'covered', on });
      expect(desk.covered()).toBe(on);
    }
    uplink().says({ type: 'covered', on: true });
    desk.end();
    expect(desk.covered()).toBeNull();
  });

  it('goes over to the slate of a break once viewers have seen the programme, and to no other by itself', async () => {
    await begin();
    const slate = () => stage.stage().slate;
    const show = plannedShow(showId, 1);
    const tell = (values: Partial<Show>) => {
      TestBed.inject(Store).dispatch(ShowsActions.showSaved({ show: { ...show, ...values } }));
      TestBed.tick();
    };
    tell({ startedAtMs: null });
    uplink().says({ type: 'covered', on: false });
    TestBed.tick();
    expect(slate()).withContext('nothing goes out yet').toBe('before');
    uplink().says({ type: 'covered', on: true });
    tell({ startedAtMs: 1000 });
    expect(slate()).withContext('behind the slate').toBe('before');
    uplink().says({ type: 'covered', on: false });
    TestBed.tick();
    expect(slate()).toBe('break');
    expect(composer().last('slate')).toBeDefined();
    stage.do({ type: 'slate', slate: 'after' });
    uplink().says({ type: 'covered', on: true });
    uplink().says({ type: 'covered', on: false });
    TestBed.tick();
    expect(slate()).toBe('after');
  });

  it('shows what is done at once, and what is armed apart from it', async () => {
    await begin();
    const setting = () => composer().last<Extract<ComposerMessage, { type: 'setting' }>>('setting')!.setting;
    stage.bringOn(ODALYS);
    expect(placedIn(setting().programme.scene)).toEqual([ODALYS]);
    stage.arm(true);
    stage.bringOn(PASCOE);
    expect(placedIn(setting().programme.scene)).toEqual([ODALYS]);
    expect(placedIn(setting().armed!.scene)).toEqual([ODALYS, PASCOE]);
    const before = setting().takes;
    stage.take();
    expect([placedIn(setting().programme.scene), setting().takes]).toEqual([[ODALYS, PASCOE], before + 1]);
    expect(setting().mixMs).toBeGreaterThan(0);
  });
});
