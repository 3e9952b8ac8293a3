import { ChangeDetectionStrategy, Component, computed, input } from '@angular/core';

/** What a notice is about: something to know, something to look at, or something that went wrong. */
export type NoticeKind = 'know' | 'look' | 'wrong';

/** A sentence or two that must not be missed: what happened, what was kept, and what to do. */
@Component({
  selector: 'jn-notice',
  template: `
    <svg viewBox="0 0 16 16" aria-hidden="true"><path [attr.d]="path()" fill-rule="evenodd" /></svg>
    <div class="grow"><ng-content /></div>
    <ng-content select="[notice-actions]" />
  `,
  styleUrl: './notice.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
  host: { '[attr.data-kind]': 'kind()', '[attr.role]': "kind() === 'wrong' ? 'alert' : 'status'" },
})
export class Notice {
  readonly kind = input<NoticeKind>('know');

  protected readonly path = computed(() => {
    switch (this.kind()) {
      case 'know':
        return 'M1 1h14v14H1zM7 4v2h2V4zm0 3v5h2V7z';
      case 'look':
        return 'M8 0l8 8-8 8-8-8zM7 4v5h2V4zm0 6v2h2v-2z';
      case 'wrong':
        return 'M8 1l8 14H0zM7 6v4h2V6zm0 5v2h2v-2z';
    }
  });
}
