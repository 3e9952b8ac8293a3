import { ChangeDetectionStrategy, Component, inject, signal } from '@angular/core';
import { RouterLink } from '@angular/router';
import { readShowFile } from '@juncta/contract/formats';
import type { Response } from '@juncta/contract/http';
import { Store } from '@ngrx/store';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { FileKey } from '../look/keys/file-key';
import { Notice } from '../look/notice';
import { ShowsActions } from '../shows/shows.actions';
import { formatTexts } from './formats.texts';

/** Makes a show of a file, and says what of it is not in this house. */
@Component({
  selector: 'jn-show-file-reader',
  imports: [FileKey, Notice, RouterLink],
  template: `
    <jn-file-key
      fieldId="show-file"
      accept=".json,application/json"
      [label]="texts.readShow"
      (chosen)="read($event)"
    />
    <div role="status">
      @if (made(); as made) {
        <jn-notice [kind]="made.notHere.length > 0 ? 'look' : 'know'">
          {{ texts.read(made.show.text.title) }}
          @for (one of made.notHere; track $index) {
            {{ texts.notHere[one.what](one.name) }}
          }
          <a [routerLink]="['/shows', made.show.id]">{{ texts.open }}</a>
        </jn-notice>
      }
    </div>
    @if (request.error(); as error) {
      <jn-notice kind="wrong">{{ error.fields?.[0]?.sentence ?? error.sentence }}</jn-notice>
    }
  `,
  styles: `
    :host {
      display: contents;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShowFileReader {
  private readonly api = inject(Api);
  private readonly store = inject(Store);
  protected readonly texts = formatTexts;
  protected readonly made = signal<Response<typeof readShowFile> | null>(null);
  protected readonly request = new RequestState();

  protected async read(chosen: File): Promise<void> {
    this.made.set(null);
    let file: unknown;
    try {
      file = JSON.parse(await chosen.text());
    } catch {
      this.request.fail({ code: 'bad_input', sentence: this.texts.notJson });
      return;
    }
    this.request.run(this.api.call(readShowFile, { body: { id: crypto.randomUUID(), file } }), (made) => {
      this.store.dispatch(ShowsActions.showSaved({ show: made.show }));
      this.made.set(made);
    });
  }
}
