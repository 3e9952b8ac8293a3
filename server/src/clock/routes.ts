import { readClock } from '@juncta/contract/clock';
import type { Router } from 'express';
import type { App } from '../app';
import { mount } from '../http/mount';

export function mountClock(router: Router, app: App): void {
  mount(router, app, readClock, async () => ({
    nowMs: app.clock.now(),
    rate: app.clock.rate,
    rehearsal: app.config.clockUrl !== null,
  }));
}
