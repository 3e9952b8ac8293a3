import { FEED_STATES } from '@juncta/core/feeds';
import type { Express } from 'express';
import { timingSafeEqual } from 'node:crypto';
import { collectDefaultMetrics, Gauge, Histogram, Registry } from 'prom-client';
import type { App } from '../app';
import { notFound } from '../http/errors';

/**
 * `GET /metrics` in the text format of Prometheus, for whoever has the token of `JUNCTA_METRICS_TOKEN`; without that
 * setting there is no such address. Names of shows and destinations are not told: ids are.
 */
export function mountMetrics(http: Express, app: App): void {
  const { metricsToken } = app.config;
  if (metricsToken === null) {
    // Not the application's page with 200, which a collector would take for figures it cannot read.
    http.get('/metrics', () => {
      throw notFound('page');
    });
    return;
  }
  const registry = new Registry();
  collectDefaultMetrics({ register: registry });
  const registers = [registry];
  const took = new Histogram({
    name: 'juncta_http_request_seconds',
    help: 'How long requests took, by method and status',
    labelNames: ['method', 'status'],
    buckets: [0.005, 0.02, 0.1, 0.5, 2, 10],
    registers,
  });
  const ofFeed = ['show', 'destination'];
  const gauge = (name: string, help: string, labelNames: string[] = ofFeed) =>
    new Gauge({ name: `juncta_${name}`, help, labelNames, registers });
  const gauges = {
    relayUp: gauge('relay_up', 'Whether the relay answers', []),
    state: gauge('feed_state', 'The state that a feed is in is 1', [...ofFeed, 'state']),
    kbps: gauge('feed_kbps', 'What a place takes, kbit/s'),
    leftOut: gauge('feed_frames_left_out', 'Video frames left out since the feed was started'),
    attempt: gauge('feed_attempt', 'Tries since the connection last stood'),
    viewers: gauge('feed_viewers', 'Who watches there, as the place counts'),
    incoming: gauge('programme_incoming_kbps', 'What comes from the desk, kbit/s', ['show']),
    source: gauge('programme_has_source', 'Whether viewers get the desk’s programme and not the slate', [
      'show',
    ]),
    disk: gauge('relay_disk_free_bytes', 'Room for recordings', []),
  };

  http.use((req, res, next) => {
    const end = took.startTimer();
    res.once('finish', () => end({ method: req.method, status: res.statusCode }));
    next();
  });
  const wanted = Buffer.from(`Bearer ${metricsToken}`);
  http.get('/metrics', async (req, res) => {
    const given = Buffer.from(req.headers.authorization ?? '');
    if (given.length !== wanted.length || !timingSafeEqual(given, wanted)) {
      res.status(401).set('WWW-Authenticate', 'Bearer').end();
      return;
    }
    read(app, gauges);
    res.type(registry.contentType).send(await registry.metrics());
  });
}

type Gauges = Record<
  'relayUp' | 'state' | 'kbps' | 'leftOut' | 'attempt' | 'viewers' | 'incoming' | 'source' | 'disk',
  Gauge
>;

/** As the relay last reported; what is not known is not told. */
function read(app: App, gauges: Gauges): void {
  for (const one of Object.values(gauges)) one.reset();
  const programmes = app.relay?.latestReports() ?? [];
  gauges.relayUp.set(app.relay?.isUp ? 1 : 0);
  for (const { showId: show, feeds, incomingKbps, state, disk } of programmes) {
    gauges.incoming.set({ show }, incomingKbps);
    gauges.source.set({ show }, state === 'source' ? 1 : 0);
    if (disk.freeBytes !== null) gauges.disk.set(disk.freeBytes);
    for (const feed of feeds) {
      const labels = { show, destination: feed.destinationId };
      for (const name of FEED_STATES)
        gauges.state.set({ ...labels, state: name }, feed.state === name ? 1 : 0);
      if (feed.bitrateKbps !== null) gauges.kbps.set(labels, feed.bitrateKbps);
      gauges.leftOut.set(labels, feed.leftOutFrames);
      gauges.attempt.set(labels, feed.attempt);
      const viewers = app.relay?.viewersAt(show, feed.destinationId) ?? null;
      if (viewers !== null) gauges.viewers.set(labels, viewers);
    }
  }
}
