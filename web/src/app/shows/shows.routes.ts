import type { Routes } from '@angular/router';
import { provideDestinations } from '../destinations/provide-destinations';
import { provideListings } from '../listings/provide-listings';
import { titles } from '../shell/shell.texts';
import { withRight } from '../team/guards';

export const routes: Routes = [
  {
    path: '',
    pathMatch: 'full',
    title: titles.shows,
    loadComponent: () => import('./board/shows-board.page').then((m) => m.ShowsBoardPage),
  },
  {
    path: '',
    providers: [provideDestinations(), provideListings()],
    children: [
      {
        path: 'new',
        title: titles.newShow,
        canActivate: [withRight('shows.create')],
        loadComponent: () => import('./plan/show.page').then((m) => m.ShowPage),
      },
      {
        path: ':showId',
        title: titles.show,
        loadComponent: () => import('./plan/show.page').then((m) => m.ShowPage),
      },
      {
        path: ':showId/listings',
        title: titles.listings,
        loadComponent: () => import('../listings/listings.page').then((m) => m.ListingsPage),
      },
      {
        path: ':showId/launch',
        title: titles.launch,
        loadComponent: () => import('../readiness/launch-sheet.page').then((m) => m.LaunchSheetPage),
      },
      {
        path: ':showId/ingest',
        title: titles.ingest,
        canActivate: [withRight('show.run')],
        loadComponent: () => import('../ingest/ingest.page').then((m) => m.IngestPage),
      },
    ],
  },
];
