import type { ProgrammeReport } from '@juncta/contract/relay';
import path from 'node:path';
import type { Logger } from 'pino';
import type { IngestWants } from '@juncta/core/ingest';
import type { Slate } from '@juncta/core/programme';
import type { EncodeCost } from '@juncta/core/renditions';
import { ShowDrill } from './drill/show-drill';
import { Feeds } from './feeds/feeds';
import { DESK, ShowInputs } from './ingest/show-inputs';
import type { Silence } from './media/opus-to-aac';
import { AiredSilence } from './programme/aired-silence';
import { Programme } from './programme/programme';
import { SourceChoice } from './programme/source-choice';
import { Recorder } from './recordings/recorder';
import type { Recordings } from './recordings/recordings';
import { DeskSource } from './uplink/desk-source';

/** What all shows at the relay share. */
export interface RelayHouse {
  readonly dir: string;
  /** Where the outside reaches this machine. */
  readonly host: string;
  /** What encoding takes on this machine. */
  readonly cost: EncodeCost;
  readonly silence: Silence;
  readonly allowLocalPlaces: boolean;
  readonly recordings: Recordings;
  readonly log: Logger;
  /** Of one core, over the last seconds. */
  loadPercent(): number;
  /** Something in the report has changed that is worth telling at once. */
  changed(): void;
  /** Faults of a drill: on the way from the desk, and of this process. */
  cutUplink(showId: string, ms: number): void;
  slowUplink(showId: string, ms: number): void;
  die(): void;
  /** What fills in where no desk has sent the show's own. */
  plainSlate(wants: IngestWants): Promise<Slate | null>;
}

/** One show at the relay: its programme, the desk and the outside pictures that feed it, and all that drains it. */
export class RelayedShow {
  readonly programme: Programme;
  readonly desk: DeskSource;
  readonly inputs: ShowInputs;
  readonly feeds: Feeds;
  readonly drill: ShowDrill;
  private readonly recorder: Recorder;
  private readonly silence: AiredSilence;

  constructor(
    readonly showId: string,
    private readonly house: RelayHouse,
  ) {
    const log = house.log.child({ show: showId });
    const changed = () => house.changed();
    const { dir, recordings, silence, allowLocalPlaces } = house;
    const programme = (this.programme = new Programme({
      silence,
      log,
      changed,
      isSettled: () => this.recorder.runId !== null || this.drill.goesOn,
    }));
    this.recorder = new Recorder({ dir, showId, recordings, log, changed });
    this.silence = new AiredSilence(() => programme.state === 'source');
    this.feeds = new Feeds(programme.heads, allowLocalPlaces, log);
    this.drill = new ShowDrill(path.join(dir, `drill-${showId}.json`), programme.heads, {
      shown: () => programme.state,
      cutUplink: (ms) => house.cutUplink(showId, ms),
      slowUplink: (ms) => house.slowUplink(showId, ms),
      die: () => house.die(),
      changed,
      log,
    });
    const choice = new SourceChoice(programme, () => {
      this.inputs.settle();
      changed();
    });
    this.desk = new DeskSource(choice.gate(DESK), {
      log,
      keep: (...packet) => this.recorder.keep(...packet),
      changed,
    });
    choice.connect(DESK, this.desk);
    this.inputs = new ShowInputs(choice, {
      host: house.host,
      allowLocalPlaces,
      cost: house.cost,
      log,
      changed,
      slate: (wants) => house.plainSlate(wants),
    });
    programme.connect(choice, [this.silence, this.feeds, this.drill, this.recorder]);
  }

  /** From now on everything is kept. Asked again with the same run, nothing changes. */
  beginRun(runId: string): void {
    const { recorder, programme } = this;
    if (recorder.runId !== null) return;
    const delayMs = recorder.begin(runId, programme.delayMs, programme.at);
    if (delayMs === null) return;
    this.silence.forget();
    programme.holdBack(delayMs);
    this.desk.wantKeyframe();
    this.house.changed();
  }

  /** How long the programme is held back. Settled before a run: what waits is not let out of its turn. */
  setDelay(delayMs: number): void {
    if (this.recorder.runId === null) this.programme.holdBack(delayMs);
  }

  /** Ends all feeds in good order, and the recording; its files are made in the background. */
  async end(): Promise<void> {
    this.feeds.stopAll();
    if (this.recorder.runId === null) return;
    await this.recorder.end();
    // Whoever said goodbye from behind the slate is not to find the next programme behind it.
    if (this.programme.covered) this.programme.cover(false);
    this.house.changed();
  }

  report(): ProgrammeReport {
    const { recorder, programme, silence } = this;
    const isHeard = recorder.runId !== null && programme.state === 'source';
    return {
      showId: this.showId,
      state: programme.state,
      deskId: this.desk.id,
      inputId: this.inputs.taken,
      inputs: this.inputs.report(),
      runId: recorder.runId,
      showTimeMs: recorder.showTimeMs(programme.at),
      silentMs: isHeard ? silence.silentMs(programme.at) : null,
      delayMs: programme.delayMs,
      isDrilled: this.drill.goesOn,
      incomingKbps: this.desk.incomingKbps,
      loadPercent: this.house.loadPercent(),
      disk: recorder.disk,
      feeds: this.feeds.report(),
      renditions: this.feeds.reportRenditions(),
      recordings: this.house.recordings.list(this.showId, recorder.current),
    };
  }

  /** For the end of the process: nothing is ended at the places, and what was recorded is whole. */
  close(): Promise<void> {
    this.inputs.close();
    return this.programme.close();
  }
}
