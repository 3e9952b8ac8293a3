import { makeEnvironmentProviders } from '@angular/core';
import { provideEffects } from '@ngrx/effects';
import { provideState } from '@ngrx/store';
import * as chatEffects from './chat.effects';
import { chatFeature } from './chat.feature';

/** For the routes whose pages show the chat. */
export const provideChat = () =>
  makeEnvironmentProviders([provideState(chatFeature), provideEffects(chatEffects)]);
