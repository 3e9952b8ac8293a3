import { inject, Injectable } from '@angular/core';
import { Title } from '@angular/platform-browser';
import { TitleStrategy, type RouterStateSnapshot } from '@angular/router';

/** What stands in the browser's tab: the page first, so that tabs can be told apart. */
@Injectable({ providedIn: 'root' })
export class PageTitle extends TitleStrategy {
  private readonly title = inject(Title);

  override updateTitle(state: RouterStateSnapshot): void {
    this.set(this.buildTitle(state));
  }

  set(page: string | undefined): void {
    this.title.setTitle(page ? `${page} – Juncta` : 'Juncta');
  }
}
