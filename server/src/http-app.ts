import { describeError } from '@juncta/runtime/log';
import compression from 'compression';
import express, { type Express } from 'express';
import helmet from 'helmet';
import { randomUUID } from 'node:crypto';
import { pinoHttp } from 'pino-http';
import type { App } from './app';
import type { ChatLines } from './chat/ingest/chat-lines';
import type { OverlayPages } from './chat/overlay/overlay-pages';
import { mountOverlayPages } from './chat/overlay/routes';
import { mountChat } from './chat/routes';
import { mountPictures } from './listings/pictures';
import { mountListings } from './listings/routes';
import { mountMarks } from './marks/routes';
import { mountClock } from './clock/routes';
import { mountAccounts } from './destinations/accounts';
import { mountHouseRules } from './destinations/house-rules';
import { mountLines } from './destinations/lines';
import { mountNamedRoutes } from './destinations/named-routes';
import { mountDestinations } from './destinations/routes';
import { mountFormats } from './formats/routes';
import { mountMetrics } from './health/metrics';
import { mountHealth, type HealthState } from './health/routes';
import { answerErrors } from './http/answer-errors';
import { notFound } from './http/errors';
import { serveWeb } from './http/serve-web';
import { mountPeople } from './people/routes';
import { mountStandIns } from './people/stand-ins';
import { mountDrill } from './drill/routes';
import { mountFeeds } from './feeds/routes';
import { mountIngest } from './ingest/routes';
import { mountIncident } from './programme/incident';
import { mountPutBack } from './programme/put-back';
import { mountProgramme } from './programme/routes';
import { mountRenditions } from './renditions/routes';
import { mountRecordings } from './recordings/routes';
import { uplinkAddress } from './uplink/uplink-address';
import { mountNextShow } from './shows/next-show';
import { mountShows } from './shows/routes';
import { mountSeries } from './shows/series';
import { mountDressing } from './dressing/routes';
import { mountOwnLayouts } from './stage/own-layouts';
import { mountStage } from './stage/routes';
import { mountTeam } from './team/routes';

/** What a desk and a guest's page need of the browser; nothing else is asked for, and no page within ours gets any of it. */
const PERMISSIONS = [
  ...['camera', 'microphone', 'display-capture', 'fullscreen', 'screen-wake-lock', 'autoplay'].map(
    (name) => `${name}=(self)`,
  ),
  ...['geolocation', 'payment', 'usb', 'serial', 'midi', 'hid'].map((name) => `${name}=()`),
].join(', ');

/** No request of the API is longer; pictures and recordings go by ways of their own. */
const MAX_BODY = '256kb';

export function makeHttp(app: App, health: HealthState, lines: ChatLines, overlays: OverlayPages): Express {
  const http = express();
  http.set('trust proxy', app.config.trustProxy ? 1 : false);
  http.disable('x-powered-by');
  mountHealth(http, app, health);
  mountMetrics(http, app);
  http.use(
    pinoHttp({
      logger: app.log,
      genReqId: () => randomUUID(),
      // Nothing of a request's body or headers is logged, and of its address only the path: queries may hold secrets.
      serializers: {
        err: describeError,
        req: (req: { id: string; method: string; url: string }) => ({
          id: req.id,
          method: req.method,
          path: req.url.split('?')[0],
        }),
        res: (res: { statusCode: number }) => ({ status: res.statusCode }),
      },
      customLogLevel: (_req, res, error) => (error || res.statusCode >= 500 ? 'error' : 'debug'),
    }),
  );
  http.use(
    helmet({
      contentSecurityPolicy: {
        directives: {
          defaultSrc: ["'self'"],
          scriptSrc: ["'self'"],
          // Angular and ng-bootstrap place elements by style attributes; no style comes from anybody's text.
          styleSrc: ["'self'", "'unsafe-inline'"],
          imgSrc: ["'self'", 'data:', 'blob:'],
          mediaSrc: ["'self'", 'blob:'],
          workerSrc: ["'self'", 'blob:'],
          // The relay is at a port of its own: of this house, whatever name the browser knows it by.
          connectSrc: ["'self'", (req) => uplinkAddress(app.config, req)?.origin ?? "'self'"],
          fontSrc: ["'self'"],
          frameAncestors: ["'none'"],
          formAction: ["'self'"],
          baseUri: ["'self'"],
          objectSrc: ["'none'"],
          // A house served by plain HTTP on its own network must not be sent to HTTPS it does not have.
          upgradeInsecureRequests: app.config.https || app.config.trustProxy ? [] : null,
        },
      },
      strictTransportSecurity: app.config.https !== null,
      // The desk will share memory with its workers, which browsers allow only in an isolated page.
      crossOriginEmbedderPolicy: { policy: 'require-corp' },
      // The address of a guest's page must not travel to anybody.
      referrerPolicy: { policy: 'no-referrer' },
    }),
  );
  http.use((_req, res, next) => {
    res.setHeader('Permissions-Policy', PERMISSIONS);
    next();
  });
  http.use(compression());
  const api = express.Router();
  api.use(express.json({ limit: MAX_BODY, strict: true }));
  mountClock(api, app);
  mountTeam(api, app);
  mountShows(api, app);
  mountSeries(api, app);
  mountNextShow(api, app);
  mountPeople(api, app);
  mountStandIns(api, app);
  mountDestinations(api, app);
  mountAccounts(api, app);
  mountLines(api, app);
  mountNamedRoutes(api, app);
  mountHouseRules(api, app);
  mountListings(api, app);
  mountPictures(api, app);
  mountFormats(api, app);
  mountProgramme(api, app);
  mountPutBack(api, app);
  mountFeeds(api, app);
  mountIngest(api, app);
  mountRecordings(api, app);
  mountRenditions(api, app);
  mountIncident(api, app);
  mountDrill(api, app);
  mountChat(api, app, lines);
  mountOverlayPages(api, app, overlays);
  mountMarks(api, app);
  mountStage(api, app);
  mountOwnLayouts(api, app);
  mountDressing(api, app);
  http.use(api);
  http.use('/api', () => {
    throw notFound('page');
  });
  serveWeb(http, app.config.webDir);
  http.use(answerErrors(app.log));
  return http;
}
