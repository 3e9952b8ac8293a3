import { makeEnvironmentProviders } from '@angular/core';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import * as listingsEffects from './listings.effects';
import { listingsFeature } from './listings.feature';

/** For the routes whose pages show where a show goes. */
export const provideListings = () =>
  makeEnvironmentProviders([provideState(listingsFeature), provideEffects(listingsEffects)]);
