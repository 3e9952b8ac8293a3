import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import {
  readHouseTexts,
  readTimedTexts,
  saveHouseTexts,
  saveTimedTexts,
  type HouseText,
  type TimedText,
} from '@juncta/contract/chat';
import type { ErrorBody } from '@juncta/contract/errors';
import type { Response } from '@juncta/contract/http';
import { CHAT_PLACEHOLDERS, fillHouseText, type WrittenAbout } from '@juncta/core/chat';
import { Store } from '@ngrx/store';
import { forkJoin, switchMap, tap } from 'rxjs';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { Key } from '../../look/keys/key';
import { lookTexts } from '../../look/look.texts';
import { Notice } from '../../look/notice';
import { Unsaved } from '../../look/unsaved';
import { showsFeature } from '../../shows/shows.feature';
import { houseTextTexts } from '../chat.texts';

const MINUTE_S = 60;
type When = TimedText['when'];
type HouseTexts = Response<typeof readHouseTexts>;

/** The texts that the house keeps ready, to be written with a press, and those that this show writes by itself. */
@Component({
  selector: 'jn-chat-texts',
  imports: [Key, Notice],
  templateUrl: './chat-texts.html',
  styleUrl: './chat-texts.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatTexts {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  protected readonly texts = houseTextTexts;
  protected readonly placeholders = CHAT_PLACEHOLDERS.map((name) => `{${name}}`).join(' ');

  readonly showId = input.required<string>();
  readonly headingId = input.required<string>();
  /** Somebody wants to write this now: it goes into the field, where it can still be changed. */
  readonly chosen = output<string>();
  readonly closed = output();

  protected readonly house = signal<readonly HouseText[]>([]);
  /** Of the texts kept ready, as they were read. */
  private version = '';
  /** As somebody else changed them meanwhile; null: nobody did. */
  protected readonly theirs = signal<HouseTexts | null>(null);
  protected readonly timed = signal<readonly TimedText[]>([]);
  readonly unsaved = new Unsaved(() => [
    this.house(),
    this.timed().filter(({ state }) => state === 'waiting'),
  ]);
  protected readonly unsavedText = lookTexts.unsaved;
  protected readonly request = new RequestState();
  protected readonly told = signal<string | null>(null);
  private readonly shows = this.store.selectSignal(showsFeature.selectEntities);
  private readonly about = computed<WrittenAbout | null>(() => this.shows()[this.showId()]?.text ?? null);
  /** What is there is known: nothing that is added now is overwritten by it. */
  protected readonly isKnown = signal(false);
  protected readonly isEmpty = computed(() =>
    [...this.house(), ...this.timed()].some(({ text }) => text.trim() === ''),
  );

  constructor() {
    effect(() => {
      const showId = this.showId();
      untracked(() => this.read(showId));
    });
  }

  protected addText(): void {
    this.house.update((texts) => [...texts, { id: crypto.randomUUID(), text: '' }]);
  }

  protected changeText(id: string, text: string): void {
    this.told.set(null);
    this.house.update((texts) => texts.map((one) => (one.id === id ? { ...one, text } : one)));
  }

  protected dropText(id: string): void {
    this.house.update((texts) => texts.filter((one) => one.id !== id));
  }

  protected addTimed(): void {
    const fresh = { id: crypto.randomUUID(), text: '', state: 'waiting' as const, sentence: null };
    this.timed.update((timed) => [...timed, { ...fresh, when: { kind: 'before', seconds: 5 * MINUTE_S } }]);
  }

  protected changeTimed(id: string, values: Partial<TimedText>): void {
    this.told.set(null);
    this.timed.update((timed) => timed.map((one) => (one.id === id ? { ...one, ...values } : one)));
  }

  protected dropTimed(id: string): void {
    this.timed.update((timed) => timed.filter((one) => one.id !== id));
  }

  protected whenOf(kind: string, minutes: string): When {
    const seconds = Math.round(Math.max(0, Math.min(24 * 60, Number(minutes) || 0)) * MINUTE_S);
    return { kind: kind === 'show' ? 'show' : 'before', seconds };
  }

  protected minutes = ({ seconds }: When): number => seconds / MINUTE_S;

  /** As viewers will read it; what is not known stays out of it. */
  protected filled(text: string): string {
    const about = this.about();
    return about ? fillHouseText(text, about, null).text : text;
  }

  protected unknown(text: string): string | null {
    const about = this.about();
    const unknown = about ? fillHouseText(text, about, null).unknown : [];
    return unknown.length > 0 ? houseTextTexts.unknown(unknown.map((name) => `{${name}}`).join(', ')) : null;
  }

  protected close(): void {
    if (this.unsaved.mayClose()) this.closed.emit();
  }

  protected save(): void {
    const showId = this.showId();
    const waiting = this.timed().filter(({ state }) => state === 'waiting');
    const timed = waiting.map(({ id, text, when }) => ({ id, text, when }));
    const body = { texts: [...this.house()], version: this.version };
    this.told.set(null);
    this.api
      .call(saveHouseTexts, { body })
      .pipe(
        tap((kept) => this.take(kept)),
        // Said to be saved once all of it is.
        switchMap(() => this.api.call(saveTimedTexts, { params: { showId }, body: { timed } })),
      )
      .subscribe({
        next: ({ timed: kept }) => {
          this.timed.set(kept);
          this.unsaved.settle();
          this.request.clear();
          this.told.set(houseTextTexts.saved);
        },
        error: (error: ErrorBody) => {
          this.request.fail(error);
          const isTheirs = error.code === 'changed_meanwhile';
          this.theirs.set(isTheirs ? (error.current as HouseTexts) : null);
        },
      });
  }

  protected takeTheirs(): void {
    const theirs = this.theirs();
    if (!theirs) return;
    this.take(theirs);
    this.unsaved.settle();
  }

  /** What was changed here replaces what somebody else changed meanwhile. */
  protected keepMine(): void {
    this.version = this.theirs()?.version ?? this.version;
    this.save();
  }

  private take({ texts, version }: HouseTexts): void {
    this.house.set(texts);
    this.version = version;
    this.isKnown.set(true);
    this.theirs.set(null);
    this.request.clear();
  }

  private read(showId: string): void {
    forkJoin({
      house: this.api.call(readHouseTexts),
      timed: this.api.call(readTimedTexts, { params: { showId } }),
    }).subscribe({
      next: ({ house, timed }) => {
        this.timed.set(timed.timed);
        this.take(house);
        this.unsaved.settle();
      },
      error: (error: ErrorBody) => this.request.fail(error),
    });
  }
}
