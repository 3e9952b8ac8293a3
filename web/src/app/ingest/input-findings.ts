import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';
import type { InputReport } from '@juncta/contract/relay';
import { figureTexts, findingTexts, levelTexts } from './ingest.texts';

/** What comes from outside, in figures and in words. */
@Component({
  selector: 'jn-input-findings',
  template: `
    @if (video(); as words) {
      <p>{{ words }}</p>
    }
    @if (audio(); as words) {
      <p>{{ words }}</p>
    }
    @if (carried(); as words) {
      <p>{{ words }}</p>
    }
    @if (cores(); as words) {
      <p>{{ words }}</p>
    }
    @if (findings().length > 0) {
      <ul>
        @for (one of findings(); track one.code) {
          <li [attr.data-level]="one.level">
            <span class="level">{{ one.levelWord }}</span> {{ one.sentence }}
          </li>
        }
      </ul>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-2);
    }
    p,
    ul {
      margin: 0;
    }
    ul {
      padding: 0;
      list-style: none;
      display: grid;
      gap: var(--space-1);
    }
    .level {
      font-weight: 600;
    }
    [data-level='block'] .level {
      color: var(--wrong);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class InputFindings {
  readonly report = input.required<InputReport>();

  protected readonly video = computed(() => {
    const video = this.report().figures?.video;
    if (!video) return null;
    const size = video.sequence && `${video.sequence.width}x${video.sequence.height}`;
    const line = figureTexts.video(video.codec, size, video.rateHz, video.kbps);
    const keyframe = video.keyframeS === null ? [] : [figureTexts.keyframe(video.keyframeS)];
    return [line, ...keyframe, figureTexts.late(video.lateMs)].join(', ');
  });
  protected readonly audio = computed(() => {
    const audio = this.report().figures?.audio;
    return audio ? figureTexts.audio(audio.codec, audio.rateHz, audio.channels, audio.kbps) : null;
  });
  protected readonly carried = computed(() => {
    const { carriage } = this.report();
    if (!carriage) return null;
    if (carriage.video) return figureTexts.converted;
    return carriage.audio ? figureTexts.audioConverted : figureTexts.copied;
  });
  protected readonly cores = computed(() => {
    const { cores } = this.report();
    return cores === null ? null : figureTexts.cores(cores);
  });
  protected readonly findings = computed(() =>
    this.report().findings.map((finding) => ({
      code: finding.code,
      level: finding.level,
      levelWord: `${levelTexts[finding.level]}:`,
      sentence: findingTexts[finding.code](finding),
    })),
  );
}
