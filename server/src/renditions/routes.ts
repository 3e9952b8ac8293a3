import { readEncodingMachine } from '@juncta/contract/renditions';
import type { Router } from 'express';
import type { App } from '../app';
import { mount } from '../http/mount';

export function mountRenditions(router: Router, app: App): void {
  mount(router, app, readEncodingMachine, () => Promise.resolve({ machine: app.relay?.machine ?? null }));
}
