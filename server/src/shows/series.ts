import { createSeries, readEvergreen, setRecurrence, type Evergreen } from '@juncta/contract/shows';
import { inheritedSettings, isPublic as isPublicValue, settingOf } from '@juncta/core/listings';
import { recurrenceProblem, type RecurrenceProblem } from '@juncta/core/schedule';
import { evergreenShow, slugOf } from '@juncta/core/shows';
import type { Router } from 'express';
import type { App } from '../app';
import { appendEvent } from '../events/store';
import { badInput, notFound } from '../http/errors';
import { mount } from '../http/mount';
import { defaultsFor } from '../listings/house-defaults';
import { listingsAt, type ListingAt } from '../listings/store';
import { describeSeries } from './describe-series';
import * as store from './store';

const SENTENCES: Record<RecurrenceProblem, string> = {
  not_a_rule: 'This is no rule of RFC 5545. One looks like FREQ=WEEKLY;BYDAY=TH.',
  too_often: 'A series is on daily, weekly, monthly or yearly, once on each of its days.',
  start_inside: 'The first date is given beside the rule, not within it.',
  bad_start: 'The first date does not exist, or its time zone is not known.',
};

export function mountSeries(router: Router, app: App): void {
  mount(router, app, createSeries, async ({ body }) =>
    app.db.transaction(async (tx) => {
      const isNew = await store.addSeries(tx, body);
      const series = describeSeries(app.config, (await store.findSeries(tx, body.id))!);
      if (isNew) await appendEvent(tx, app.clock, 'shows', 'series.created', { series });
      return series;
    }),
  );

  mount(router, app, setRecurrence, async ({ params: { seriesId }, body: { recurrence } }) => {
    const problem = recurrence && recurrenceProblem(recurrence);
    if (problem) throw badInput([{ field: 'rule', code: problem, sentence: SENTENCES[problem] }]);
    return app.db.transaction(async (tx) => {
      await store.setRecurrence(tx, seriesId, recurrence);
      const row = await store.findSeries(tx, seriesId);
      if (!row) throw notFound('series');
      const series = describeSeries(app.config, row);
      await appendEvent(tx, app.clock, 'shows', 'series.changed', { series });
      return series;
    });
  });

  mount(router, app, readEvergreen, async ({ params: { slug } }): Promise<Evergreen> => {
    const row = (await store.listSeries(app.db)).find(({ id, name }) => slugOf(name, id) === slug);
    if (!row) throw notFound('series');
    const ofSeries = (await store.listShows(app.db)).filter(({ text }) => text.seriesId === row.id);
    const show = evergreenShow(
      ofSeries.map((one) => ({ ...one, plannedMinutes: one.text.plannedMinutes })),
      app.clock.now(),
    );
    if (!show?.text.start || show.startsAtMs === null) return { series: row.name, show: null };
    const inherited = inheritedSettings(show.shared, await defaultsFor(app.db, row.id));
    const isPublic = ({ listing, destination }: ListingAt) => {
      const setting = app.rules
        .of(destination.kind)
        .capabilities.settings.find(({ id }) => id === 'visibility');
      const value = setting && settingOf(setting, listing.settings, inherited).value;
      return isPublicValue(value);
    };
    const places = (await listingsAt(app.db, show.id))
      .filter(isPublic)
      .flatMap(({ listing, destination }) => {
        const there = listing.listingState === 'booked' || listing.listingState === 'open';
        const url = (there ? listing.pageUrl : null) ?? destination.pageUrl;
        return url === null ? [] : [{ name: destination.name, code: destination.code, url }];
      });
    return {
      series: row.name,
      show: {
        title: show.text.title,
        startsAtMs: show.startsAtMs,
        zone: show.text.start.zone,
        onAir: show.startedAtMs !== null,
        places,
      },
    };
  });
}
