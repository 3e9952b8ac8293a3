import { spawnSync } from 'node:child_process';
import { chmodSync, mkdtempSync, rmSync } from 'node:fs';
import path from 'node:path';
import { openCluster, type Cluster } from './cluster';
import { freePort } from './ports';
import { endProcesses, markOf, type ProcessMark } from './processes';

describe('the role of the server at the database', () => {
  let dir: string;
  let cluster: Cluster;
  let port: number;
  let mark: ProcessMark | null;

  beforeAll(async () => {
    dir = mkdtempSync(path.join('/tmp', 'juncta-cluster-'));
    chmodSync(dir, 0o755);
    cluster = openCluster(dir, { throwaway: true });
    port = await freePort();
    mark = markOf(cluster.spawn(port, 'ignore').pid!, 'database');
    expect(await cluster.ready(port, 20_000)).toBeTrue();
  }, 60_000);
  afterAll(async () => {
    if (mark) await endProcesses([mark], 5000, () => 'SIGINT');
    rmSync(dir, { recursive: true, force: true });
  });

  const ask = (url: string, sql: string) => {
    const { stdout, stderr } = spawnSync('psql', [url, '-XAtc', sql], { encoding: 'utf8' });
    return stderr.trim() || stdout.trim();
  };
  const own = (sql: string) => ask(cluster.url(port, 'house'), sql);

  it('takes over what an earlier version made as administrator, and changes it', () => {
    ask(cluster.adminUrl(port, 'postgres'), 'create database house');
    const before = cluster.adminUrl(port, 'house');
    ask(before, 'create schema drizzle; create table drizzle.migrations (id serial primary key)');
    ask(
      before,
      'create table show (id int generated always as identity, title text); create view v as select 1',
    );
    cluster.createDatabase(port, 'house');
    expect(own("insert into show (title) values ('Rye') returning id")).toMatch(/^1\n/);
    expect(own('alter table show add column text text')).toBe('ALTER TABLE');
    expect(own('insert into drizzle.migrations default values')).toBe('INSERT 0 1');
    expect(own('create table more (id int)')).toBe('CREATE TABLE');
    expect(own('create schema other')).toBe('CREATE SCHEMA');
  });

  it('is given the same twice, and a database that is not there is made', () => {
    cluster.createDatabase(port, 'house');
    cluster.createDatabase(port, 'another');
    expect(ask(cluster.url(port, 'another'), 'create table t (id int)')).toBe('CREATE TABLE');
  });

  const REFUSED: readonly (readonly [string, string])[] = [
    ['runs no program', "copy show from program 'id'"],
    ['reads no file of the machine', "select pg_read_file('/etc/passwd')"],
    ['makes no role', 'create role intruder'],
    ['makes no database', 'create database mine'],
    ['does not raise itself', 'alter role juncta_server superuser'],
  ];
  for (const [what, sql] of REFUSED) {
    it(what, () => {
      cluster.createDatabase(port, 'house');
      expect(own(sql)).toMatch(/permission denied|must be superuser|must have/i);
    });
  }
});
