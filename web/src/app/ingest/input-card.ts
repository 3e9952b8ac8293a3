import { ChangeDetectionStrategy, Component, computed, inject, input, signal } from '@angular/core';
import { stillPath, STAND_IN_KINDS, type Input } from '@juncta/contract/ingest';
import { ArmedKey } from '../look/keys/armed-key';
import { CopyKey } from '../look/keys/copy-key';
import { Key } from '../look/keys/key';
import { StateMark } from '../look/state-mark';
import { InputFindings } from './input-findings';
import { InputSettings } from './input-settings';
import { callTexts, ingestTexts, stateTexts } from './ingest.texts';
import { ShowInputs } from './show-inputs';
import { InputWatch } from './watch/input-watch';
import { watchTexts } from './watch/watch.texts';

/** One input: its light, what comes, how an encoder is set up for it, and the key that makes it the programme. */
@Component({
  selector: 'jn-input-card',
  imports: [ArmedKey, CopyKey, InputFindings, InputSettings, InputWatch, Key, StateMark],
  templateUrl: './input-card.html',
  styleUrl: './input-card.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class InputCard {
  protected readonly state = inject(ShowInputs);
  protected readonly texts = ingestTexts;
  protected readonly watchTexts = watchTexts;
  protected readonly problems = callTexts;
  protected readonly kinds = STAND_IN_KINDS;

  readonly showId = input.required<string>();
  readonly input = input.required<Input>();

  protected readonly isShown = signal(false);
  protected readonly isWatched = signal(false);
  protected readonly report = computed(() => this.state.reportOf(this.input().id));
  private readonly stateName = computed(() => this.report()?.state ?? 'nothing');
  protected readonly mark = computed(() => `input.${this.stateName()}` as const);
  protected readonly stateWord = computed(() =>
    this.stateName() === 'in_preview' && this.report()?.isOnStage
      ? ingestTexts.onStage
      : stateTexts[this.stateName()],
  );
  protected readonly isHere = computed(() => this.report()?.figures != null);
  /** Browsers decode nothing else that comes here. */
  protected readonly canWatch = computed(() => this.report()?.figures?.video?.codec === 'h264');
  protected readonly isTaken = computed(() => this.state.taken()?.id === this.input().id);
  protected readonly canTake = computed(() => this.report()?.carriage != null && !this.isTaken());
  protected readonly still = computed(() => {
    const number = this.report()?.still ?? null;
    return number === null ? null : `${stillPath(this.showId(), this.input().id)}?n=${number}`;
  });
}
