import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import {
  changeStage,
  EMPTY_STAGE,
  placedIn,
  sourceId,
  type KnownStage,
  type Stage,
  type WaitingChange,
} from '@juncta/core/stage';
import { EventFeed } from '../api/event-feed';
import { StageLink } from './stage-link';

const SHOW = crypto.randomUUID();
const PATH = `/api/shows/${SHOW}/stage`;
const [A, B] = [sourceId('camera', 'a'), sourceId('camera', 'b')];

describe('the stage as this tab drives it', () => {
  let link: StageLink;
  let backend: HttpTestingController;
  let tell: (event: { payload: { known: KnownStage; done: string[] } }) => void;
  let followed: { stream: string; after: number } | null;

  beforeEach(() => {
    followed = null;
    const feed = {
      follow: (_: string, stream: string, after: number, _afresh: () => void, deliver: typeof tell) => {
        followed = { stream, after };
        tell = deliver;
      },
      follows: () => followed !== null,
    };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        { provide: EventFeed, useValue: feed },
      ],
    });
    link = TestBed.inject(StageLink);
    backend = TestBed.inject(HttpTestingController);
    jasmine.clock().install().mockDate();
  });
  afterEach(() => {
    jasmine.clock().uninstall();
    backend.verify();
  });

  const settled = async () => {
    for (let turns = 0; turns < 10; turns++) await Promise.resolve();
  };
  async function open(stage: Stage = EMPTY_STAGE, version = 4): Promise<void> {
    const opening = link.open(SHOW);
    backend.expectOne(PATH).flush({ known: { version, stage }, seq: 4 });
    await opening;
  }
  const given = () => {
    const asked = backend.expectOne({ method: 'POST', url: PATH });
    return { asked, changes: (asked.request.body as { changes: WaitingChange[] }).changes };
  };
  const after = (stage: Stage, changes: readonly WaitingChange[]) =>
    changes.reduce((before, { change }) => changeStage(before, change).stage, stage);
  const shown = () => placedIn(link.stage().programme);

  it('is as the server keeps it, and is followed from there', async () => {
    await open({ ...EMPTY_STAGE, programme: { ...EMPTY_STAGE.programme, layout: 'row' } });
    expect(link.stage().programme.layout).toBe('row');
    expect(followed).toEqual({ stream: `stage/${SHOW}`, after: 4 });
    const stage = after(EMPTY_STAGE, [
      { id: '1', change: { type: 'scene', event: { type: 'bring_on', source: B } } },
    ]);
    tell({ payload: { known: { version: 5, stage }, done: ['1'] } });
    expect(shown()).toEqual([B]);
  });

  it('is read again by whoever signs in after a sign-out, and else once', async () => {
    await open();
    await link.open(SHOW);
    backend.expectNone(PATH);
    followed = null;
    await open({ ...EMPTY_STAGE, takes: 3 }, 5);
    expect(link.stage().takes).toBe(3);
  });

  it('shows at once what is done here, and gives it in order, one request at a time', async () => {
    await open();
    const seen: number[] = [];
    link.changed.subscribe((stage) => seen.push(placedIn(stage.programme).length));
    link.bringOn(A);
    expect([shown(), link.waiting(), seen]).toEqual([[A], 1, [1]]);
    const first = given();
    link.bringOn(B);
    link.setLayout('row');
    backend.expectNone(PATH);
    const one = after(EMPTY_STAGE, first.changes);
    first.asked.flush({ known: { version: 5, stage: one }, refused: [] });
    await settled();
    const second = given();
    expect(second.changes.length).toBe(2);
    second.asked.flush({ known: { version: 6, stage: after(one, second.changes) }, refused: [] });
    await settled();
    expect([shown(), link.waiting(), link.stage().programme.layout]).toEqual([[A, B], 0, 'row']);
  });

  it('goes on while the server is away, and gives then what was done meanwhile', async () => {
    await open();
    link.bringOn(A);
    given().asked.error(new ProgressEvent('error'));
    link.bringOn(B);
    link.arm(true);
    expect([shown(), link.waiting()]).toEqual([[A, B], 3]);
    jasmine.clock().tick(1000);
    const again = given();
    expect(again.changes.length).withContext('the first, with its own id').toBe(1);
    again.asked.flush({ known: { version: 5, stage: after(EMPTY_STAGE, again.changes) }, refused: [] });
    await settled();
    const rest = given();
    expect(rest.changes.map(({ change }) => change.type)).toEqual(['scene', 'arm']);
    rest.asked.flush({ known: { version: 6, stage: after(link.stage(), []) }, refused: [] });
    await settled();
    expect(link.waiting()).toBe(0);
  });

  it('says that another desk took a moment before, and shows what that took', async () => {
    const armed = { ...EMPTY_STAGE, armed: { ...EMPTY_STAGE.programme, layout: 'grid' as const } };
    await open(armed);
    link.take();
    const { asked, changes } = given();
    const theirs = { ...armed, programme: armed.armed, armed: EMPTY_STAGE.programme, takes: 1 };
    asked.flush({
      known: { version: 5, stage: theirs },
      refused: [{ id: changes[0]!.id, reason: 'taken_before' }],
    });
    await settled();
    expect([link.refused(), link.stage().takes, link.stage().programme.layout]).toEqual([
      'taken_before',
      1,
      'grid',
    ]);
    link.setNames(false);
    expect(link.refused()).withContext('is said until the next is done').toBeNull();
    given();
  });

  it('goes back to what the server has when that takes none of it', async () => {
    await open();
    link.bringOn(A);
    given().asked.flush(
      { code: 'forbidden', sentence: 'Your role may not do this.' },
      { status: 403, statusText: 'No' },
    );
    await settled();
    expect([shown(), link.waiting()]).toEqual([[], 0]);
    expect(link.refused()).toEqual(jasmine.objectContaining({ code: 'forbidden' }));
  });

  it('refuses here already what cannot be', async () => {
    await open();
    link.take();
    expect(link.refused()).toBe('nothing_armed');
  });
});
