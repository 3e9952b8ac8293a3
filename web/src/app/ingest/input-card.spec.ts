import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { Input, InputSettings } from '@juncta/contract/ingest';
import type { InputReport, ProgrammeReport } from '@juncta/contract/relay';
import { INGEST_FINDINGS } from '@juncta/core/ingest';
import { provideStore, Store } from '@ngrx/store';
import { ProgrammeActions } from '../programme/programme.actions';
import { programmeFeature } from '../programme/programme.feature';
import { inputReport, outsideInput } from '../testing/inputs';
import { programme, SHOW, view } from '../testing/programme';
import { InputCard } from './input-card';
import { findingTexts } from './ingest.texts';
import { ShowInputs } from './show-inputs';

describe('the card of an input', () => {
  let fixture: ComponentFixture<InputCard>;
  let element: HTMLElement;
  let http: HttpTestingController;
  let store: Store;

  async function setUp(
    report: InputReport | null,
    change: Partial<ProgrammeReport> = {},
    hasStandIns = false,
  ) {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideStore({ [programmeFeature.name]: programmeFeature.reducer }),
      ],
    });
    http = TestBed.inject(HttpTestingController);
    store = TestBed.inject(Store);
    TestBed.inject(ShowInputs).open(SHOW);
    http.expectOne(`/api/shows/${SHOW}/inputs`).flush({ inputs: [outsideInput()], hasStandIns });
    tell(report, change);
    fixture = TestBed.createComponent(InputCard);
    fixture.componentRef.setInput('showId', SHOW);
    fixture.componentRef.setInput('input', outsideInput());
    element = fixture.nativeElement as HTMLElement;
    await fixture.whenStable();
  }
  const tell = (report: InputReport | null, change: Partial<ProgrammeReport> = {}) =>
    store.dispatch(
      ProgrammeActions.known({
        showId: SHOW,
        view: view({ programme: programme({ inputs: report ? [report] : [], ...change }) }),
      }),
    );
  const key = (name: string) =>
    [...element.querySelectorAll('button')].find(({ textContent }) => textContent.trim() === name);
  const text = () => element.textContent.replace(/\s+/g, ' ');

  it('says that nothing has come, and how it is set up', async () => {
    await setUp(null);
    expect(text()).toContain('Nothing has come');
    expect(element.querySelector('details')!.open).toBeTrue();
    expect(key('Take as programme')).toBeUndefined();
    expect(key('Stand-in meeting')).toBeUndefined();
    // The key is not for everybody who looks over a shoulder.
    expect(text()).not.toContain('a-key');
    key('Show')!.click();
    await fixture.whenStable();
    expect(text()).toContain('a-key');
  });

  it('says whether it is on the stage, and takes nothing that is for tests only', async () => {
    await setUp(inputReport());
    expect(text()).toContain('Here, in preview');
    tell(inputReport({ isOnStage: true }));
    await fixture.whenStable();
    expect(text()).toContain('Here, on the stage');
    expect(key('Take as programme')).toBeDefined();
    fixture.componentRef.setInput('input', outsideInput({ onArrival: 'test_only' }));
    await fixture.whenStable();
    expect(text()).toContain('For tests only');
    expect(key('Take as programme')).toBeUndefined();
  });

  it('speaks of a passphrase where it comes by SRT', async () => {
    await setUp(null);
    expect(text()).toContain('Stream key');
    fixture.componentRef.setInput(
      'input',
      outsideInput({ transport: 'srt', address: 'srt://house.example:8423' }),
    );
    await fixture.whenStable();
    expect(text()).not.toContain('Stream key');
    expect(text()).toContain('its mode is “caller”');
    expect(key('Copy passphrase')).toBeDefined();
    expect(text()).not.toContain('When a second encoder comes');
  });

  it('tells a wrong key from nothing', async () => {
    await setUp(inputReport({ state: 'knocking', figures: null, carriage: null, still: null }));
    expect(text()).toContain('Wrong key');
    expect(text()).toContain('Copy the key anew');
  });

  it('tells what comes, and makes it the programme', async () => {
    await setUp(inputReport());
    expect(text()).toContain(
      'H.264, 1280x720, 30 frames a second, 2.5 Mbit/s, a keyframe every 2 s, frames up to 12 ms late',
    );
    expect(text()).toContain('AAC, 48 kHz, stereo, 128 kbit/s');
    expect(text()).toContain('It fits: its frames are passed on as they are.');
    expect(element.querySelector('img')!.getAttribute('src')).toBe(
      `/api/shows/${SHOW}/inputs/hall/still?n=7`,
    );
    key('Take as programme')!.click();
    const request = http.expectOne(`/api/shows/${SHOW}/programme-input`);
    expect(request.request.body).toEqual({ inputId: 'hall' });
    request.flush(programme({ inputId: 'hall', inputs: [inputReport({ state: 'as_programme' })] }));
    await fixture.whenStable();
    expect(text()).toContain('Is the programme');
    expect(key('Take as programme')).toBeUndefined();
    expect(key('Back to the desk')).toBeDefined();
  });

  it('takes nothing that cannot be shown, and says why', async () => {
    const block = { code: 'codec_not_taken', level: 'block', has: 'h265', wants: 'h264' } as const;
    await setUp(inputReport({ findings: [block], carriage: null }));
    expect(key('Take as programme')!.disabled).toBeTrue();
    expect(text()).toContain('Cannot be shown: The video is H.265.');
  });

  it('waits where too little is known yet', async () => {
    await setUp(inputReport({ carriage: null }));
    expect(key('Take as programme')!.disabled).toBeTrue();
    expect(text()).toContain('Looking at what comes');
  });

  it('changes how it is set up', async () => {
    await setUp(null);
    const changed = (input: Partial<Input>) => {
      const request = http.expectOne(`/api/shows/${SHOW}/inputs/hall`);
      const before = outsideInput();
      const { name, transport, second, onArrival, isStanding } = before;
      expect(request.request.body).toEqual({ name, transport, second, onArrival, isStanding, ...input });
      request.flush({ inputs: [outsideInput(input)], hasStandIns: false });
    };
    const [second, arrival] = ['second', 'arrival'].map((field) =>
      element.querySelector<HTMLSelectElement>(`#hall-${field}`),
    );
    second!.value = 'takes_over';
    second!.dispatchEvent(new Event('change'));
    changed({ second: 'takes_over' });
    arrival!.value = 'is_taken';
    arrival!.dispatchEvent(new Event('change'));
    changed({ onArrival: 'is_taken' });
    const stays = element.querySelector<HTMLInputElement>('input[type=checkbox]')!;
    stays.click();
    changed({ isStanding: true });
  });

  it('waits with being called until it is known where, and says why nobody comes', async () => {
    await setUp(null);
    const way = element.querySelector<HTMLSelectElement>('#hall-transport')!;
    way.value = 'srt_called';
    way.dispatchEvent(new Event('change'));
    await fixture.whenStable();
    http.expectNone(`/api/shows/${SHOW}/inputs/hall`);
    fixture.componentRef.setInput('input', outsideInput({ isStanding: true }));
    await fixture.whenStable();
    const fill = (field: string, value: string) =>
      (element.querySelector<HTMLInputElement>(`#hall-${field}`)!.value = value);
    fill('called', 'srt://hall.example:9000');
    fill('passphrase', 'long & odd enough');
    key('Call it')!.click();
    const request = http.expectOne(`/api/shows/${SHOW}/inputs/hall`);
    expect((request.request.body as InputSettings).transport).toBe('srt_called');
    expect((request.request.body as InputSettings).called).toEqual({
      address: 'srt://hall.example:9000',
      key: 'passphrase=long+%26+odd+enough',
    });
    const called = outsideInput({
      transport: 'srt_called',
      address: 'srt://hall.example:9000',
      key: 'passphrase=long+%26+odd+enough',
    });
    fixture.componentRef.setInput('input', called);
    tell(inputReport({ state: 'nothing', figures: null, callProblem: 'wrong_passphrase' }));
    await fixture.whenStable();
    expect(text()).toContain('It answers, and wants another passphrase.');
    expect(text()).toContain('its mode is “listener”');
    expect(key('New key')).toBeUndefined();
    expect(element.querySelector<HTMLInputElement>('#hall-passphrase')!.value).toBe('long & odd enough');
  });

  it('moves when somebody wants to watch it, with a ticket that is let go of with it', async () => {
    await setUp(inputReport());
    key('Watch it move')!.click();
    await fixture.whenStable();
    const asked = http.expectOne(`/api/shows/${SHOW}/inputs-watched`);
    asked.flush(
      { code: 'not_ready', sentence: 'The relay does not answer.', requestId: 'r' },
      { status: 503, statusText: 'Service Unavailable' },
    );
    await fixture.whenStable();
    expect(element.querySelector('jn-input-watch')!.textContent).toContain('The relay does not answer.');
    expect(element.querySelector('img')).toBeNull();
    key('Watch it move')!.click();
    await fixture.whenStable();
    expect(element.querySelector('jn-input-watch')).toBeNull();
    expect(element.querySelector('img')).not.toBeNull();
  });

  it('says what it costs to make it fit', async () => {
    await setUp(inputReport({ carriage: { video: true, audio: false }, cores: 0.94 }));
    expect(text()).toContain('takes about 0.9 of this machine’s cores');
  });

  it('renews its key on the second press', async () => {
    await setUp(null);
    key('New key')!.click();
    await fixture.whenStable();
    http.expectNone(`/api/shows/${SHOW}/inputs/hall/key`);
    key('New key, cut off the old one')!.click();
    http.expectOne(`/api/shows/${SHOW}/inputs/hall/key`);
    expect(http.match(() => true).length).toBe(0);
  });

  it('brings a stand-in where there are any', async () => {
    await setUp(null, {}, true);
    key('Stand-in meeting')!.click();
    const request = http.expectOne(`/api/shows/${SHOW}/inputs/hall/stand-in`);
    expect(request.request.body).toEqual({ kind: 'meeting' });
  });
});

describe('findings about an outside picture', () => {
  it('are sentences with their figures in them', () => {
    for (const code of INGEST_FINDINGS) {
      const sentence = findingTexts[code]({ code, level: 'warning', has: 44_100, wants: 48_000 });
      expect(sentence)
        .withContext(code)
        .toMatch(/^[A-Z0-9].*\.$/);
      expect(sentence)
        .withContext(code)
        .not.toMatch(/undefined|null|NaN/);
    }
  });
});
