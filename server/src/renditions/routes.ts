import { readEncodingMachine } from '@juncta/contract/renditions';
import type { Router } from 'express';
import type { App } from '../app';
import { mount } from '../http/mount';
import { machineFree } from './plan';

export function mountRenditions(router: Router, app: App): void {
  mount(router, app, readEncodingMachine, () =>
    Promise.resolve({ machine: app.relay ? machineFree(app.relay) : null }),
  );
}
