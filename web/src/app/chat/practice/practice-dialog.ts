import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import { PRACTICE_MAX_BYTES, practicePath } from '@juncta/contract/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import { PRACTICE_SPEEDS, type PracticeSpeed } from '@juncta/core/chat';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { listingsFeature } from '../../listings/listings.feature';
import { showsFeature } from '../../shows/shows.feature';
import { practiceTexts } from './practice.texts';
import type { PracticeAnswer, PracticeRequest } from './practice.worker';

const MINUTE_MS = 60_000;

/** Chooses messages to practise on, of a show that is over or from a file, and says what that would be. */
@Component({
  selector: 'jn-practice-dialog',
  imports: [Key, Notice],
  templateUrl: './practice-dialog.html',
  styleUrl: './practice-dialog.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class PracticeDialog {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  protected readonly texts = practiceTexts;

  readonly showId = input.required<string>();
  readonly headingId = input.required<string>();
  readonly closed = output();

  private readonly shows = this.store.selectSignal(showsFeature.selectAll);
  private readonly destinations = this.store.selectSignal(listingsFeature.selectDestinations);
  private readonly destinationsStatus = this.store.selectSignal(listingsFeature.selectStatus);
  /** Those that are over, the latest first. */
  protected readonly over = computed(() =>
    this.shows()
      .filter(({ id, endedAtMs }) => endedAtMs !== null && id !== this.showId())
      .sort((a, b) => b.endedAtMs! - a.endedAtMs!),
  );
  /** The show whose messages they are; empty: none, or a file's. */
  protected readonly chosenId = signal('');
  protected readonly reading = signal(false);
  protected readonly error = signal<string | null>(null);
  private readonly file = signal<Blob | null>(null);
  /** What it would be; null: nothing is chosen, or nothing can be practised with it. */
  protected readonly plan = signal<PracticeAnswer | null>(null);
  protected readonly speed = signal<PracticeSpeed>(1);
  protected readonly beginning = signal(false);
  protected readonly told = computed(() => {
    const plan = this.plan();
    if (!plan) return this.reading() ? practiceTexts.reading : null;
    const { messages, ofHouse, unread, tooMany, elsewhere } = plan;
    return [
      practiceTexts.found(messages, ofHouse),
      ...(tooMany > 0 ? [practiceTexts.tooMany(tooMany)] : []),
      ...(unread > 0 ? [practiceTexts.unread(unread)] : []),
      ...(elsewhere.length > 0 ? [practiceTexts.elsewhere(elsewhere.join(', '))] : []),
      practiceTexts.silences,
    ].join(' ');
  });
  protected readonly speeds = computed(() => {
    const lengthMs = this.plan()?.lengthMs ?? null;
    return PRACTICE_SPEEDS.map((speed) => ({
      speed,
      name: practiceTexts.speeds[speed],
      takes: lengthMs === null ? null : practiceTexts.takes(Math.round(lengthMs / speed / MINUTE_MS)),
    }));
  });

  private worker: Worker | null = null;

  constructor() {
    // A file may be chosen before it is known where the show goes; and where it goes may change meanwhile.
    effect(() => {
      const file = this.file();
      const status = this.destinationsStatus();
      const destinations = this.destinations().map(({ id, name }) => ({ id, name }));
      if (!file) return;
      if (status === 'failed') untracked(() => this.fail(practiceTexts.notRead));
      else if (status === 'known') void untracked(() => this.read(file, destinations));
    });
    inject(DestroyRef).onDestroy(() => this.worker?.terminate());
  }

  protected chooseShow(showId: string): void {
    this.clear();
    this.chosenId.set(showId);
    if (showId === '') return;
    this.reading.set(true);
    this.api.download(`/api/shows/${showId}/chat.jsonl`).subscribe({
      next: (file) => this.take(file),
      error: (error: ErrorBody) => this.fail(error.sentence),
    });
  }

  protected chooseFile(files: FileList | null): void {
    this.clear();
    const file = files?.[0];
    if (!file) return;
    this.reading.set(true);
    this.take(file);
  }

  protected begin(): void {
    const file = this.file();
    if (!file) return;
    this.beginning.set(true);
    this.api.upload(practicePath(this.showId(), this.speed()), file).subscribe({
      next: () => this.closed.emit(),
      error: (error: ErrorBody) => {
        this.beginning.set(false);
        this.error.set(error.fields?.[0]?.sentence ?? error.sentence);
      },
    });
  }

  private take(file: Blob): void {
    if (file.size > PRACTICE_MAX_BYTES) this.fail(practiceTexts.tooLarge);
    else this.file.set(file);
  }

  private async read(file: Blob, destinations: PracticeRequest['destinations']): Promise<void> {
    this.worker?.terminate();
    if (destinations.length === 0) {
      this.fail(practiceTexts.noDestinations);
      return;
    }
    const worker = new Worker(new URL('./practice.worker', import.meta.url), { type: 'module' });
    this.worker = worker;
    worker.onmessage = ({ data }: MessageEvent<PracticeAnswer>) => {
      worker.terminate();
      if (data.messages === 0) {
        this.fail(practiceTexts.nothing);
        return;
      }
      this.reading.set(false);
      this.error.set(null);
      this.plan.set(data);
    };
    worker.onerror = () => {
      worker.terminate();
      this.fail(practiceTexts.notRead);
    };
    try {
      worker.postMessage({ file: await file.text(), destinations } satisfies PracticeRequest);
    } catch {
      this.fail(practiceTexts.notRead);
    }
  }

  private clear(): void {
    this.error.set(null);
    this.chosenId.set('');
    this.file.set(null);
    this.plan.set(null);
    this.reading.set(false);
    this.worker?.terminate();
  }

  private fail(sentence: string): void {
    this.reading.set(false);
    this.plan.set(null);
    this.error.set(sentence);
  }
}
