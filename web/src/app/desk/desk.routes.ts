import type { Routes } from '@angular/router';
import { provideChat } from '../chat/provide-chat';
import { provideListings } from '../listings/provide-listings';
import { titles } from '../shell/shell.texts';
import { keepsProgramme } from '../stage/composed/composed-here';
import { withRight } from '../team/guards';

export const routes: Routes = [
  {
    path: ':showId',
    title: titles.desk,
    canActivate: [withRight('desk.open'), keepsProgramme],
    providers: [provideListings(), provideChat()],
    loadComponent: () => import('./desk.page').then((m) => m.DeskPage),
  },
];
