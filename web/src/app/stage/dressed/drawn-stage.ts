import type { Dressing } from '@juncta/core/dressing';
import type { BoxLine, Slate, Stage } from '@juncta/core/stage';
import { imagesOf, type CardOf, type ComposerMessage, type DrawnBackdrop, type Setting } from '../messages';
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

/** What a place told of followers or sales, on the programme. */
export interface NoticeOnProgramme {
  readonly heading: string;
  readonly text: string;
  readonly forMs: number;
}

/** Keeps what is composed as the stage is, and dressed as the show is: what changed is drawn, and handed over. */
export class DrawnStage {
  private chatLines: readonly BoxLine[] = [];
  private graphicsGiven = '';
  private slateGiven: Slate | null = null;
  private dressingGiven: Dressing | null = null;

  constructor(
    private readonly drawing: ShowDrawing,
    private readonly composer: ComposerSide,
  ) {}

  /** What a composer begins with. It is given the graphics as soon as it has begun. */
  start(): { readonly backdrop: DrawnBackdrop; readonly slate: ImageBitmap; readonly setting: Setting } {
    this.dressingGiven = this.drawing.dressing();
    const { drawing } = this;
    return {
      backdrop: drawing.backdrop(),
      slate: this.drawSlate(),
      setting: drawing.setting(this.composer.stage()),
    };
  }

  follow({ graphics, slate }: Stage): void {
    this.giveSetting();
    if (slate !== this.slateGiven) this.giveSlate();
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
    this.composer.tell({ type: 'backdrop', backdrop }, [backdrop.image]);
    this.giveSlate();
    this.giveSetting();
    this.giveGraphics();
  }

  giveSlate(): void {
    if (!this.composer.composes()) return;
    const slate = this.drawSlate();
    this.composer.tell({ type: 'slate', slate }, [slate]);
  }

  private drawSlate(): ImageBitmap {
    const stage = this.composer.stage();
    this.slateGiven = stage.slate;
    return this.drawing.slate(stage);
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
    this.showChat(this.chatLines, false);
  }

  /**
   * Viewers' messages in the picture from now on, the newest last.
   *
   * @param isCut what is not among them may not be seen any longer
   */
  showChat(lines: readonly BoxLine[], isCut: boolean): void {
    this.chatLines = lines;
    if (!this.composer.composes()) return;
    const entries = this.drawing.chatEntries(lines, this.composer.stage());
    const images = entries.map(({ image }) => image);
    this.composer.tell({ type: 'chat_entries', entries, isCut }, images);
  }

  /** Null takes it off. */
  showMessage(message: MessageOnProgramme | null): void {
    this.showCard('message', message, ({ author, place, text }) =>
      this.drawing.messageCard(author, place, text),
    );
  }

  /** Null takes it off. */
  showNotice(notice: NoticeOnProgramme | null): void {
    this.showCard('notice', notice, ({ heading, text }) => this.drawing.noticeCard(heading, text));
  }

  private showCard<C extends { readonly forMs: number }>(
    of: CardOf,
    shown: C | null,
    drawIt: (shown: C) => ImageBitmap,
  ): void {
    if (!this.composer.composes()) return;
    const card = shown && { image: drawIt(shown), forMs: shown.forMs };
    this.composer.tell({ type: 'card', of, card }, card ? [card.image] : []);
  }
}
