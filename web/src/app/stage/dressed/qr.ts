import makeQr from 'qrcode-generator';
import type { Context } from './paper';

/** Of modules on each side: without them readers do not find it (ISO/IEC 18004, 6.3.8). */
const QUIET = 4;

/** An address as a QR code (ISO/IEC 18004), dark on white whatever it stands on, in whole pixels, within a square. */
export function drawSquare(context: Context, address: string, x: number, y: number, side: number): void {
  const code = makeQr(0, 'M');
  code.addData(address);
  code.make();
  const modules = code.getModuleCount();
  const px = Math.max(1, Math.floor(side / (modules + 2 * QUIET)));
  const [left, top] = [x, y].map((from) => Math.round(from + (side - px * modules) / 2)) as [number, number];
  context.fillStyle = '#ffffff';
  context.fillRect(x, y, side, side);
  context.fillStyle = '#000000';
  for (let row = 0; row < modules; row++)
    for (let column = 0; column < modules; column++)
      if (code.isDark(row, column)) context.fillRect(left + column * px, top + row * px, px, px);
}
