import type { Clock } from '@juncta/core/clock';
import { ROLES, type Role } from '@juncta/core/team';
import { makeLog, RecentLines } from '@juncta/runtime/log';
import { randomUUID } from 'node:crypto';
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import path from 'node:path';
import { fileURLToPath } from 'node:url';
import type { DestinationStream } from 'pino';
import type { Member } from '@juncta/contract/team';
import type { ShowText } from '@juncta/contract/shows';
import { startSession } from '../access/sessions';
import type { Config } from '../config';
import { appendEvent } from '../events/store';
import { startServer, type RunningServer } from '../server';
import { hashPassword } from '../team/passwords';
import { addMember } from '../team/store';
import { Client } from './client';
import { makeDatabase, type TestDatabase } from './database';

/** A clock that stands still until a spec moves it. */
export class HandClock implements Clock {
  constructor(public nowMs = Date.now()) {}
  now(): number {
    return this.nowMs;
  }
  advance(ms: number): void {
    this.nowMs += ms;
  }
}

export const PASSWORD = 'three loaves and a knife';
/** Made once for all houses: hashing is slow on purpose. How one joins and signs in has specs of its own. */
let hashed: Promise<string> | undefined;
const passwordHash = () => (hashed ??= hashPassword(PASSWORD));

/** A whole server on a database of its own, with a member of each role. */
export interface House {
  readonly server: RunningServer;
  readonly database: TestDatabase;
  /** The clock of sessions and links. */
  readonly securityClock: HandClock;
  readonly url: string;
  /** All that was logged. */
  readonly logged: string[];
  readonly members: Record<Role, Member>;
  readonly as: Record<Role, Client>;
  /** A browser nobody has signed in with. */
  stranger(): Client;
  close(): Promise<void>;
}

export const MIGRATIONS = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../migrations');

export async function openHouse(change: Partial<Config> = {}): Promise<House> {
  const database = await makeDatabase();
  const webDir = mkdtempSync(path.join(tmpdir(), 'juncta-web-'));
  writeFileSync(path.join(webDir, 'index.html'), '<!doctype html><title>Juncta</title>');
  const securityClock = new HandClock();
  const logged: string[] = [];
  const sink: DestinationStream = { write: (line) => void logged.push(line) };
  const recent = new RecentLines();
  const config: Config = {
    databaseUrl: database.url,
    // A busy machine is no reason to fail: specs that want the database gone cut the line to it.
    databaseConnectMs: 20_000,
    host: '127.0.0.1',
    port: 0,
    webDir,
    migrationsDir: MIGRATIONS,
    demo: false,
    clockUrl: null,
    https: null,
    trustProxy: false,
    metricsToken: null,
    publicUrl: 'https://juncta.example',
    relay: null,
    room: null,
    standInGuestsUrl: null,
    standInEncodersUrl: null,
    supervisor: null,
    secretsKey: Buffer.alloc(32, 7),
    allowLocalPlaces: true,
    demoPlaces: {},
    logLevel: 'debug',
    ...change,
  };
  const server = await startServer(config, makeLog('server', 'debug', recent.through(sink)), {
    securityClock,
    recent,
  });
  const url = `http://127.0.0.1:${server.port}`;
  const as = { producer: new Client(url), host: new Client(url), moderator: new Client(url) };
  const members = {} as Record<Role, Member>;
  const join = async (role: Role) => {
    const { db, clock } = server.app;
    const member = {
      id: randomUUID(),
      name: `The ${role}`,
      email: `${role}@house.example`,
      role,
    };
    await addMember(db, { ...member, passwordHash: await passwordHash(), joinedAt: clock.now() });
    await db.transaction((tx) => appendEvent(tx, clock, 'team', 'member.joined', { member }));
    as[role].signInAs(await startSession(db, securityClock, { memberId: member.id }));
    members[role] = member;
  };
  if (!config.demo) await Promise.all(ROLES.map(join));
  return {
    server,
    database,
    securityClock,
    url,
    logged,
    members,
    as,
    stranger: () => new Client(url),
    async close() {
      await server.close();
      await database.drop();
      rmSync(webDir, { recursive: true });
    },
  };
}

/** A show's text that nothing is wrong with. */
export function showText(change: Partial<ShowText> = {}): ShowText {
  return {
    title: 'Rye and patience',
    description: '',
    seriesId: null,
    start: { local: '2027-05-20T19:00', zone: 'Europe/Lisbon', fold: 'earlier' },
    plannedMinutes: 60,
    people: [],
    ...change,
  };
}
