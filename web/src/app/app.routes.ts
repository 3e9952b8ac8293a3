import type { Routes } from '@angular/router';
import { membersOnly, strangersOnly, withRight } from './team/guards';
import { titles } from './shell/shell.texts';

export const routes: Routes = [
  {
    path: 'sign-in',
    title: titles.signIn,
    canActivate: [strangersOnly],
    loadComponent: () => import('./team/sign-in.page').then((m) => m.SignInPage),
  },
  {
    path: 'invitation',
    title: titles.invitation,
    loadComponent: () => import('./team/invitation.page').then((m) => m.InvitationPage),
  },
  {
    path: 'new-password',
    title: titles.newPassword,
    loadComponent: () => import('./team/new-password.page').then((m) => m.NewPasswordPage),
  },
  {
    path: 'guest',
    title: titles.guest,
    loadComponent: () => import('./people/guest/guest.page').then((m) => m.GuestPage),
  },
  {
    path: 'overlay',
    title: titles.overlay,
    loadComponent: () => import('./chat/overlay/overlay.page').then((m) => m.OverlayPage),
  },
  {
    path: 'next/:slug',
    loadComponent: () => import('./shows/series/evergreen.page').then((m) => m.EvergreenPage),
  },
  {
    path: 'pieces',
    title: titles.pieces,
    loadComponent: () => import('./look/pieces/pieces.page').then((m) => m.PiecesPage),
  },
  {
    path: '',
    canActivate: [membersOnly],
    children: [
      { path: 'desk', loadChildren: () => import('./desk/desk.routes').then((m) => m.routes) },
      { path: 'chat', loadChildren: () => import('./chat/chat.routes').then((m) => m.routes) },
      {
        path: '',
        loadComponent: () => import('./shell/shell').then((m) => m.Shell),
        children: [
          { path: '', pathMatch: 'full', redirectTo: 'shows' },
          { path: 'shows', loadChildren: () => import('./shows/shows.routes').then((m) => m.routes) },
          {
            path: 'season',
            title: titles.season,
            loadComponent: () => import('./shows/season/season.page').then((m) => m.SeasonPage),
          },
          {
            path: 'destinations',
            loadChildren: () => import('./destinations/destinations.routes').then((m) => m.routes),
          },
          {
            path: 'rules',
            title: titles.rules,
            loadComponent: () => import('./destinations/rules/rules.page').then((m) => m.RulesPage),
          },
          {
            path: 'dressing',
            title: titles.dressing,
            loadComponent: () => import('./dressing/dressing.page').then((m) => m.DressingPage),
          },
          {
            path: 'overlay-pages',
            title: titles.overlayPages,
            canActivate: [withRight('shows.edit')],
            loadComponent: () => import('./chat/overlay/overlay-pages.page').then((m) => m.OverlayPagesPage),
          },
          {
            path: 'team',
            title: titles.team,
            loadComponent: () => import('./team/team.page').then((m) => m.TeamPage),
          },
          {
            path: '**',
            title: titles.nothing,
            loadComponent: () => import('./shell/nothing.page').then((m) => m.NothingPage),
          },
        ],
      },
    ],
  },
];
