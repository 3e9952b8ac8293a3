import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import type { Recording } from '@juncta/contract/recordings';
import { formatShowTime } from '@juncta/core/programme';
import { Store } from '@ngrx/store';
import { Key } from '../look/keys/key';
import { programmeFeature } from '../programme/programme.feature';
import { recordingAbout, recordingKinds, recordingTexts, recordingWords } from './recordings.texts';

/** The recordings of a show: what becomes of each, and the finished ones to watch and to keep. */
@Component({
  selector: 'jn-recordings-list',
  imports: [Key],
  template: `
    <h3 class="label">{{ texts.recordings }}</h3>
    <ul class="plain">
      @for (row of rows(); track row.id) {
        <li>
          <strong>{{ row.kind }}</strong>
          <span class="soft">{{ row.about }}</span>
          <span role="status">
            @if (row.url) {
              <span class="figure">{{ row.length }}</span> · {{ row.size }}
            } @else {
              {{ row.word }}
            }
          </span>
          @if (row.lack) {
            <span class="problem">{{ row.lack }}</span>
          }
          @if (row.url; as url) {
            <span class="keys">
              <button
                jnKey
                type="button"
                [attr.aria-label]="texts.watchName(row.kind)"
                (click)="watch(row.id)"
              >
                {{ watched() === row.id ? texts.closePlayer : texts.watch }}
              </button>
              <a jnKey [href]="url + '?download'" [attr.aria-label]="texts.saveName(row.kind)" download>{{
                texts.save
              }}</a>
            </span>
            @if (watched() === row.id) {
              <video
                [src]="url"
                controls
                preload="metadata"
                [attr.aria-label]="texts.player(row.kind)"
              ></video>
            }
          }
        </li>
      } @empty {
        <li class="soft">{{ texts.noRecordings }}</li>
      }
    </ul>
  `,
  styles: `
    h3 {
      margin: 0 0 var(--space-2);
      font-size: 0.87rem;
    }
    li {
      display: grid;
      gap: var(--space-1);
      padding-block: var(--space-2);
      border-bottom: 1px solid var(--rule);
      line-height: 1.3;
    }
    .keys {
      display: flex;
      gap: var(--space-2);
    }
    video {
      width: 100%;
      aspect-ratio: 16 / 9;
      background: #000;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class RecordingsList {
  private readonly recordings = inject(Store).selectSignal(programmeFeature.selectRecordings);
  protected readonly texts = recordingTexts;

  readonly showId = input.required<string>();
  protected readonly watched = signal<string | null>(null);
  protected readonly rows = computed(() => {
    // The newest run first: it is the one that was just made.
    return [...this.recordings()]
      .sort((a, b) => b.startedAtMs - a.startedAtMs)
      .map((recording) => this.rowOf(recording));
  });

  protected watch(id: string): void {
    this.watched.set(this.watched() === id ? null : id);
  }

  private rowOf({ runId, kind, status, bytes, lengthMs, missing }: Recording) {
    const ready = status === 'ready' && bytes !== null;
    return {
      id: `${runId} ${kind}`,
      kind: recordingKinds[kind],
      about: recordingAbout[kind],
      word: recordingWords[status],
      url: ready ? `/api/shows/${this.showId()}/recordings/${runId}/${kind}` : null,
      length: formatShowTime(lengthMs ?? 0),
      lack: ready && missing ? lackOf(kind, missing) : '',
      size: ready ? recordingTexts.size((bytes / 1_000_000).toFixed(1)) : '',
    };
  }
}

/** What a person has to know of a file that is not complete; empty: it is. */
function lackOf(
  kind: Recording['kind'],
  { packets, ms, damagedBytes }: NonNullable<Recording['missing']>,
): string {
  if (kind === 'programme' && packets > 0)
    return recordingTexts.packetsMissing(packets, (ms / 1000).toFixed(1), damagedBytes > 0);
  return damagedBytes > 0 ? recordingTexts.damaged : '';
}
