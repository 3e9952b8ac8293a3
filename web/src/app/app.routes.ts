import type { Routes } from '@angular/router';
import { keepsProgramme } from './stage/composed/composed-here';
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
      {
        path: 'desk/:showId',
        title: titles.desk,
        canActivate: [withRight('desk.open'), keepsProgramme],
        loadComponent: () => import('./desk/desk.page').then((m) => m.DeskPage),
      },
      {
        path: 'chat/:showId',
        title: titles.chat,
        canActivate: [withRight('chat.read')],
        loadComponent: () => import('./chat/chat.page').then((m) => m.ChatPage),
      },
      {
        path: '',
        loadComponent: () => import('./shell/shell').then((m) => m.Shell),
        children: [
          { path: '', pathMatch: 'full', redirectTo: 'shows' },
          {
            path: 'shows',
            title: titles.shows,
            loadComponent: () => import('./shows/board/shows-board.page').then((m) => m.ShowsBoardPage),
          },
          {
            path: 'season',
            title: titles.season,
            loadComponent: () => import('./shows/season/season.page').then((m) => m.SeasonPage),
          },
          {
            path: 'shows/new',
            title: titles.newShow,
            canActivate: [withRight('shows.create')],
            loadComponent: () => import('./shows/plan/show.page').then((m) => m.ShowPage),
          },
          {
            path: 'shows/:showId',
            title: titles.show,
            loadComponent: () => import('./shows/plan/show.page').then((m) => m.ShowPage),
          },
          {
            path: 'shows/:showId/listings',
            title: titles.listings,
            loadComponent: () => import('./listings/listings.page').then((m) => m.ListingsPage),
          },
          {
            path: 'shows/:showId/launch',
            title: titles.launch,
            loadComponent: () => import('./readiness/launch-sheet.page').then((m) => m.LaunchSheetPage),
          },
          {
            path: 'destinations',
            title: titles.destinations,
            loadComponent: () => import('./destinations/destinations.page').then((m) => m.DestinationsPage),
          },
          {
            path: 'rules',
            title: titles.rules,
            loadComponent: () => import('./destinations/rules/rules.page').then((m) => m.RulesPage),
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
