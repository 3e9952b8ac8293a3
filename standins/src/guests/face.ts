/** A made-up person, drawn: who they are, how they look, and one picture of them at an instant. */
export const WIDTH = 640;
export const HEIGHT = 360;
export const FRAMES_PER_S = 12;

type Colour = readonly [number, number, number];
export interface Look {
  readonly name: string;
  readonly ground: Colour;
  readonly coat: Colour;
  readonly skin: Colour;
  readonly hair: Colour;
}

/** The four there are. Their grounds are far apart, so that each can be told in a composed picture. */
export const GUESTS: readonly Look[] = [
  {
    name: 'Benedikt Achterberg',
    ground: [38, 92, 84],
    coat: [196, 156, 84],
    skin: [226, 180, 148],
    hair: [70, 48, 36],
  },
  {
    name: 'Soraya Quillfeather',
    ground: [126, 64, 52],
    coat: [42, 58, 92],
    skin: [164, 112, 78],
    hair: [28, 22, 24],
  },
  {
    name: 'Tobiah Lindqvist-Mora',
    ground: [58, 70, 124],
    coat: [122, 46, 58],
    skin: [240, 206, 178],
    hair: [206, 172, 108],
  },
  {
    name: 'Yevgenia Ashdown',
    ground: [112, 104, 44],
    coat: [74, 104, 70],
    skin: [120, 82, 58],
    hair: [188, 184, 180],
  },
];

/** @param mouth how far it is open, 0 to 1 */
export function draw(look: Look, atS: number, mouth: number): Buffer {
  const picture = Buffer.alloc(WIDTH * HEIGHT * 3);
  for (let y = 0; y < HEIGHT; y++) {
    const light = 1 + 0.18 * (0.5 - y / HEIGHT);
    const row = Buffer.from(look.ground.map((part) => Math.min(255, Math.round(part * light))));
    picture.fill(row, y * WIDTH * 3, (y + 1) * WIDTH * 3);
  }
  const sway = 7 * Math.sin((2 * Math.PI * atS) / 6);
  const nod = 3 * Math.sin((2 * Math.PI * atS) / 4) + 3 * mouth;
  const [x, y] = [WIDTH / 2 + sway, 158 + nod];
  const oval = (dx: number, dy: number, rx: number, ry: number, colour: Colour, cut = 0) =>
    ellipse(picture, x + dx, y + dy, rx, ry, colour, cut);
  ellipse(picture, WIDTH / 2 + sway / 2, 392, 176, 142, look.coat);
  oval(0, 84, 32, 46, shade(look.skin, 0.86));
  oval(0, -16, 86, 104, look.hair);
  oval(0, 6, 72, 92, look.skin);
  oval(0, -66, 74, 34, look.hair, 0.35);
  // A blink every four seconds, a seventh of a second long.
  const open = atS % 4 < 0.14 ? 1.5 : 8;
  for (const side of [-28, 28]) {
    oval(side, -6, 13, open, [250, 250, 248]);
    oval(side + sway / 4, -6, Math.min(6, open), Math.min(6, open), [30, 26, 24]);
    oval(side, -26, 15, 3, look.hair);
  }
  oval(0, 20, 6, 12, shade(look.skin, 0.88));
  oval(0, 52, 24, 3 + 13 * mouth, [110, 38, 40]);
  return picture;
}

const shade = (colour: Colour, by: number): Colour => [colour[0] * by, colour[1] * by, colour[2] * by];

/** @param cut how much of its lower part is left out, 0 to 1 */
function ellipse(
  picture: Buffer,
  cx: number,
  cy: number,
  rx: number,
  ry: number,
  colour: Colour,
  cut = 0,
): void {
  const fill = Buffer.from(colour.map((part) => Math.max(0, Math.min(255, Math.round(part)))));
  const bottom = Math.min(HEIGHT - 1, Math.floor(cy + ry * (1 - 2 * cut)));
  for (let y = Math.max(0, Math.ceil(cy - ry)); y <= bottom; y++) {
    const half = rx * Math.sqrt(Math.max(0, 1 - ((y - cy) / ry) ** 2));
    const from = Math.max(0, Math.round(cx - half));
    const to = Math.min(WIDTH, Math.round(cx + half));
    if (to > from) picture.fill(fill, (y * WIDTH + from) * 3, (y * WIDTH + to) * 3);
  }
}
