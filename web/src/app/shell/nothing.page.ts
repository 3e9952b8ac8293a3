import { ChangeDetectionStrategy, Component } from '@angular/core';
import { RouterLink } from '@angular/router';
import { Key } from '../look/keys/key';
import { shellTexts } from './shell.texts';

/** For an address that leads nowhere. */
@Component({
  selector: 'jn-nothing-page',
  imports: [Key, RouterLink],
  template: `
    <div class="empty">
      <h1>{{ texts.nothingTitle }}</h1>
      <p>{{ texts.nothingText }}</p>
      <a jnKey [first]="true" routerLink="/shows">{{ texts.toShows }}</a>
    </div>
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class NothingPage {
  protected readonly texts = shellTexts;
}
