import { provideHttpClient, withFetch, withInterceptors, withXsrfConfiguration } from '@angular/common/http';
import { inject, provideAppInitializer, type ApplicationConfig } from '@angular/core';
import {
  provideRouter,
  RouteReuseStrategy,
  TitleStrategy,
  withComponentInputBinding,
  withInMemoryScrolling,
} from '@angular/router';
import { provideEffects } from '@ngrx/effects';
import { provideStore, Store } from '@ngrx/store';
import { retryReads } from './api/retry-reads';
import { routes } from './app.routes';
import { PageTitle } from './shell/page-title';
import { RecordRoutes } from './shell/record-routes';
import * as programmeEffects from './programme/programme.effects';
import { programmeFeature } from './programme/programme.feature';
import * as showsEffects from './shows/shows.effects';
import { showsFeature } from './shows/shows.feature';
import { TeamActions } from './team/team.actions';
import * as teamEffects from './team/team.effects';
import { teamFeature } from './team/team.feature';

export const appConfig: ApplicationConfig = {
  providers: [
    provideRouter(
      routes,
      withComponentInputBinding(),
      withInMemoryScrolling({ scrollPositionRestoration: 'enabled' }),
    ),
    provideHttpClient(
      withFetch(),
      withInterceptors([retryReads]),
      withXsrfConfiguration({ cookieName: 'juncta_csrf', headerName: 'X-Juncta-Csrf' }),
    ),
    provideStore({
      [teamFeature.name]: teamFeature.reducer,
      [showsFeature.name]: showsFeature.reducer,
      [programmeFeature.name]: programmeFeature.reducer,
    }),
    provideEffects(teamEffects, showsEffects, programmeEffects),
    provideAppInitializer(() => inject(Store).dispatch(TeamActions.sessionWanted())),
    { provide: TitleStrategy, useExisting: PageTitle },
    { provide: RouteReuseStrategy, useExisting: RecordRoutes },
  ],
};
