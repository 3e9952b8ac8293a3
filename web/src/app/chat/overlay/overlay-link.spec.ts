import type { OverlayView } from '@juncta/contract/chat';
import type { io } from 'socket.io-client';
import { OverlayLink } from './overlay-link';

describe('an overlay page’s line', () => {
  const heard = new Map<string, (told: unknown) => void>();
  const socket = {
    active: true,
    on: (event: string, act: (told: unknown) => void) => heard.set(event, act),
    connect: jasmine.createSpy('connect'),
    disconnect: jasmine.createSpy('disconnect'),
  };
  const hear = (event: string, told?: unknown) => heard.get(event)!(told);
  const view = { number: 1 } as OverlayView;
  let seen: ('view' | 'nothing')[];
  let link: OverlayLink;

  beforeEach(() => {
    seen = [];
    socket.active = true;
    socket.connect.calls.reset();
    jasmine.clock().install();
    const side = { show: () => seen.push('view'), clear: () => seen.push('nothing') };
    link = new OverlayLink('token', side, (() => socket) as unknown as typeof io);
    hear('view', view);
  });
  afterEach(() => {
    link.close();
    jasmine.clock().uninstall();
  });

  it('bears a break that is over at once without a blink', () => {
    hear('disconnect');
    jasmine.clock().tick(900);
    hear('view', view);
    jasmine.clock().tick(5000);
    expect(seen).toEqual(['view', 'view']);
  });

  it('shows nothing a second after it was lost: something may be hidden meanwhile', () => {
    hear('disconnect');
    jasmine.clock().tick(1000);
    expect(seen).toEqual(['view', 'nothing']);
    hear('view', view);
    expect(seen.at(-1)).toBe('view');
  });

  it('goes dark at once when its address is none any more, and asks again now and then', () => {
    socket.active = false;
    hear('ended');
    expect(seen.at(-1)).toBe('nothing');
    hear('disconnect');
    jasmine.clock().tick(5000);
    expect(socket.connect).toHaveBeenCalledTimes(1);
    hear('connect_error', { message: 'no_page' });
    jasmine.clock().tick(5000);
    expect(socket.connect).toHaveBeenCalledTimes(2);
    expect(seen.at(-1)).toBe('nothing');
  });
});
