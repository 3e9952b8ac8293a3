import type { InputReport, InputsRequest } from '@juncta/contract/relay';
import type { IngestWants } from '@juncta/core/ingest';
import type { Slate } from '@juncta/core/programme';
import type { EncodeCost } from '@juncta/core/renditions';
import { isDeepStrictEqual } from 'node:util';
import type { Logger } from 'pino';
import type { SourceChoice } from '../programme/source-choice';
import type { Input } from './input';
import { InputSource } from './input-source';
import { SrtLine, type SrtBooking } from './srt-line';
import { Stills } from '../media/still';

/** The desk's place among the sources of a programme. */
export const DESK = 'desk';

interface ShowInputsHouse {
  /** Where encoders reach this machine. */
  readonly host: string;
  readonly allowLocalPlaces: boolean;
  /** What encoding takes on this machine. */
  readonly cost: EncodeCost;
  readonly log: Logger;
  changed(): void;
  slate(wants: IngestWants): Promise<Slate | null>;
}

/** The outside pictures of a show, and which of them is the programme. */
export class ShowInputs {
  private readonly sources = new Map<string, InputSource>();
  private readonly stills = new Stills();
  private readonly lines = new Map<string, SrtLine>();

  constructor(
    private readonly choice: SourceChoice,
    private readonly house: ShowInputsHouse,
  ) {}

  /** All that the show may have. Asked again with the same, nothing changes. */
  book({ inputs, wants }: InputsRequest): void {
    const ids = new Set(inputs.map(({ inputId }) => inputId));
    for (const inputId of this.sources.keys()) if (!ids.has(inputId)) this.remove(inputId);
    for (const booking of inputs) {
      const known = this.sources.get(booking.inputId);
      if (known) {
        known.input.book(booking, wants);
        continue;
      }
      const source = new InputSource(booking, wants, this.choice.gate(booking.inputId), {
        ...this.house,
        arrived: (inputId) => this.take(inputId),
      });
      this.sources.set(booking.inputId, source);
      this.choice.connect(booking.inputId, source);
    }
    for (const { inputId, srt } of inputs) this.open(inputId, srt);
    this.house.changed();
  }

  find(inputId: string): Input | null {
    return this.sources.get(inputId)?.input ?? null;
  }

  /**
   * It becomes the programme at its next keyframe. Null: the desk makes it again. One that is not known, or only for tests,
   * changes nothing.
   */
  take(inputId: string | null): void {
    if (inputId !== null && (this.find(inputId)?.isTestOnly ?? true)) return;
    this.choice.choose(inputId ?? DESK);
    this.settle();
    this.house.changed();
  }

  /** Another source has come on, or is to: what is on stays until the other's keyframe is there. */
  settle(): void {
    for (const [id, source] of this.sources)
      source.want(id === this.choice.choice || this.choice.isChosen(id));
  }

  /** The input that is the programme, or becomes it; null: the desk. */
  get taken(): string | null {
    return this.choice.choice === DESK ? null : this.choice.choice;
  }

  report(): InputReport[] {
    return [...this.sources].map(([id, source]) => source.report(this.choice.isChosen(id)));
  }

  /** The last picture of an input, JPEG; null: there is none. */
  async still(inputId: string): Promise<Buffer | null> {
    const keyframe = this.find(inputId)?.lastKeyframe;
    return keyframe ? this.stills.of(inputId, keyframe) : null;
  }

  private open(inputId: string, srt: SrtBooking | null): void {
    const known = this.lines.get(inputId);
    const input = this.find(inputId);
    if (isDeepStrictEqual(known?.booking ?? null, srt)) return;
    known?.close();
    this.lines.delete(inputId);
    input?.callFailed(null);
    if (srt && input) this.lines.set(inputId, new SrtLine(input, srt, this.house));
  }

  /** For the end of the process. */
  close(): void {
    for (const line of this.lines.values()) line.close();
  }

  private remove(inputId: string): void {
    this.open(inputId, null);
    this.sources.delete(inputId);
    this.choice.remove(inputId);
    this.stills.forget(inputId);
  }
}
