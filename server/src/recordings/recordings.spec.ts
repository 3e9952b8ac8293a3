import { readProgramme } from '@juncta/contract/programme';
import { createShow } from '@juncta/contract/shows';
import { randomUUID } from 'node:crypto';
import { cpSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { pino } from 'pino';
import { connect, migrateDatabase, type DatabaseConnection } from '../database/connect';
import { makeDatabase, type TestDatabase } from '../testing/database';
import { FakeRelay } from '../testing/fake-relay';
import { MIGRATIONS, openHouse, showText, type House } from '../testing/house';
import { until } from '../testing/until';
import { recordingsOf } from './store';

/** The last migration of the version that had them in the programme's report alone. */
const BEFORE = '0024_password-links';

describe('recordings of an earlier version', () => {
  let database: TestDatabase;
  let connection: DatabaseConnection;
  let migrations: string;
  beforeEach(async () => {
    database = await makeDatabase();
    connection = connect(database.url, 20_000, pino({ level: 'silent' }));
    migrations = mkdtempSync(path.join(tmpdir(), 'juncta-migrations-'));
    cpSync(MIGRATIONS, migrations, { recursive: true });
    const journal = path.join(migrations, 'meta', '_journal.json');
    const all = JSON.parse(readFileSync(journal, 'utf8')) as { entries: { tag: string }[] };
    const upTo = all.entries.findIndex(({ tag }) => tag === BEFORE) + 1;
    expect(upTo).toBeGreaterThan(0);
    writeFileSync(journal, JSON.stringify({ ...all, entries: all.entries.slice(0, upTo) }));
  });
  afterEach(async () => {
    await connection.pool.end();
    await database.drop();
    rmSync(migrations, { recursive: true });
  });

  it('are carried over from the last report, without loss', async () => {
    await migrateDatabase(connection, migrations);
    const [showId, runId] = [randomUUID(), randomUUID()];
    const common = { runId, startedAtMs: 1_800_000_000_123 };
    const missing = { packets: 2, ms: 66, damagedBytes: 0 };
    const report = {
      showId,
      recordings: [
        { ...common, kind: 'clean', status: 'ready', bytes: 3_000_000_000, lengthMs: 61_000, missing },
        { ...common, kind: 'aired', status: 'finishing', bytes: null, lengthMs: null, missing: null },
      ],
    };
    await connection.pool.query(
      `insert into show (id, version, title, description, planned_minutes, edited_at) values ($1, 1, 'Rye', '', 60, now())`,
      [showId],
    );
    await connection.pool.query(
      `insert into programme (show_id, report, states, reported_at) values ($1, $2, '', now())`,
      [showId, JSON.stringify(report)],
    );
    await migrateDatabase(connection, MIGRATIONS);
    expect(await recordingsOf(connection.db, showId)).toEqual([
      { ...common, kind: 'aired', status: 'finishing', bytes: null, lengthMs: null, missing: null },
      { ...common, kind: 'programme', status: 'ready', bytes: 3_000_000_000, lengthMs: 61_000, missing },
    ]);
  });
});

describe('recordings', () => {
  let house: House;
  let relay: FakeRelay;
  let showId: string;
  beforeAll(async () => {
    relay = await new FakeRelay().open();
    house = await openHouse({ relay: relay.reached });
    showId = randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
  });
  afterAll(async () => {
    await house.close();
    await relay.close();
  });

  it('keeps what the relay told of recordings while it is away', async () => {
    const [runId, common] = [randomUUID(), { startedAtMs: 1_800_000_000_000, missing: null }];
    const ready = {
      runId,
      kind: 'programme',
      status: 'ready',
      bytes: 3_000_000_000,
      lengthMs: 61_000,
    } as const;
    const made = { runId, kind: 'aired', status: 'finishing', bytes: null, lengthMs: null } as const;
    const told = async () => (await house.as.host.get(readProgramme, { params: { showId } })).recordings;
    relay.change(showId, {
      recordings: [
        { ...common, ...ready },
        { ...common, ...made },
      ],
    });
    relay.broken = true;
    await until('both are kept', async () => (await told()).length === 2);
    expect(await told()).toEqual([
      { ...common, ...made },
      { ...common, ...ready },
    ]);
    // Its folder was emptied: nothing is offered that is not there.
    relay.change(showId, { recordings: [] });
    await until('none is left', async () => (await told()).length === 0);
    relay.broken = false;
  });

  it('gives recordings to the team only, by ranges', async () => {
    const url = `${house.url}/api/shows/${showId}/recordings/${randomUUID()}/programme`;
    expect((await fetch(url)).status).toBe(401);
    const ours = await fetch(url, {
      headers: { Cookie: house.as.moderator.cookieHeader, Range: 'bytes=0-3' },
    });
    expect([ours.status, await ours.text(), ours.headers.get('content-range')]).toEqual([
      206,
      'clip',
      'bytes 0-3/9',
    ]);
    expect(
      (await fetch(url.replace('programme', 'dirty'), { headers: { Cookie: house.as.host.cookieHeader } }))
        .status,
    ).toBe(404);
  });
});
