import type { SourceId } from '@juncta/core/stage';
import type { OutsideMessage, OutsideReport, RelayLine } from './messages';
import type { Fates } from './outside-player';

export interface OutsideWays {
  /** How the relay is reached; null: nothing is composed here. */
  line(): RelayLine | null;
  /** Whether its picture and its sound flow. Told now and then. */
  flows(source: SourceId, fates: Fates): void;
  /** The relay wants another ticket. */
  ticketRefused(): void;
  /** The relay says no otherwise; missing: nobody has to know, since its picture is not there. */
  refused?(source: SourceId, sentence: string): void;
}

/** The outside pictures that this desk receives: a worker of their own has the lines and the decoders. */
export class OutsideSources {
  private worker: Worker | null = null;
  private readonly inputs = new Map<SourceId, string>();

  constructor(private readonly ways: OutsideWays) {}

  /** The input that is received as this source; null: none is. */
  inputOf(source: SourceId): string | null {
    return this.inputs.get(source) ?? null;
  }

  /** @returns where its frames and its sound come out; null: nothing is composed here */
  receive(source: SourceId, inputId: string): MessagePort | null {
    const line = this.ways.line();
    if (!line) return null;
    this.worker ??= this.start();
    const { port1, port2 } = new MessageChannel();
    this.tell({ type: 'receive', source, inputId, line, port: port1 }, [port1]);
    this.inputs.set(source, inputId);
    return port2;
  }

  end(source: SourceId): void {
    if (this.inputs.delete(source)) this.tell({ type: 'end', source });
  }

  renew(line: RelayLine): void {
    this.tell({ type: 'line', line });
  }

  /** Lets go of everything. */
  letGo(): void {
    this.inputs.clear();
    this.worker?.terminate();
    this.worker = null;
  }

  private start(): Worker {
    const worker = new Worker(new URL('./outside.worker', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<OutsideReport>) => {
      if (worker !== this.worker) return;
      if (data.type === 'ticket') this.ways.ticketRefused();
      else if (!this.inputs.has(data.source)) return;
      else if (data.type === 'refused') this.ways.refused?.(data.source, data.sentence);
      else this.ways.flows(data.source, data);
    };
    return worker;
  }

  private tell(message: OutsideMessage, transfer: Transferable[] = []): void {
    this.worker?.postMessage(message, transfer);
  }
}
