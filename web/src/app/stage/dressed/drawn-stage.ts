import type { Dressing } from '@juncta/core/dressing';
import type { BoxLine, Stage } from '@juncta/core/stage';
import { imagesOf, type ComposerMessage, type Setting } from '../messages';
import { loadDressed } from './images';
import { imagesIn, type ShowDrawing } from './show-drawing';

export interface ComposerSide {
  /** Whether there is somebody to hand anything to. */
  composes(): boolean;
  tell(message: ComposerMessage, transfer: Transferable[]): void;
  stage(): Stage;
}

/** A viewer's message on the programme. */
export interface MessageOnProgramme {
  readonly author: string;
  readonly place: string;
  readonly text: string;
  /** Infinite: until it is taken off. */
  readonly forMs: number;
}

/** Keeps what is composed as the stage is, and dressed as the show is: what changed is drawn, and handed over. */
export class DrawnStage {
  private chatLines: readonly BoxLine[] = [];
  private graphicsGiven = '';
  private dressingGiven: Dressing | null = null;

  constructor(
    private readonly drawing: ShowDrawing,
    private readonly composer: ComposerSide,
  ) {}

  /** What a composer begins with. It is given the graphics as soon as it has begun. */
  start(): { readonly backdrop: ImageBitmap; readonly slate: ImageBitmap; readonly setting: Setting } {
    this.dressingGiven = this.drawing.dressing();
    const { drawing } = this;
    return {
      backdrop: drawing.backdrop(),
      slate: drawing.slate(),
      setting: drawing.setting(this.composer.stage()),
    };
  }

  follow({ graphics }: Stage): void {
    this.giveSetting();
    // Any change of the stage brings others that are the same.
    if (JSON.stringify(graphics) !== this.graphicsGiven) this.giveGraphics();
  }

  /** Viewers see another dressing at once; the relay gets another slate. */
  async dress(dressing: Dressing): Promise<void> {
    await loadDressed(dressing);
    if (!this.composer.composes() || this.drawing.dressing() !== dressing) return;
    if (dressing === this.dressingGiven) return;
    this.dressingGiven = dressing;
    const backdrop = this.drawing.backdrop();
    this.composer.tell({ type: 'backdrop', backdrop }, [backdrop]);
    this.giveSlate();
    this.giveSetting();
    this.giveGraphics();
  }

  giveSlate(): void {
    if (!this.composer.composes()) return;
    const slate = this.drawing.slate();
    this.composer.tell({ type: 'slate', slate }, [slate]);
  }

  giveSetting(): void {
    if (!this.composer.composes()) return;
    const setting = this.drawing.setting(this.composer.stage());
    this.composer.tell({ type: 'setting', setting }, imagesIn(setting));
  }

  giveGraphics(): void {
    if (!this.composer.composes()) return;
    const stage = this.composer.stage();
    this.graphicsGiven = JSON.stringify(stage.graphics);
    const graphics = this.drawing.graphics(stage);
    this.composer.tell({ type: 'graphics', graphics }, imagesOf(graphics));
    // They stand on another ground, perhaps, or have another width.
    this.showChat(this.chatLines);
  }

  /** Viewers' messages in the picture from now on, the newest last. */
  showChat(lines: readonly BoxLine[]): void {
    this.chatLines = lines;
    if (!this.composer.composes()) return;
    const entries = this.drawing.chatEntries(lines, this.composer.stage());
    this.composer.tell({ type: 'chat_entries', entries }, entries);
  }

  /** Null takes it off. */
  showMessage(message: MessageOnProgramme | null): void {
    if (!this.composer.composes()) return;
    const card = message && {
      image: this.drawing.messageCard(message.author, message.place, message.text),
      forMs: message.forMs,
    };
    this.composer.tell({ type: 'message_card', card }, card ? [card.image] : []);
  }
}
