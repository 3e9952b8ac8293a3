import { ChangeDetectionStrategy, Component, computed, inject, input } from '@angular/core';
import { Store } from '@ngrx/store';
import { Key } from '../../look/keys/key';
import { marksTexts } from '../../marks/marks.texts';
import { programmeFeature } from '../../programme/programme.feature';
import { chatTexts } from '../chat.texts';

/** The chat of a show as files. */
@Component({
  selector: 'jn-chat-files',
  imports: [Key],
  template: `
    <h3 class="label">{{ texts.files }}</h3>
    <p class="soft">{{ texts.filesText }}</p>
    <p class="keys">
      <a jnKey [href]="base() + '.csv'" [attr.aria-label]="texts.csvName" download>{{ texts.csv }}</a>
      <a jnKey [href]="base() + '.vtt'" [attr.aria-label]="texts.vttName" download>{{ texts.vtt }}</a>
      <a jnKey [href]="base() + '.jsonl'" [attr.aria-label]="texts.jsonlName" download>{{ texts.jsonl }}</a>
      <a jnKey [href]="base() + '.txt'" [attr.aria-label]="texts.txtName" download>{{ texts.txt }}</a>
      @if (hasMarks()) {
        <a
          jnKey
          [href]="'/api/shows/' + showId() + '/chapters.vtt'"
          [attr.aria-label]="marksTexts.chaptersName"
          download
          >{{ marksTexts.chapters }}</a
        >
      }
    </p>
  `,
  styles: `
    h3 {
      margin: var(--space-3) 0 var(--space-1);
      font-size: 0.87rem;
    }
    p {
      margin: 0 0 var(--space-2);
    }
    .keys {
      display: flex;
      flex-wrap: wrap;
      gap: var(--space-2);
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatFiles {
  protected readonly texts = chatTexts;
  readonly showId = input.required<string>();
  protected readonly marksTexts = marksTexts;
  private readonly marks = inject(Store).selectSignal(programmeFeature.selectMarks);
  protected readonly hasMarks = computed(() => this.marks().length > 0);
  protected readonly base = computed(() => `/api/shows/${this.showId()}/chat`);
}
