import type { Routes } from '@angular/router';
import { titles } from '../shell/shell.texts';
import { provideDestinations } from './provide-destinations';

export const routes: Routes = [
  {
    path: '',
    title: titles.destinations,
    providers: [provideDestinations()],
    loadComponent: () => import('./destinations.page').then((m) => m.DestinationsPage),
  },
];
