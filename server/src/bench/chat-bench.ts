import { createShow } from '@juncta/contract/shows';
import { fork } from 'node:child_process';
import { createServer, type AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { Client } from 'pg';
import { changeListing } from '../listings/store';
import { addEmberplay, sendTo } from '../testing/destination';
import { openHouse, showText } from '../testing/house';

/**
 * The chat's bench: many messages a second from four places, which drop their lines and repeat themselves, through
 * connectors, rules and flood watch into the database. Compared with the places' own counts, and with what it costs to
 * parse the same JSON and to insert the same rows and nothing else. Prints its figures as one line of JSON.
 * JUNCTA_BENCH_SECONDS (60) and JUNCTA_BENCH_PER_S (5000). Wants JUNCTA_TEST_DATABASE_URL.
 */
const SECONDS = Number(process.env['JUNCTA_BENCH_SECONDS'] ?? 60);
const PER_S = Number(process.env['JUNCTA_BENCH_PER_S'] ?? 5000);
const PLACES = 4;
const BATCH = 200;
const DRAIN_PATIENCE_MS = 300_000;

const round = (value: number, digits = 1) => Math.round(value * 10 ** digits) / 10 ** digits;
const pause = (ms: number) => new Promise((later) => setTimeout(later, ms));

function freePort(): Promise<number> {
  return new Promise((done) => {
    const probe = createServer().listen(0, '127.0.0.1', () => {
      const { port } = probe.address() as AddressInfo;
      probe.close(() => done(port));
    });
  });
}

/** µs of CPU of this process for each of so many. */
async function cpuUs(count: number, act: () => void | Promise<void>): Promise<number> {
  const before = process.cpuUsage();
  await act();
  const { user, system } = process.cpuUsage(before);
  return (user + system) / count;
}

async function main(): Promise<Record<string, number>> {
  const ports = await Promise.all(Array.from({ length: PLACES }, freePort));
  const child = fork(fileURLToPath(new URL('./chat-place.ts', import.meta.url)), {
    execArgv: ['--import', 'tsx'],
    env: { PATH: process.env['PATH'], PORTS: ports.join(',') },
  });
  await new Promise((ready) => child.once('message', ready));
  const house = await openHouse({ logLevel: 'error' });
  const db = new Client({ connectionString: house.database.url });
  await db.connect();
  try {
    const showId = crypto.randomUUID();
    await house.as.producer.get(createShow, { body: { id: showId, text: showText() } });
    const destinations: string[] = [];
    for (const port of ports) destinations.push(await addEmberplay(house, `http://127.0.0.1:${port}`));
    await sendTo(house, showId, destinations);
    for (const id of destinations) await changeListing(house.server.app.db, showId, id, { chatOpen: true });
    await pause(3000);

    const all = PER_S * SECONDS;
    const startedMs = performance.now();
    let endedMs = 0;
    let drainedMs = 0;
    let places = { counts: [0], drops: [0] };
    const kept = async () =>
      Number(
        (await db.query<{ count: string }>('select count(*) from chat_message where show_id = $1', [showId]))
          .rows[0]!.count,
      );
    const us = await cpuUs(all, async () => {
      const written = new Promise<typeof places>((done) => child.once('message', done as never));
      child.send({ perS: PER_S, seconds: SECONDS });
      places = await written;
      endedMs = performance.now();
      while ((await kept()) < all) {
        if (performance.now() - endedMs > DRAIN_PATIENCE_MS) break;
        await pause(250);
      }
      drainedMs = performance.now();
    });
    const { rows } = await db.query<{ total: string; distinct: string }>(
      `select count(*) total, count(distinct (destination_id, place_message_id)) "distinct" from chat_message where show_id = $1`,
      [showId],
    );
    const [total, distinct] = [Number(rows[0]!.total), Number(rows[0]!.distinct)];
    const written = places.counts.reduce((sum, count) => sum + count, 0);

    // The same, bare: its JSON parsed, and its rows copied into an empty table like it, as many at once.
    const { rows: wire } = await db.query<{ text: string }>(
      `select json_build_object('type', 'message', 'message', json_build_object('id', place_message_id, 'written_at', written_at, 'author', json_build_object('id', author_id, 'name', author_name, 'owner', owner), 'text', text, 'reply_to', null))::text as text from chat_message where show_id = $1 limit 50000`,
      [showId],
    );
    const parse = await cpuUs(wire.length, () => {
      for (const { text } of wire) JSON.parse(text);
    });
    await db.query('create table bare (like chat_message including all)');
    const columns = [
      'id',
      'show_id',
      'destination_id',
      'place_message_id',
      'author_id',
      'author_name',
      'text',
    ];
    const { rows: some } = await db.query<Record<string, string>>(
      `select ${columns.join(', ')} from chat_message where show_id = $1 limit 50000`,
      [showId],
    );
    const insertStartedMs = performance.now();
    const insert = await cpuUs(some.length, async () => {
      for (let at = 0; at < some.length; at += BATCH) {
        const part = some.slice(at, at + BATCH);
        const places = part.map(
          (_, i) =>
            `(${columns.map((_, c) => `$${i * columns.length + c + 1}`).join(',')}, false, now(), now())`,
        );
        await db.query(
          `insert into bare (${columns.join(', ')}, owner, written_at, received_at) values ${places.join(',')}`,
          part.flatMap((row) => columns.map((column) => row[column])),
        );
      }
    });
    const insertMs = performance.now() - insertStartedMs;
    return {
      seconds: SECONDS,
      wanted_per_s: PER_S,
      written,
      kept: total,
      lost: written - distinct,
      double: total - distinct,
      lines_dropped: places.drops.reduce((sum, drops) => sum + drops, 0),
      written_per_s: round((written * 1000) / (endedMs - startedMs)),
      drained_after_ms: round(drainedMs - endedMs, 0),
      server_cpu_us_per_message: round(us),
      bare_json_parse_cpu_us: round(parse, 2),
      bare_insert_cpu_us: round(insert, 2),
      bare_insert_wall_us: round((insertMs * 1000) / some.length),
      ratio_to_bare: round(us / (parse + insert)),
    };
  } finally {
    await db.end();
    await house.close();
    child.kill();
  }
}

main().then(
  (figures) => {
    console.log(JSON.stringify(figures));
    process.exit(0);
  },
  (error: unknown) => {
    console.error(error);
    process.exit(1);
  },
);
