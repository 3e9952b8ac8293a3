import { provideZonelessChangeDetection, signal } from '@angular/core';
import { TestBed, type ComponentFixture } from '@angular/core/testing';
import type { RoomView } from '@juncta/contract/people';
import type { ShowPerson } from '@juncta/contract/shows';
import type { Asked } from '@juncta/core/people';
import {
  AS_IT_COMES,
  EMPTY_STAGE,
  outsideSource,
  sourceId,
  type Stage,
  type StageChange,
} from '@juncta/core/stage';
import { ShowInputs } from '../../ingest/show-inputs';
import { RoomLink } from '../../people/room/room-link';
import { StandIns } from '../../people/room/stand-ins';
import { ComposingDesk } from '../composing-desk';
import { OpenPanel } from '../open-panel';
import { WhoComposes } from '../who-composes';
import { StageLink } from '../stage-link';
import { AdjustPanel } from './adjust-panel';

const ODALYS = sourceId('camera', 'odalys');
const SCREEN = sourceId('screen', 'odalys');
const INPUT = '0b8c1d2e-3f40-4a5b-8c6d-7e8f90a1b2c3';
const PEOPLE = [{ id: 'odalys', name: 'Odalys Brandt' }] as ShowPerson[];

describe('adjusting a source', () => {
  let done: StageChange[];
  let asked: string[];
  let dropped: string[];
  const view = signal<RoomView | null>(null);
  let fixture: ComponentFixture<AdjustPanel>;
  const stage = signal<Stage>(EMPTY_STAGE);

  async function open(source = ODALYS): Promise<HTMLElement> {
    [done, asked, dropped] = [[], [], []];
    const link = { stage, do: (change: StageChange) => done.push(change) };
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        { provide: StageLink, useValue: link },
        {
          provide: RoomLink,
          useValue: { view, ask: (who: string, what: Asked) => asked.push(`${who} ${what}`) },
        },
        { provide: ShowInputs, useValue: { inputs: signal([{ id: INPUT, name: 'Meeting' }]) } },
        { provide: StandIns, useValue: { personIds: signal([]), busy: signal(false) } },
        { provide: ComposingDesk, useValue: { dropSource: (id: string) => dropped.push(id) } },
        { provide: WhoComposes, useValue: { isHere: signal(true) } },
      ],
    });
    TestBed.inject(OpenPanel).content.set({ of: 'source', source });
    fixture = TestBed.createComponent(AdjustPanel);
    fixture.componentRef.setInput('source', source);
    fixture.componentRef.setInput('people', PEOPLE);
    await fixture.whenStable();
    jasmine.clock().install();
    return fixture.nativeElement as HTMLElement;
  }
  const slider = (element: HTMLElement, words: string) =>
    [...element.querySelectorAll('label')]
      .find((label) => label.textContent.includes(words))!
      .querySelector('input')!;
  const key = (element: HTMLElement, words: string) =>
    [...element.querySelectorAll('button')].find((button) => button.textContent.includes(words))!;
  const draw = (input: HTMLInputElement, value: number) => {
    input.value = String(value);
    input.dispatchEvent(new Event('input'));
  };

  afterEach(() => {
    jasmine.clock().uninstall();
    stage.set(EMPTY_STAGE);
    view.set(null);
  });

  it('lets an outside picture be a picture of its own or stand for somebody, who may have another one', async () => {
    const whole = outsideSource(INPUT);
    stage.set({
      ...EMPTY_STAGE,
      outside: [{ inputId: INPUT, source: whole }],
      sources: [{ source: ODALYS, origin: 'guest', video: 'there', audio: 'there' }],
    });
    const element = await open(whole);
    expect(element.querySelector('h3')!.textContent).toBe('Adjust Meeting');
    const choice = element.querySelector('select')!;
    expect([...choice.options].map(({ text }) => text)).toEqual([
      'a picture of its own, whole and without a name',
      'Odalys Brandt',
    ]);
    choice.value = 'odalys';
    choice.dispatchEvent(new Event('change'));
    const second = sourceId('camera', 'odalys', 2);
    expect(done).toEqual([{ type: 'outside', inputId: INPUT, source: second }]);
    expect(TestBed.inject(OpenPanel).content()).toEqual({ of: 'source', source: second });
  });

  it('asks a guest for what only they can do, as far as it is not done', async () => {
    const camera = {
      source: ODALYS,
      video: 'off',
      audio: 'there',
      publication: 1,
      isAccepted: true,
    } as const;
    const odalys = { personId: 'odalys', sources: [camera], asked: ['screen'], sign: 'wings' } as const;
    view.set({ you: null, people: [odalys], stage: [], programme: null, media: true });
    const element = await open();
    expect(key(element, 'Ask for sound')).toBeUndefined();
    expect(key(element, 'Asked for a screen').disabled).toBeTrue();
    key(element, 'Ask for picture').click();
    expect(asked).toEqual(['odalys video']);
  });

  it('lets go of what this desk gives, unless it is on programme, and closes', async () => {
    const sources = [{ source: ODALYS, origin: 'camera', video: 'there', audio: 'there' }] as const;
    const layers = [{ source: ODALYS, place: { by: 'layout' } as const }];
    stage.set({ ...EMPTY_STAGE, sources, programme: { ...EMPTY_STAGE.programme, layers } });
    const element = await open();
    expect(key(element, 'Remove')).toBeUndefined();
    stage.set({ ...EMPTY_STAGE, sources });
    fixture.detectChanges();
    key(element, 'Remove').click();
    expect(dropped).toEqual([ODALYS]);
    expect(TestBed.inject(OpenPanel).content()).toBeNull();
  });

  it('gives on what is drawn a few times a second, the last of it included', async () => {
    const element = await open();
    expect(element.textContent).toContain('Adjust Odalys Brandt');
    for (const value of [1.2, 1.4, 1.6]) draw(slider(element, 'Closer'), value);
    draw(slider(element, 'Volume'), 0.5);
    expect(done).toEqual([]);
    jasmine.clock().tick(100);
    expect(done).toEqual([{ type: 'adjust', source: ODALYS, values: { zoom: 1.6, level: 0.5 } }]);
    draw(slider(element, 'Closer'), 2);
    fixture.destroy();
    expect(done.length).withContext('closed in the middle').toBe(2);
    expect(TestBed.inject(OpenPanel).content()).toBeNull();
  });

  it('keeps what is drawn while an earlier value arrives', async () => {
    const element = await open();
    draw(slider(element, 'Closer'), 1.2);
    stage.set({ ...EMPTY_STAGE, adjustments: { [ODALYS]: { ...AS_IT_COMES, zoom: 1.1 } } });
    fixture.detectChanges();
    expect(slider(element, 'Closer').value).toBe('1.2');
    key(element, 'As it comes').click();
    jasmine.clock().tick(100);
    expect(done.map((change) => change.type === 'adjust' && change.values)).toEqual([AS_IT_COMES]);
    stage.set(EMPTY_STAGE);
  });

  it('turns on and off, and goes back to how it comes', async () => {
    stage.set({ ...EMPTY_STAGE, adjustments: { [ODALYS]: { ...AS_IT_COMES, mirror: true } } });
    const element = await open();
    expect(key(element, 'Mirrored').getAttribute('aria-pressed')).toBe('true');
    key(element, 'Mirrored').click();
    key(element, 'Picture off').click();
    key(element, 'As it comes').click();
    expect(done.map((change) => change.type === 'adjust' && change.values)).toEqual([
      { mirror: false },
      { isHidden: true },
      AS_IT_COMES,
    ]);
    stage.set(EMPTY_STAGE);
  });

  it('does not mirror a screen, or cut it off', async () => {
    const element = await open(SCREEN);
    expect(element.textContent).toContain('Screen of Odalys Brandt');
    expect(key(element, 'Mirrored')).toBeUndefined();
    expect([...element.querySelectorAll('label')].map((label) => label.textContent.trim())).toEqual([
      'Volume',
      'Brightness',
      'Contrast',
    ]);
  });
});
