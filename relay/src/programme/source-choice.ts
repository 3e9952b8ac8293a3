import type { Slate, SourceAudioFrame, SourceVideoFrame } from '@juncta/core/programme';
import type { ProgrammeInput, ProgrammeSource, SourceStream } from './source';

/** Audio of a source that is to come on is kept for about a second: it may come before the keyframe that it belongs to. */
const EARLY_AUDIO_FRAMES = 48;

/**
 * Which of several sources is the programme: the desk's to begin with. Another comes on at its next keyframe, and until
 * then the one before stays, so that viewers see a cut and no gap.
 */
export class SourceChoice implements ProgrammeSource {
  private readonly gates = new Map<string, Gate>();
  private chosen: Gate | null = null;
  private wanted: Gate | null = null;
  private slateOf: Gate | null = null;

  constructor(
    private readonly programme: ProgrammeInput,
    /** Another source is on, or is to come on. */
    private readonly changed: () => void,
  ) {}

  /** A place for a source. The first one is on until another is chosen. */
  gate(name: string): ProgrammeInput {
    const gate = new Gate(name, this.programme, this);
    this.gates.set(name, gate);
    this.chosen ??= gate;
    this.wanted ??= gate;
    return gate;
  }

  connect(name: string, source: ProgrammeSource): void {
    this.gates.get(name)!.source = source;
  }

  /** It is gone for good. What was on goes back to the first. */
  remove(name: string): void {
    const gate = this.gates.get(name);
    if (!gate) return;
    gate.source?.close();
    this.gates.delete(name);
    if (this.wanted === gate) this.choose([...this.gates.keys()][0]!);
  }

  /** The one that is on, or comes on at its next keyframe. */
  get choice(): string {
    return this.wanted!.name;
  }

  isChosen(name: string): boolean {
    return this.chosen?.name === name;
  }

  choose(name: string): void {
    const gate = this.gates.get(name);
    if (!gate || gate === this.wanted) return;
    this.wanted = gate;
    // Nobody sends there: viewers are not to go on seeing what was taken off.
    if (gate.source?.id == null) this.switchTo(gate);
    else gate.source.wantKeyframe();
    this.changed();
  }

  /** For gates. */
  isOn(gate: Gate): boolean {
    return this.chosen === gate;
  }
  isWanted(gate: Gate): boolean {
    return this.wanted === gate;
  }
  switchTo(gate: Gate): void {
    this.chosen = gate;
    gate.comesOn();
    this.changed();
  }
  /** The first source's slate is the show's own; another's serves while there is none. */
  takeSlate(gate: Gate, slate: Slate): void {
    const [first] = this.gates.values();
    if (this.slateOf !== null && this.slateOf === first && gate !== first) return;
    this.slateOf = gate;
    this.programme.slate(slate);
  }

  // --- As one source

  get id(): string | null {
    return this.chosen?.source?.id ?? null;
  }

  get incomingKbps(): number {
    return this.chosen?.source?.incomingKbps ?? 0;
  }

  wantKeyframe(): void {
    this.chosen?.source?.wantKeyframe();
  }

  covered(on: boolean): void {
    for (const { source } of this.gates.values()) source?.covered(on);
  }

  tick(nowMs: number): void {
    for (const { source } of this.gates.values()) source?.tick(nowMs);
  }

  close(): void {
    for (const { source } of this.gates.values()) source?.close();
  }
}

/** Lets a source's frames through while it is on. */
class Gate implements ProgrammeInput {
  source: ProgrammeSource | null = null;
  private stream: SourceStream | null = null;
  private early: SourceAudioFrame[] = [];

  constructor(
    readonly name: string,
    private readonly programme: ProgrammeInput,
    private readonly choice: SourceChoice,
  ) {}

  get size(): ProgrammeInput['size'] {
    return this.programme.size;
  }

  begin(stream: SourceStream): void {
    this.stream = stream;
    this.early = [];
    if (this.choice.isOn(this)) this.programme.begin(stream);
  }

  gap(): void {
    if (this.choice.isOn(this)) this.programme.gap();
  }

  takeVideo(frame: SourceVideoFrame): void {
    if (!this.choice.isOn(this) && this.choice.isWanted(this) && frame.key) this.choice.switchTo(this);
    if (this.choice.isOn(this)) this.programme.takeVideo(frame);
  }

  takeAudio(frame: SourceAudioFrame): void {
    if (this.choice.isOn(this)) this.programme.takeAudio(frame);
    else {
      this.early.push({ ...frame, frame: frame.frame.slice() });
      if (this.early.length > EARLY_AUDIO_FRAMES) this.early.shift();
    }
  }

  slate(slate: Slate): void {
    this.choice.takeSlate(this, slate);
  }

  comesOn(): void {
    if (this.stream) this.programme.begin(this.stream);
    else this.programme.gap();
    for (const frame of this.early) this.programme.takeAudio(frame);
    this.early = [];
  }
}
