import type { DrillReport, DrillRequest } from '@juncta/contract/drill';
import type { Aired, ProgrammeHeads, ProgrammeSink } from '../programme/sink';
import { Drill, type DrillHouse } from './drill';

/** The drill of one show: the one that goes on, or the last one's report; over the deaths of this process. */
export class ShowDrill implements ProgrammeSink {
  private drill: Drill | null = null;
  /** One that this process, or the one before it, has begun. */
  private readonly takenUp: Promise<void>;

  constructor(
    private readonly file: string,
    private readonly heads: ProgrammeHeads,
    private readonly house: DrillHouse,
  ) {
    this.takenUp = Drill.takeUp(file, heads, house).then((drill) => {
      this.drill = drill;
    });
  }

  get goesOn(): boolean {
    return this.drill?.goesOn ?? false;
  }

  /** Begins one. Asked again while one goes on, nothing changes; one that is over is forgotten. */
  async begin(request: DrillRequest): Promise<void> {
    await this.takenUp;
    if (this.goesOn) return;
    this.drill?.forget();
    this.drill = await Drill.begin(request, this.file, this.heads, this.house);
    this.house.changed();
  }

  /** Of what a drill does; nothing where there is none. */
  async tell(act: (drill: Drill) => void): Promise<void> {
    await this.takenUp;
    if (this.drill) act(this.drill);
  }

  async report(): Promise<DrillReport | null> {
    await this.takenUp;
    return this.drill?.report() ?? null;
  }

  push({ tag }: Aired): void {
    this.drill?.push(tag);
  }

  tick(): void {
    this.drill?.tick(Date.now());
  }

  async close(): Promise<void> {
    await this.drill?.close();
  }
}
