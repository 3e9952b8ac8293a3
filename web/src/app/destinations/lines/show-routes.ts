import { ChangeDetectionStrategy, Component, computed, inject, input, output, signal } from '@angular/core';
import {
  applyRoute,
  listRoutes,
  removeRoute,
  saveRoute,
  type NamedRoute,
} from '@juncta/contract/destinations';
import { type Observable } from 'rxjs';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { ArmedKey } from '../../look/keys/armed-key';
import { Key } from '../../look/keys/key';
import { Notice } from '../../look/notice';
import { routeTexts } from '../destinations.texts';

/** Routes: giving one to a show, and keeping where a show goes as one. */
@Component({
  selector: 'jn-show-routes',
  imports: [ArmedKey, Key, Notice],
  template: `
    @if (request.error(); as error) {
      <jn-notice kind="wrong">{{ error.fields?.[0]?.sentence ?? error.sentence }}</jn-notice>
    }
    @if (routes().length > 0) {
      <div class="field">
        <label for="route">{{ texts.route }}</label>
        <div class="row-of">
          <select #which id="route" class="input" (change)="chosenId.set(which.value)">
            <option value="" [selected]="!chosen()">{{ texts.choose }}</option>
            @for (one of routes(); track one.id) {
              <option [value]="one.id" [selected]="one.id === chosenId()">
                {{ texts.count(one.name, one.destinations.length) }}
              </option>
            }
          </select>
          @if (chosen(); as route) {
            <button jnKey type="button" (click)="apply(route)">{{ texts.apply }}</button>
            <jn-armed-key
              [label]="texts.forget"
              [armedLabel]="texts.forgetArmed"
              [name]="texts.forgetOf(route.name)"
              (fired)="forget(route)"
            />
          }
        </div>
      </div>
    } @else if (mayKeep()) {
      <p class="soft">{{ texts.none }}</p>
    }
    @if (naming()) {
      <form class="field" (submit)="$event.preventDefault(); keep(name.value)">
        <label for="route-name">{{ texts.name }}</label>
        <input #name id="route-name" class="input" maxlength="120" />
        <div class="row-of">
          <button jnKey type="submit" [first]="true">{{ texts.save }}</button>
          <button jnKey type="button" (click)="naming.set(false)">{{ texts.notNow }}</button>
        </div>
      </form>
    } @else if (mayKeep()) {
      <div>
        <button jnKey type="button" (click)="naming.set(true)">{{ texts.keep }}</button>
      </div>
    }
    <div role="status" class="soft">{{ said() }}</div>
  `,
  styles: `
    :host {
      display: grid;
      gap: var(--space-3);
    }
    p {
      margin: 0;
    }
    select {
      min-width: 12rem;
    }
  `,
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ShowRoutes {
  private readonly api = inject(Api);
  protected readonly texts = routeTexts;

  readonly showId = input.required<string>();
  /** The show goes somewhere. */
  readonly mayKeep = input.required<boolean>();
  /** The show goes elsewhere now. */
  readonly applied = output();

  protected readonly routes = signal<readonly NamedRoute[]>([]);
  protected readonly chosenId = signal('');
  protected readonly chosen = computed(() => this.routes().find(({ id }) => id === this.chosenId()));
  protected readonly naming = signal(false);
  protected readonly request = new RequestState();
  protected readonly said = signal('');

  constructor() {
    this.request.run(this.api.call(listRoutes), ({ routes }) => this.routes.set(routes));
  }

  protected apply(route: NamedRoute): void {
    const params = { showId: this.showId() };
    this.change(this.api.call(applyRoute, { params, body: { routeId: route.id } }), () => {
      this.said.set(this.texts.applied(route.name));
      this.applied.emit();
    });
  }

  protected keep(name: string): void {
    // One that has the name already is written anew.
    const id = this.routes().find((one) => one.name === name.trim())?.id ?? crypto.randomUUID();
    const body = { name, showId: this.showId() };
    this.change(this.api.call(saveRoute, { params: { routeId: id }, body }), ({ routes }) => {
      this.routes.set(routes);
      this.chosenId.set(id);
      this.naming.set(false);
      this.said.set(this.texts.kept(name.trim()));
    });
  }

  protected forget(route: NamedRoute): void {
    this.change(this.api.call(removeRoute, { params: { routeId: route.id } }), ({ routes }) => {
      this.routes.set(routes);
      this.chosenId.set('');
    });
  }

  private change<T>(asked: Observable<T>, done: (answer: T) => void): void {
    this.said.set('');
    this.request.run(asked, done);
  }
}
