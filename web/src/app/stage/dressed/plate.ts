import type { Dressing, Manner } from '@juncta/core/dressing';
import { wrap, type Size } from '@juncta/core/stage';
import { headingFont, textFont, type Context } from './paper';

/** A heading and what stands beneath it, as on a lower third or a message card. */
export interface PlateWords {
  readonly heading: string;
  /** May be empty. */
  readonly text: string;
  /** The most lines of the text. */
  readonly lines: number;
  /** So much room at its end is for something else, px. */
  readonly keptFree?: number;
}

/** Where words stand on a plate, and in which colours; shares of its width and height. */
interface Field {
  readonly left: number;
  readonly right: number;
  readonly headingOn: 'paper' | 'accent' | 'ground';
  readonly textOn: 'paper' | 'accent' | 'ground';
}

const FIELDS: Readonly<Record<Manner, Field>> = {
  slab: { left: 0.04, right: 0.04, headingOn: 'paper', textOn: 'paper' },
  rail: { left: 0.06, right: 0.16, headingOn: 'ground', textOn: 'ground' },
  steps: { left: 0.04, right: 0.04, headingOn: 'paper', textOn: 'accent' },
  cut: { left: 0.04, right: 0.12, headingOn: 'paper', textOn: 'paper' },
};

/** Draws a plate that fills this size. Gives where what is kept free begins, px from its left. */
export function paintPlate(context: Context, dressing: Dressing, size: Size, words: PlateWords): number {
  const { manner, faces } = dressing;
  GROUNDS[manner](context, dressing, size, words);
  const { width, height } = size;
  const { left, right, headingOn, textOn } = FIELDS[manner];
  const end = Math.floor(width * (1 - right * END) - (words.keptFree ?? 0));
  const x = Math.max(10, width * left);
  const room = words.keptFree ? end - x - width * left : width * (1 - left - right);
  context.textBaseline = 'middle';
  context.font = headingFont(faces, height * headingShare(words));
  context.fillStyle = wordsOn(headingOn, dressing);
  context.fillText(words.heading, x, height * headingMiddle(words), room);
  if (words.text === '') return end;
  const px = height * textShare(words);
  context.font = textFont(faces, px);
  context.fillStyle = wordsOn(textOn, dressing);
  const lines = wrap(words.text, words.lines, (line) => context.measureText(line).width <= room);
  lines.forEach((line, i) => context.fillText(line, x, height * firstLine(words) + i * px * LEADING, room));
  return end;
}

/** Of the room at a plate's end that words leave free: what stands there may use half of it. */
const END = 0.5;

const LEADING = 1.12;
const headingShare = ({ text, lines }: PlateWords): number => (text === '' ? 0.54 : lines > 1 ? 0.19 : 0.42);
const headingMiddle = ({ text, lines }: PlateWords): number => (text === '' ? 0.5 : lines > 1 ? 0.18 : 0.33);
const textShare = ({ lines }: PlateWords): number => (lines > 1 ? 0.18 : 0.25);
const firstLine = ({ lines }: PlateWords): number => (lines > 1 ? 0.455 : 0.76);
/** Where the text begins, of the plate's height: what stands below is a field of its own. */
const textTop = ({ lines }: PlateWords): number => (lines > 1 ? 0.31 : 0.6);

function wordsOn(on: Field['headingOn'], { palette }: Dressing): string {
  if (on === 'ground') return palette.paper;
  return on === 'paper' ? palette.ink : palette.paper;
}

type Paint = (context: Context, dressing: Dressing, size: Size, words: PlateWords) => void;

const GROUNDS: Readonly<Record<Manner, Paint>> = {
  slab(context, { palette }, { width, height }) {
    fill(context, palette.paper, 0, 0, width, height);
    fill(context, palette.accent, 0, height * 0.94, width, height * 0.06);
  },
  rail(context, { palette }, { width, height }) {
    // A shade rather than a plate: the picture goes on behind it.
    const shade = context.createLinearGradient(0, 0, width, 0);
    shade.addColorStop(0, `${palette.ground}f0`);
    shade.addColorStop(0.84, `${palette.ground}d8`);
    shade.addColorStop(1, `${palette.ground}00`);
    context.fillStyle = shade;
    context.fillRect(0, 0, width, height);
    fill(context, palette.accent, 0, 0, Math.max(4, height * 0.08), height);
  },
  steps(context, { palette }, { width, height }, words) {
    if (words.text === '') {
      fill(context, palette.paper, 0, 0, width, height);
      return;
    }
    const top = height * textTop(words);
    fill(context, palette.paper, 0, 0, width, top);
    fill(context, palette.accent, 0, top, words.lines > 1 ? width : width * 0.82, height - top);
  },
  cut(context, { palette }, { width, height }) {
    context.fillStyle = palette.paper;
    context.beginPath();
    context.moveTo(0, 0);
    context.lineTo(width, 0);
    context.lineTo(width - Math.min(height * 0.6, width * 0.1), height);
    context.lineTo(0, height);
    context.fill();
    fill(context, palette.accent, 0, 0, width, height * 0.07);
  },
};

function fill(context: Context, colour: string, x: number, y: number, width: number, height: number): void {
  context.fillStyle = colour;
  context.fillRect(x, y, width, height);
}
