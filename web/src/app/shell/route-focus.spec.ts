import { Component, provideZonelessChangeDetection } from '@angular/core';
import { TestBed } from '@angular/core/testing';
import { provideRouter, Router, RouterOutlet } from '@angular/router';
import { RouteFocus } from './route-focus';

@Component({ selector: 'jn-plain', template: '<main><button type="button">One</button></main>' })
class Plain {}

@Component({ selector: 'jn-own', template: '<main><input #own [attr.data-own]="focusIt(own)" /></main>' })
class Own {
  focusIt(own: HTMLInputElement): string {
    queueMicrotask(() => own.focus());
    own.focus();
    return '';
  }
}

@Component({
  selector: 'jn-frame',
  imports: [RouterOutlet],
  template: '<nav><button type="button">Away</button></nav><router-outlet />',
})
class Frame {}

describe('the focus on another page', () => {
  let router: Router;
  let element: HTMLElement;
  const to = async (path: string) => {
    await router.navigateByUrl(path);
    await new Promise((later) => setTimeout(later));
    TestBed.tick();
  };

  beforeEach(async () => {
    TestBed.configureTestingModule({
      providers: [
        provideZonelessChangeDetection(),
        provideRouter([
          { path: 'first', component: Plain },
          { path: 'second', component: Plain },
          { path: 'own', component: Own },
        ]),
      ],
    });
    router = TestBed.inject(Router);
    TestBed.inject(RouteFocus);
    const fixture = TestBed.createComponent(Frame);
    element = fixture.nativeElement as HTMLElement;
    document.body.append(element);
    await to('/first');
  });
  afterEach(() => element.remove());

  it('is where the page begins, and not at the first one', async () => {
    expect(document.activeElement).toBe(document.body);
    element.querySelector('button')!.focus();
    await to('/second');
    expect(document.activeElement).toBe(element.querySelector('main'));
  });

  it('stays where it was when only what is asked of the page changes', async () => {
    const away = element.querySelector('button')!;
    away.focus();
    await to('/first?of=1#there');
    expect(document.activeElement).toBe(away);
  });

  it('stays where the page has put it', async () => {
    await to('/own');
    expect(document.activeElement?.tagName).toBe('INPUT');
  });
});
