import { provideHttpClient } from '@angular/common/http';
import { HttpTestingController, provideHttpClientTesting } from '@angular/common/http/testing';
import { provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import type { RenditionReport } from '@juncta/contract/relay';
import { tower } from '../testing/destinations';
import { FeedSheet } from './feed-sheet';

describe('the sheet of a feed', () => {
  const opened = (rendition: RenditionReport | null, still: number | null = null) => {
    TestBed.configureTestingModule({
      providers: [provideZonelessChangeDetection(), provideHttpClient(), provideHttpClientTesting()],
    });
    const fixture = TestBed.createComponent(FeedSheet);
    const element = fixture.nativeElement as HTMLElement;
    fixture.componentRef.setInput('showId', 's');
    fixture.componentRef.setInput('destination', tower());
    fixture.componentRef.setInput('listing', null);
    fixture.componentRef.setInput('rendition', rendition);
    fixture.componentRef.setInput('still', still);
    fixture.componentRef.setInput('headingId', 'h');
    fixture.detectChanges();
    TestBed.tick();
    return { fixture, element };
  };

  it('says what its place gets, and how the encoder of it fares', () => {
    expect(opened(null).element.textContent).toContain('It gets the programme as it is.');
    TestBed.resetTestingModule();
    const encoded = {
      height: 720,
      rateHz: 30,
      videoKbps: 2500,
      shape: 'landscape' as const,
      keyframeS: 2,
      destinationIds: ['d'],
      cores: 0.6,
    };
    expect(opened({ ...encoded, state: 'behind' }).element.textContent).toMatch(
      /encoded at the relay: 1280x720, 30 frames\/s, 2.5 Mbit\/s. The relay’s machine does not keep pace/,
    );
  });

  it('shows what was sent last, and nothing before', () => {
    expect(opened(null).element.querySelector('img')).toBeNull();
    TestBed.resetTestingModule();
    const img = opened(null, 7).element.querySelector('img')!;
    expect(img.getAttribute('src')).toBe('/api/shows/s/feeds/d/still?n=7');
    expect(img.alt).toBe('The last picture that was sent to Our tower');
  });

  it('tells what happened, newest first, and its figures in words too', () => {
    const { fixture, element } = opened(null);
    expect(element.textContent).toContain('Nothing has been sent there yet.');
    expect(element.textContent).toContain('Nobody knows what the end of the feed does there.');
    const sample = (kbps: number | null) => ({ atMs: 0, kbps, leftOutFrames: 0, viewers: null });
    TestBed.inject(HttpTestingController)
      .expectOne('/api/shows/s/feeds/d/history')
      .flush({
        log: [
          { atMs: 1000, state: 'sending', reason: null, placeSays: null },
          { atMs: 9000, state: 'recovering', reason: 'lost_connection', placeSays: 'Gone.' },
        ],
        samples: [sample(4100), sample(null), sample(4300)],
        health: {
          ...{ width: 1280, height: 720, framesPerS: 29.9, kbps: 4250, keyframeS: 2 },
          warnings: ['no <b>sound</b>'],
        },
      });
    fixture.detectChanges();
    const lines = [...element.querySelectorAll('ol li')].map((one) => one.textContent);
    expect(lines.length).toBe(2);
    expect(lines[0]).toContain('The connection broke.');
    expect(lines[0]).toContain('“Gone.”');
    expect(element.textContent).toContain(
      'The place says that it gets 1280x720, 29.9 frames/s, 4.3 Mbit/s, a keyframe every 2.0 s.',
    );
    expect(element.textContent).toContain('It warns: no <b>sound</b>.');
    expect(element.querySelector('canvas')!.getAttribute('aria-label')).toBe(
      'kbit/s: from 4100 to 4300, last 4300',
    );
    fixture.destroy();
  });
});
