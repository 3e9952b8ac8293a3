import type { Clock } from '@juncta/core/clock';
import { describeError, type RecentLines } from '@juncta/runtime/log';
import compression from 'compression';
import express, { type Express } from 'express';
import helmet from 'helmet';
import { randomUUID } from 'node:crypto';
import type { Logger } from 'pino';
import { pinoHttp } from 'pino-http';
import type { SecretBox } from './access/secret-box';
import type { Tries } from './access/tries';
import type { ChatLines } from './chat/chat-lines';
import { mountChat } from './chat/routes';
import type { AskPlace } from './destinations/ask-place';
import { mountPictures } from './listings/pictures';
import { mountListings } from './listings/routes';
import { mountMarks } from './marks/routes';
import type { Config } from './config';
import type { Database, DatabaseConnection } from './database/connect';
import { mountClock } from './clock/routes';
import type { ServerClock } from './clock/server-clock';
import { mountAccounts } from './destinations/accounts';
import { mountHouseRules, type RulesBook } from './destinations/house-rules';
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
import type { RelayLink } from './relay/relay-link';
import { mountDrill } from './drill/routes';
import { mountIncident } from './relay/incident';
import { piecesAddress } from './relay/pieces-address';
import { mountRelay } from './relay/routes';
import { mountNextShow } from './shows/next-show';
import { mountShows } from './shows/routes';
import { mountSeries } from './shows/series';
import { mountTeam } from './team/routes';

/** What every part of the server works with. */
export interface App {
  readonly db: Database;
  readonly connection: DatabaseConnection;
  /** The clock of everything that is planned or happens. */
  readonly clock: ServerClock;
  /** The clock of sessions, links and limits. */
  readonly securityClock: Clock;
  readonly tries: Tries;
  readonly secrets: SecretBox;
  /** What places allow. */
  readonly rules: RulesBook;
  /** Null where no relay runs: everything but sending works. */
  readonly relay: RelayLink | null;
  /** Asks places, within limits of time and of where they may be. */
  readonly ask: AskPlace;
  readonly log: Logger;
  /** What the log said last. */
  readonly recent: RecentLines;
  readonly config: Config;
}

/** What a desk and a guest's page need of the browser; nothing else is asked for, and no page within ours gets any of it. */
const PERMISSIONS = [
  ...['camera', 'microphone', 'display-capture', 'fullscreen', 'screen-wake-lock', 'autoplay'].map(
    (name) => `${name}=(self)`,
  ),
  ...['geolocation', 'payment', 'usb', 'serial', 'midi', 'hid'].map((name) => `${name}=()`),
].join(', ');

/** No request of the API is longer; pictures and recordings go by ways of their own. */
const MAX_BODY = '256kb';

export function makeApp(app: App, health: HealthState, lines: ChatLines): Express {
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
          connectSrc: ["'self'", (req) => piecesAddress(app.config, req)?.origin ?? "'self'"],
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
  mountRelay(api, app);
  mountIncident(api, app);
  mountDrill(api, app);
  mountChat(api, app, lines);
  mountMarks(api, app);
  http.use(api);
  http.use('/api', () => {
    throw notFound('page');
  });
  serveWeb(http, app.config.webDir);
  http.use(answerErrors(app.log));
  return http;
}
