import { ChangeDetectionStrategy, Component, inject, input, signal } from '@angular/core';
import { readListingsTable, writeListingsTable } from '@juncta/contract/formats';
import { Api } from '../api/api';
import { RequestState } from '../api/request-state';
import { FileKey } from '../look/keys/file-key';
import { Key } from '../look/keys/key';
import { Notice } from '../look/notice';
import { formatTexts } from './formats.texts';
import { fileName, saveFile } from './save-file';

/** All listings of a show as one table, out and in. */
@Component({
  selector: 'jn-listings-table',
  imports: [FileKey, Key, Notice],
  template: `
    <div class="row-of">
      <button jnKey type="button" (click)="save()">{{ texts.saveTable }}</button>
      @if (mayEdit()) {
        <jn-file-key
          fieldId="table-file"
          accept=".csv,text/csv"
          [label]="texts.readTable"
          (chosen)="read($event)"
        />
      }
      <span class="soft" role="status">{{ said() }}</span>
    </div>
    @if (request.error(); as error) {
      <jn-notice kind="wrong">
        @if (error.fields; as fields) {
          {{ texts.tableRefused }}
          <ul>
            @for (one of fields; track one.field) {
              <li>{{ one.sentence }}</li>
            }
          </ul>
        } @else {
          {{ error.sentence }}
        }
      </jn-notice>
    }
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
    }
    ul {
      margin: var(--space-2) 0 0;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ListingsTable {
  private readonly api = inject(Api);
  protected readonly texts = formatTexts;

  readonly showId = input.required<string>();
  readonly title = input.required<string>();
  readonly mayEdit = input.required<boolean>();
  protected readonly said = signal('');
  protected readonly request = new RequestState();

  protected save(): void {
    this.request.run(this.api.call(writeListingsTable, { params: { showId: this.showId() } }), ({ csv }) =>
      saveFile(`${fileName(this.title())}.csv`, 'text/csv', `\ufeff${csv}`),
    );
  }

  protected async read(file: File): Promise<void> {
    const csv = await file.text();
    this.said.set('');
    this.request.run(
      this.api.call(readListingsTable, { params: { showId: this.showId() }, body: { csv } }),
      ({ rows }) => {
        this.said.set(this.texts.tableTaken(rows));
      },
    );
  }
}
