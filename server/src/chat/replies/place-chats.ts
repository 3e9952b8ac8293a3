import {
  readPlaceChats,
  writePlaceChat,
  type PlaceChat as ToldChat,
  type PlaceChatRules,
} from '@juncta/contract/chat';
import type { Router } from 'express';
import type { App } from '../../app';
import { atPlace, placeRefusal } from '../../destinations/at-place';
import { connectorOf } from '../../destinations/connectors';
import { destinationsOfShow, type DestinationRow } from '../../destinations/store';
import { notFound, Refusal } from '../../http/errors';
import { mount } from '../../http/mount';
import { listingsOf, type ListingRow } from '../../listings/store';

/** The places' own rules for who may write: read from them, and set there. */
export function mountPlaceChats(router: Router, app: App): void {
  const open = async (showId: string) => {
    const destinations = await destinationsOfShow(app.db, showId);
    return (await listingsOf(app.db, showId)).flatMap((listing) => {
      const row = destinations.find(({ id }) => id === listing.destinationId);
      return listing.chatOpen && row && connectorOf(row.kind).chat ? [{ listing, row }] : [];
    });
  };

  mount(router, app, readPlaceChats, async ({ params: { showId } }) => ({
    places: await Promise.all((await open(showId)).map(({ listing, row }) => tell(app, listing, row, null))),
  }));

  mount(router, app, writePlaceChat, async ({ params: { showId, destinationId }, body, memberId }) => {
    const found = (await open(showId)).find(({ row }) => row.id === destinationId);
    if (!found) throw notFound('chat');
    const control = connectorOf(found.row.kind).chat?.control;
    const { slowSeconds, accountDays } = body.rules;
    const tooMuch =
      control &&
      ((slowSeconds ?? 0) > control.most.slowSeconds || (accountDays ?? 0) > control.most.accountDays);
    if (tooMuch)
      throw new Refusal(
        'not_ready',
        `${found.row.name} takes at most ${control.most.slowSeconds} s between messages and ${control.most.accountDays} days of an account.`,
      );
    const place = await tell(app, found.listing, found.row, body.rules);
    app.log.info({ member: memberId, destination: destinationId }, 'who may write at a place was changed');
    return { place };
  });
}

async function tell(
  app: App,
  listing: ListingRow,
  row: DestinationRow,
  wanted: PlaceChatRules | null,
): Promise<ToldChat> {
  const destinationId = row.id;
  const control = connectorOf(row.kind).chat?.control;
  const most = control?.most ?? { slowSeconds: 0, accountDays: 0 };
  if (!control)
    return {
      destinationId,
      rules: null,
      most,
      sentence: `${row.name} lets nobody say from outside who may write.`,
    };
  try {
    const rules = await atPlace(app, row, (target) =>
      control.rules(target, listing.eventRef, wanted, app.ask),
    );
    return { destinationId, rules, most, sentence: null };
  } catch (error) {
    const told = placeRefusal(
      row.name,
      error,
      wanted ? 'nothing is known to have changed' : 'it is not known',
    );
    if (!(told instanceof Refusal)) throw told;
    return { destinationId, rules: null, most, sentence: told.sentence };
  }
}
