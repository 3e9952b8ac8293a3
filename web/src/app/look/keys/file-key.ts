import { ChangeDetectionStrategy, Component, input, output } from '@angular/core';

/** A key that lets a file be chosen. */
@Component({
  selector: 'jn-file-key',
  template: `
    <label>
      <input
        #file
        type="file"
        class="visually-hidden"
        [id]="fieldId()"
        [accept]="accept()"
        (change)="take(file.files); file.value = ''"
      />
      <span>{{ label() }}</span>
    </label>
  `,
  styles: `
    span {
      display: inline-flex;
      align-items: center;
      min-height: 2.3rem;
      padding: 0.5rem 0.85rem 0.38rem;
      background: var(--raised);
      border: 1px solid var(--edge);
      border-radius: var(--corner);
      font-family: var(--label-face);
      font-weight: 600;
      font-size: 1.05rem;
      line-height: 1.1;
      cursor: pointer;
    }
    span:hover {
      background: var(--sunk);
    }
    input:focus-visible + span {
      outline: 3px solid var(--focus);
      outline-offset: 2px;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class FileKey {
  readonly fieldId = input.required<string>();
  readonly label = input.required<string>();
  /** As in HTML: types or endings, with commas. */
  readonly accept = input.required<string>();
  readonly chosen = output<File>();

  protected take(files: FileList | null): void {
    const file = files?.[0];
    if (file) this.chosen.emit(file);
  }
}
