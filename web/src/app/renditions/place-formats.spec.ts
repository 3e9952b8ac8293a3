import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { Destination } from '@juncta/contract/destinations';
import type { PictureFormat } from '@juncta/core/programme';
import { SLOW_MACHINE, type EncodingMachine } from '@juncta/core/renditions';
import { EncodingMachineHere } from './encoding-machine';
import { PlaceFormats } from './place-formats';

const place = (name: string, maxKbps: number, maxFramesPerS = 60, maxHeight = 1080) => {
  const encoder = { shape: 'landscape' as const, maxHeight, maxFramesPerS, maxKbps, keyframeS: 2 };
  return { id: name, name, rules: { capabilities: { encoder } } } as unknown as Destination;
};
const PLACES = [place('Kite', 12_000), place('Guild', 4200, 30), place('Ember', 12_000)];

describe('what the places of a show get', () => {
  const shown = (format: PictureFormat, machine: EncodingMachine | null, places = PLACES) => {
    const here = { machine: signal(machine), ask: () => undefined };
    TestBed.configureTestingModule({ providers: [{ provide: EncodingMachineHere, useValue: here }] });
    const fixture = TestBed.createComponent(PlaceFormats);
    fixture.componentRef.setInput('format', format);
    fixture.componentRef.setInput('destinations', places);
    fixture.detectChanges();
    const element = fixture.nativeElement as HTMLElement;
    return [...element.querySelectorAll('li')].map((li) => ({
      text: li.textContent.trim(),
      isWarning: li.classList.contains('warn'),
    }));
  };
  const machine = (cores: number, isMeasured = true) => ({ cores, cost: SLOW_MACHINE, isMeasured });

  it('is the picture as it is where all take it', () =>
    expect(shown('720p30', machine(1))).toEqual([
      { text: 'Every place takes this picture as it is.', isWarning: false },
    ]));

  it('says who gets one apart, what it takes, and what is left', () =>
    expect(shown('1080p60', machine(4)).map(({ text }) => text)).toEqual([
      'Guild: 1920x1080, 30 frames/s, 3.8 Mbit/s. Encoded at the relay, 1.4 cores.',
      'That leaves the relay 2.6 cores for more.',
    ]));

  it('says that figures are not of this machine', () =>
    expect(shown('1080p60', machine(4, false)).at(-1)!.text).toContain('Nobody has measured that machine'));

  it('warns of who gets nothing', () => {
    expect(shown('1080p60', machine(0))).toEqual([
      {
        text: 'Guild gets nothing: it takes 30 frames a second at most, and the relay has no room to encode for it.',
        isWarning: true,
      },
    ]);
  });

  it('warns of what all get less for', () => {
    const [lowered] = shown('1080p30', null);
    expect(lowered!.isWarning).toBeTrue();
    expect(lowered!.text).toContain('at 3.8 Mbit/s, which is what Guild takes');
  });

  it('says nothing of a show that goes nowhere yet', () =>
    expect(shown('1080p60', machine(1), [])).toEqual([]));
});
