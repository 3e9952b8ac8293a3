import type { DrillReport, DrillRequest } from '@juncta/contract/drill';
import {
  badNight,
  dueBetween,
  FRESH_PLACE,
  nextDrilled,
  scriptSeconds,
  seenAt,
  takesFeed,
  withSecond,
  type DrilledPlace,
  type DrillEvent,
  type DrillFault,
  type DrillRules,
  type ScriptedFault,
  type Timeline,
} from '@juncta/core/drill';
import type { ProgrammeState, ProgrammeTag } from '@juncta/core/programme';
import { randomBytes } from 'node:crypto';
import { readFileSync } from 'node:fs';
import type { Logger } from 'pino';
import { Feed } from '../feeds/feed';
import type { ProgrammeHeads } from '../programme/sink';
import { DrillIngest, type DrillLine, type Verdict } from './drill-ingest';
import { DrillNotes } from './drill-notes';

const SECOND_MS = 1000;
const LAPSED = 'The event was thrown away';
const REFUSED = 'We are not taking anything just now';
const OVER = 'This event is over';

/** What a drill does to the rest of the relay. */
export interface DrillHouse {
  /** What the programme is just now. */
  shown(): ProgrammeState;
  /** The desk's line is gone for this long. */
  cutUplink(ms: number): void;
  /** And carries no more than a little, for this long. */
  slowUplink(ms: number): void;
  /** This process ends at once, as if it had been killed. */
  die(): void;
  changed(): void;
  readonly log: Logger;
}

/** What has to outlive this process: a drill may end it. */
interface Kept {
  readonly request: DrillRequest;
  readonly startedAtMs: number;
  readonly endedAtMs: number | null;
  readonly script: {
    readonly fromS: number;
    /** Of the drill: what was due by then was caused, and is not caused again. */
    readonly doneS: number;
    readonly faults: readonly ScriptedFault[];
  } | null;
  readonly faults: DrillReport['faults'];
  readonly places: Readonly<Record<string, { readonly place: DrilledPlace; readonly timeline: Timeline }>>;
}

interface Played {
  readonly destinationId: string;
  readonly rules: DrillRules;
  readonly key: string;
  readonly feed: Feed;
  place: DrilledPlace;
  timeline: Timeline;
  line: DrillLine | null;
  refusesUntilMs: number;
  /** Pictures that arrived since the last second that was noted. */
  arrived: number;
}

/**
 * A drill of one show: plays every place of its board, throws faults in, and notes second by second what their viewers
 * would have seen. Written down every second, so that it goes on after this process has died in it.
 */
export class Drill {
  private readonly places: Played[];
  private readonly ingest: DrillIngest;
  private readonly notes: DrillNotes;
  private script: Kept['script'];
  private faults: DrillReport['faults'];
  private endedAtMs: number | null;
  private secondsNoted: number;

  private constructor(
    private readonly kept: Kept,
    file: string,
    heads: ProgrammeHeads,
    private readonly house: DrillHouse,
  ) {
    this.notes = new DrillNotes(file, house.log);
    this.script = kept.script;
    this.faults = kept.faults;
    this.endedAtMs = kept.endedAtMs;
    this.places = kept.request.places.map(({ destinationId, rules }) => ({
      destinationId,
      rules,
      key: randomBytes(16).toString('hex'),
      feed: new Feed(destinationId, heads, true, house.log),
      place: kept.places[destinationId]?.place ?? FRESH_PLACE,
      timeline: kept.places[destinationId]?.timeline ?? [],
      line: null,
      refusesUntilMs: 0,
      arrived: 0,
    }));
    this.secondsNoted = Math.max(
      0,
      ...this.places.map(({ timeline }) => timeline.reduce((s, one) => s + one.seconds, 0)),
    );
    this.ingest = new DrillIngest((key, line) => this.judge(key, line));
  }

  static async begin(
    request: DrillRequest,
    file: string,
    heads: ProgrammeHeads,
    house: DrillHouse,
  ): Promise<Drill> {
    const fresh = { request, startedAtMs: Date.now(), endedAtMs: null, script: null, faults: [], places: {} };
    const drill = new Drill(fresh, file, heads, house);
    drill.notes.begin();
    await drill.startFeeds();
    return drill;
  }

  /** One that this process, or the one before it, has written down; null: none. */
  static async takeUp(file: string, heads: ProgrammeHeads, house: DrillHouse): Promise<Drill | null> {
    let kept: Kept;
    try {
      kept = JSON.parse(readFileSync(file, 'utf8')) as Kept;
    } catch {
      return null;
    }
    const drill = new Drill(kept, file, heads, house);
    if (kept.endedAtMs === null) {
      // Whatever died took every line with it.
      for (const played of drill.places) drill.tell(played, { type: 'left', atMs: Date.now(), clean: false });
      await drill.startFeeds();
    }
    return drill;
  }

  get goesOn(): boolean {
    return this.endedAtMs === null;
  }

  /** A tag of the programme, in order. */
  push(tag: ProgrammeTag): void {
    if (this.goesOn) for (const { feed } of this.places) feed.push(tag);
  }

  /** To be called every few tens of ms. */
  tick(nowMs: number): void {
    if (!this.goesOn) return;
    for (const { feed } of this.places) feed.flush(nowMs);
    const elapsedS = (nowMs - this.kept.startedAtMs) / SECOND_MS;
    if (Math.floor(elapsedS) <= this.secondsNoted) return;
    this.causeDue(elapsedS);
    // A second in which this process was not there, too, was one for the viewers.
    while (this.secondsNoted < Math.floor(elapsedS)) this.noteSecond(nowMs);
    this.write();
    this.house.changed();
  }

  cause(fault: DrillFault): void {
    if (!this.goesOn) return;
    const nowMs = Date.now();
    const atS = Math.round((nowMs - this.kept.startedAtMs) / 100) / 10;
    this.faults = [...this.faults, { atS, ...fault }];
    this.house.log.info({ fault }, 'drill');
    const ms = fault.seconds * SECOND_MS;
    const played = this.places.find(({ destinationId }) => destinationId === fault.destinationId);
    switch (fault.kind) {
      case 'refuse':
        if (played) played.refusesUntilMs = nowMs + ms;
        break;
      case 'drop':
        played?.line?.cut();
        break;
      case 'stall': {
        const line = played?.line;
        line?.stall(true);
        setTimeout(() => line?.stall(false), ms).unref();
        break;
      }
      case 'lapse':
        if (played) {
          this.tell(played, { type: 'lapsed' });
          played.line?.end(LAPSED);
        }
        break;
      case 'uplink_cut':
        this.house.cutUplink(ms);
        break;
      case 'uplink_slow':
        this.house.slowUplink(ms);
        break;
      case 'relay_dies':
        this.write(true);
        this.house.die();
        break;
      case 'desk_lost':
      case 'server_dies':
      case 'room_dies':
      case 'database_dies':
        // Done by whoever else it concerns; here it is only noted.
        break;
    }
    this.write();
    this.house.changed();
  }

  /** One fault after the other. */
  runScript(): void {
    if (!this.goesOn || this.script) return;
    const fromS = (Date.now() - this.kept.startedAtMs) / SECOND_MS;
    this.script = {
      fromS,
      doneS: fromS,
      faults: badNight(this.places.map(({ destinationId }) => destinationId)),
    };
    this.write();
    this.house.changed();
  }

  publish(destinationId: string): void {
    const played = this.places.find((one) => one.destinationId === destinationId);
    if (!played) return;
    this.tell(played, { type: 'published' });
    played.feed.seen(played.place.phase === 'public');
  }

  end(): void {
    if (!this.goesOn) return;
    for (const { feed } of this.places) feed.stop();
    this.endedAtMs = Date.now();
    this.script = null;
    this.write();
    this.ingest.close();
    this.house.changed();
  }

  /** For the end of the process: the drill itself goes on in the next. */
  async close(): Promise<void> {
    this.letGo();
    await this.notes.written();
  }

  private letGo(): void {
    for (const { feed } of this.places) feed.drop();
    this.ingest.close();
  }

  /** Nothing of it is kept any more. */
  forget(): void {
    this.letGo();
    this.notes.forget();
  }

  report(): DrillReport {
    const { startedAtMs } = this.kept;
    return {
      startedAtMs,
      endedAtMs: this.endedAtMs,
      scriptEndsS: this.script && this.script.fromS + scriptSeconds(this.script.faults),
      places: this.places.map(({ destinationId, feed, place, timeline }) => ({
        destinationId,
        feed: feed.report(),
        held: place.phase === 'held',
        timeline: [...timeline],
      })),
      faults: this.faults,
    };
  }

  private async startFeeds(): Promise<void> {
    const address = await this.ingest.open();
    for (const { feed, key, rules } of this.places) feed.start({ address, key, arrival: rules.arrival });
  }

  private judge(key: string, line: DrillLine): Verdict {
    const played = this.places.find((one) => one.key === key);
    if (!played) return { ok: false, says: 'This key is none of ours' };
    if (Date.now() < played.refusesUntilMs) return { ok: false, says: REFUSED };
    if (!takesFeed(played.place, played.rules)) return { ok: false, says: OVER };
    played.line?.cut();
    played.line = line;
    this.tell(played, { type: 'arrived', atMs: Date.now() });
    // Whoever looks from outside in a show: here the place is ours.
    setTimeout(() => played.feed.seen(played.place.phase === 'public'), SECOND_MS).unref();
    return {
      ok: true,
      sink: {
        picture: () => {
          played.arrived += 1;
          this.tell(played, { type: 'picture', atMs: Date.now() });
        },
        left: (clean) => {
          if (played.line !== line) return;
          played.line = null;
          this.tell(played, { type: 'left', atMs: Date.now(), clean });
        },
      },
    };
  }

  private tell(played: Played, event: DrillEvent): void {
    played.place = nextDrilled(played.place, event, played.rules);
  }

  private noteSecond(nowMs: number): void {
    this.secondsNoted += 1;
    for (const played of this.places) {
      this.tell(played, { type: 'tick', atMs: nowMs });
      const seen = seenAt(played.place, played.rules, this.house.shown(), nowMs);
      played.timeline = withSecond(played.timeline, seen);
    }
    this.logSecond();
  }

  /** What really arrived at each place in this second, by itself: the report can be held against it. */
  private logSecond(): void {
    const lines = this.places.map(
      ({ destinationId, arrived }) => `${this.secondsNoted - 1},${destinationId},${arrived}\n`,
    );
    for (const played of this.places) played.arrived = 0;
    this.notes.append(lines.join(''));
  }

  private causeDue(nowS: number): void {
    const { script } = this;
    if (!script) return;
    const { fromS, doneS, faults } = script;
    // First, since one of them ends this process.
    this.script = nowS > fromS + scriptSeconds(faults) ? null : { ...script, doneS: nowS };
    for (const { kind, destinationId, seconds } of dueBetween(faults, doneS - fromS, nowS - fromS))
      this.cause({ kind, destinationId, seconds });
  }

  /** @param now this process is about to end */
  private write(now = false): void {
    const places = Object.fromEntries(
      this.places.map(({ destinationId, place, timeline }) => [destinationId, { place, timeline }]),
    );
    const { endedAtMs, script, faults } = this;
    const kept: Kept = { ...this.kept, endedAtMs, script, faults, places };
    this.notes.write(JSON.stringify(kept), now);
  }
}
