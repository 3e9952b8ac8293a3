import path from 'node:path';
import type { Server } from 'node:http';
import { Events, type EventRules } from './events';
import { Place, readPlaceEnvironment } from '../place';
import { RehearsalTime } from '../rehearsal-time';
import { Tokens } from '../tokens';

const BACKUP_AWAY_MS = 15;

/** What a place with events is made of, by its own rules. Time runs from here on; nobody is let in before `listen`. */
export function openEventPlace(
  name: string,
  rules: EventRules,
  {
    tokenLifeMs,
    restsEvery,
    hasBackup = false,
  }: {
    tokenLifeMs: number;
    restsEvery?: number;
    /** There is a second door for feeds, a little further away. */
    hasBackup?: boolean;
  },
) {
  const { log, dir, port, rtmpPort } = readPlaceEnvironment(name);
  const time = new RehearsalTime();
  const events = new Events(dir, rules, time.nowMs, log);
  const tokens = new Tokens(tokenLifeMs, path.join(dir, 'grants.json'));
  const place = new Place(
    {
      name,
      tokens,
      judge: (app, key, drop) => events.judge(app, key, drop),
      arrivals: () => events.arrivals,
      ...(restsEvery === undefined ? {} : { restsEvery }),
    },
    log,
  );
  time.start(() => events.tick());
  let second: number | null = null;
  const listen = async (): Promise<Server> => {
    if (hasBackup) second = await place.ingest.listenFar(BACKUP_AWAY_MS);
    return place.listen(port, rtmpPort);
  };
  return { place, events, tokens, time, rtmpPort, backupPort: () => second, app: rules.app, listen };
}
