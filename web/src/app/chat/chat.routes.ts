import type { Routes } from '@angular/router';
import { provideListings } from '../listings/provide-listings';
import { titles } from '../shell/shell.texts';
import { withRight } from '../team/guards';
import { provideChat } from './provide-chat';

export const routes: Routes = [
  {
    path: ':showId',
    title: titles.chat,
    canActivate: [withRight('chat.read')],
    providers: [provideListings(), provideChat()],
    loadComponent: () => import('./chat.page').then((m) => m.ChatPage),
  },
];
