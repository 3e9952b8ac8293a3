import { DOCUMENT } from '@angular/common';
import { afterNextRender, inject, Injectable, Injector } from '@angular/core';
import { takeUntilDestroyed } from '@angular/core/rxjs-interop';
import { NavigationEnd, Router } from '@angular/router';
import { filter, map, pairwise } from 'rxjs';

/**
 * On another page the focus stands where that page begins: the key that led there is gone, and whoever listens to the page
 * would hear nothing of the change. A page that has put the focus somewhere itself keeps it there.
 */
@Injectable({ providedIn: 'root' })
export class RouteFocus {
  private readonly document = inject(DOCUMENT);

  constructor() {
    const injector = inject(Injector);
    const router = inject(Router);
    router.events
      .pipe(
        filter((event) => event instanceof NavigationEnd),
        map(({ urlAfterRedirects }) => urlAfterRedirects.split(/[?#]/)[0]),
        // The first page is the browser's: it begins at the top.
        pairwise(),
        filter(([before, now]) => before !== now),
        takeUntilDestroyed(),
      )
      .subscribe(() => afterNextRender(() => this.toContent(), { injector }));
  }

  private toContent(): void {
    const main = this.document.querySelector('main');
    if (!main || main.contains(this.document.activeElement)) return;
    if (!main.hasAttribute('tabindex')) main.setAttribute('tabindex', '-1');
    main.focus({ preventScroll: true });
  }
}
