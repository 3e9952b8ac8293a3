import { signal } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { ComposingDesk } from '../stage/composing-desk';
import { UploadCheck } from './upload-check';

describe('UploadCheck', () => {
  const plenty = { videoKbps: 4000, limitedBy: null, uplink: 'enough' };
  const desk = (measured: number | null, now: { videoKbps: number; ceilingKbps: number } | null) => ({
    advice: signal(plenty),
    picture: signal({ width: 1280, height: 720 }),
    measuredKbps: signal(measured),
    uplink: signal(now),
    checkUpload: () => Promise.resolve(),
  });
  const full = { videoKbps: 4000, ceilingKbps: 4000 };
  const lowered = { videoKbps: 1129, ceilingKbps: 4000 };

  const CASES = [
    ['before any check', null, full, /was not checked yet\. The picture is sent at 4000/],
    ['checked', 8000, full, /^This line carries 8\.0 Mbit\/s\. The picture is sent at 4000 kbit\/s\.$/],
    ['more than anybody needs', 240_000, full, /^This line carries more than 100 Mbit\/s\./],
    ['lowered, never checked', null, lowered, /^The line carries less just now.* 1129 kbit\/s, of 4000/],
    [
      'lowered after a check',
      8000,
      lowered,
      /^This line carried 8\.0 Mbit\/s when it was checked\. .* 1129 /,
    ],
  ] as const;
  for (const [name, measured, now, said] of CASES) {
    it(`says what the line carries and what is sent: ${name}`, () => {
      TestBed.configureTestingModule({
        providers: [{ provide: ComposingDesk, useValue: desk(measured, now) }],
      });
      const fixture = TestBed.createComponent(UploadCheck);
      fixture.detectChanges();
      const status = (fixture.nativeElement as HTMLElement).querySelector('[role="status"]')!;
      expect(status.textContent).toMatch(said);
    });
  }
});
