import type { OverlayState } from '@juncta/contract/chat';
import { ALL_SHOWS, type Show, type ShowScope } from '@juncta/contract/shows';
import { unheard } from '@juncta/core/chat';
import type { Dressing } from '@juncta/core/dressing';
import {
  inheritedSettings,
  isPublic,
  settingOf,
  type SettingId,
  type SettingValue,
} from '@juncta/core/listings';
import { evergreenShow } from '@juncta/core/shows';
import type { BoxLine, OverlayBox } from '@juncta/core/stage';
import type { App } from '../../app';
import { dressingFor, dressingsOf } from '../../dressing/store';
import { defaultsFor } from '../../listings/house-defaults';
import { listingsAt } from '../../listings/store';
import { listShows } from '../../shows/store';
import type { ChatLines } from '../ingest/chat-lines';
import { findOnProgramme } from '../list/store';
import { isOfPractice, overlayMessages, type OverlayMessage } from './overlay-store';

/** What a page has to show, as it stands in the database. */
export interface OverlayContent {
  readonly showId: string | null;
  /** Viewers see it. */
  readonly isOn: boolean;
  readonly dressing: Dressing;
  readonly messages: readonly OverlayMessage[];
  readonly card: { readonly line: BoxLine; readonly remainingMs: number | null } | null;
  readonly placeOf: (destinationId: string) => string;
}

/** The show whose messages a page of this scope has now; null: none is on or planned. */
export async function overlayShow(app: App, scope: ShowScope): Promise<Show | null> {
  const shows = (await listShows(app.db)).filter(
    ({ text }) => scope === ALL_SHOWS || text.seriesId === scope,
  );
  const timed = shows.map((one) => ({ ...one, plannedMinutes: one.text.plannedMinutes }));
  return evergreenShow(timed, app.clock.now());
}

export async function overlayContent(app: App, scope: ShowScope, box: OverlayBox): Promise<OverlayContent> {
  const show = await overlayShow(app, scope);
  const dressings = await dressingsOf(app.db);
  const { dressing } = dressingFor(dressings, show ? (show.text.seriesId ?? ALL_SHOWS) : scope);
  if (!show) return { showId: null, isOn: false, dressing, messages: [], card: null, placeOf: () => '' };
  const places = new Map(
    (await listingsAt(app.db, show.id)).map(({ destination }) => [
      destination.id,
      app.rules.of(destination.kind).place,
    ]),
  );
  const placeOf = (destinationId: string) => places.get(destinationId) ?? '';
  const on = box.card ? await findOnProgramme(app.db, show.id, app.securityClock.now()) : null;
  const card = on && !(await isOfPractice(app.db, on.messageId)) ? on : null;
  return {
    showId: show.id,
    isOn: show.startedAtMs !== null,
    dressing,
    messages: await overlayMessages(app.db, show.id),
    card: card && {
      line: { author: card.author, place: placeOf(card.destinationId), text: card.text },
      remainingMs: card.remainingMs,
    },
    placeOf,
  };
}

/** What its owner is told of the show that a page follows, and of what keeps viewers from being heard there. */
export async function overlayReach(
  app: App,
  lines: ChatLines,
  scope: ShowScope,
  { leftOut }: OverlayBox,
): Promise<Pick<OverlayState, 'show' | 'unheard' | 'destinations'>> {
  const show = await overlayShow(app, scope);
  if (!show) return { show: null, unheard: [], destinations: 0 };
  const inherited = inheritedSettings(show.shared, await defaultsFor(app.db, show.text.seriesId));
  const states = new Map(lines.linesOf(show.id).map(({ destinationId, state }) => [destinationId, state]));
  const all = await listingsAt(app.db, show.id);
  const found = all.flatMap(({ listing, destination: { id, name, kind } }) => {
    const { chat, settings } = app.rules.of(kind).capabilities;
    const valueOf = (wanted: SettingId): SettingValue | undefined => {
      const setting = settings.find((one) => one.id === wanted);
      return setting && settingOf(setting, listing.settings, inherited).value;
    };
    const why = unheard({
      canBeRead: chat.delivery !== 'none' && chat.delivery !== 'page',
      isPublic: isPublic(valueOf('visibility')),
      mayWrite: valueOf('chat') !== false,
      line: states.get(id) ?? 'closed',
    });
    return why === null || leftOut.includes(id) ? [] : [{ destinationId: id, name, why }];
  });
  return {
    show: { id: show.id, title: show.text.title, isOn: show.startedAtMs !== null },
    unheard: found,
    destinations: all.length,
  };
}
