import { ChangeDetectionStrategy, Component, inject } from '@angular/core';
import { RouterLink, RouterLinkActive, RouterOutlet } from '@angular/router';
import { NgbDropdownModule } from '@ng-bootstrap/ng-bootstrap/dropdown';
import { Store } from '@ngrx/store';
import { EventFeed } from '../api/event-feed';
import { PageClock } from '../clock/page-clock';
import { TimeFigure } from '../look/time/time-figure';
import { ComposedHere } from '../stage/composed/composed-here';
import { stageTexts } from '../stage/stage.texts';
import { TeamActions } from '../team/team.actions';
import { teamFeature } from '../team/team.feature';
import { roleNames } from '../team/team.texts';
import { shellTexts } from './shell.texts';

/** The planning room: the strip across the top, and the page beneath it. */
@Component({
  selector: 'jn-shell',
  imports: [NgbDropdownModule, RouterLink, RouterLinkActive, RouterOutlet, TimeFigure],
  templateUrl: './shell.html',
  styleUrl: './shell.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class Shell {
  private readonly store = inject(Store);
  protected readonly composed = inject(ComposedHere);
  protected readonly texts = shellTexts;
  protected readonly stageTexts = stageTexts;
  protected readonly roleNames = roleNames;
  protected readonly clock = inject(PageClock);
  protected readonly connected = inject(EventFeed).connected;
  protected readonly member = this.store.selectSignal(teamFeature.selectMember);

  protected async signOut(): Promise<void> {
    if (await this.composed.mayLeaveFor({ what: 'sign_out' })) this.store.dispatch(TeamActions.signOut());
  }

  protected skip(event: Event): void {
    event.preventDefault();
    document.getElementById('content')?.focus();
  }
}
