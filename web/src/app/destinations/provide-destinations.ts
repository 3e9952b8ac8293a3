import { makeEnvironmentProviders } from '@angular/core';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import * as destinationsEffects from './destinations.effects';
import { destinationsFeature } from './destinations.feature';

/** For the routes whose pages show the house's destinations. */
export const provideDestinations = () =>
  makeEnvironmentProviders([provideState(destinationsFeature), provideEffects(destinationsEffects)]);
