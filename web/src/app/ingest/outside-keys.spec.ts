import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import { provideRouter } from '@angular/router';
import type { Input } from '@juncta/contract/ingest';
import type { ProgrammeReport } from '@juncta/contract/relay';
import { EMPTY_STAGE, outsideSource, type Stage, type StageChange } from '@juncta/core/stage';
import { provideStore, Store } from '@ngrx/store';
import { ProgrammeActions } from '../programme/programme.actions';
import { programmeFeature } from '../programme/programme.feature';
import { StageLink } from '../stage/stage-link';
import { WhoComposes } from '../stage/who-composes';
import { inputReport, outsideInput } from '../testing/inputs';
import { programme, view } from '../testing/programme';
import { OutsideKeys } from './outside-keys';

const SHOW = 'show';

describe('outside pictures on the desk', () => {
  let fixture: ComponentFixture<OutsideKeys>;
  let done: StageChange[];
  const stage = signal<Stage>(EMPTY_STAGE);
  const composed = signal(true);

  async function setUp(inputs: Input[], change: Partial<ProgrammeReport> = {}): Promise<void> {
    done = [];
    const link = { stage, do: (one: StageChange) => done.push(one) };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideHttpClient(),
        provideHttpClientTesting(),
        provideRouter([]),
        provideStore({ [programmeFeature.name]: programmeFeature.reducer }),
        { provide: StageLink, useValue: link },
        { provide: WhoComposes, useValue: { isAnywhere: composed } },
      ],
    });
    const reports = inputs.map(({ id }) => inputReport({ inputId: id }));
    TestBed.inject(Store).dispatch(ProgrammeActions.opened({ showId: SHOW }));
    TestBed.inject(Store).dispatch(
      ProgrammeActions.known({
        showId: SHOW,
        view: view({ programme: programme({ inputs: reports, ...change }) }),
      }),
    );
    fixture = TestBed.createComponent(OutsideKeys);
    fixture.componentRef.setInput('showId', SHOW);
    await fixture.whenStable();
    TestBed.inject(HttpTestingController)
      .expectOne(`/api/shows/${SHOW}/inputs`)
      .flush({ inputs, hasStandIns: false });
    await fixture.whenStable();
  }
  const keys = () =>
    [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')].map((key) =>
      key.textContent.trim(),
    );
  const press = async (words: string) => {
    const all = [...(fixture.nativeElement as HTMLElement).querySelectorAll('button')];
    all.find((key) => key.textContent.trim() === words)!.click();
    await fixture.whenStable();
  };

  afterEach(() => {
    stage.set(EMPTY_STAGE);
    composed.set(true);
  });

  it('are taken as the programme, or brought to the stage where somebody composes', async () => {
    await setUp([outsideInput(), outsideInput({ id: 'tests', name: 'Tests', onArrival: 'test_only' })]);
    expect(keys()).toEqual(['Take “Hall”', '“Hall” to the stage']);
    await press('“Hall” to the stage');
    const source = outsideSource('hall');
    expect(done).toEqual([{ type: 'outside', inputId: 'hall', source }]);
    stage.set({ ...EMPTY_STAGE, outside: [{ inputId: 'hall', source }] });
    await fixture.whenStable();
    expect(keys()).toEqual(['Take “Hall”']);
    stage.set(EMPTY_STAGE);
    composed.set(false);
    await fixture.whenStable();
    expect(keys()).toEqual(['Take “Hall”']);
  });

  it('go back to the desk, and say where the programme comes from', async () => {
    await setUp([outsideInput()], { inputId: 'hall' });
    expect((fixture.nativeElement as HTMLElement).textContent).toContain(
      '“Hall” comes on at its next keyframe.',
    );
    expect(keys()).toEqual(['Back to the desk']);
    await press('Back to the desk');
    const { request } = TestBed.inject(HttpTestingController).expectOne(`/api/shows/${SHOW}/programme-input`);
    expect(request.body).toEqual({ inputId: null });
  });

  it('are not offered before they have come', async () => {
    await setUp([outsideInput()], {
      inputs: [inputReport({ inputId: 'hall', figures: null, state: 'nothing' })],
    });
    expect(keys()).toEqual([]);
  });
});
