/** A bitmap of one colour or shade, a little of it see-through if wanted, as the cards' edges are. */
export function bitmap(width: number, height: number, paint: string | CanvasGradient): ImageBitmap {
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d')!;
  context.fillStyle = paint;
  context.fillRect(0, 0, width, height);
  return canvas.transferToImageBitmap();
}

/** A camera's frame of one colour. To be closed by whoever asked for it. */
export function frame(colour: string): VideoFrame {
  const canvas = new OffscreenCanvas(64, 36);
  const context = canvas.getContext('2d', { alpha: false })!;
  context.fillStyle = colour;
  context.fillRect(0, 0, 64, 36);
  return new VideoFrame(canvas, { timestamp: 0 });
}
