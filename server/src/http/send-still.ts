import type { ServerResponse } from 'node:http';
import { notFound } from './errors';

/** Answers with a picture of what comes in or goes out just now. */
export function sendStill(res: ServerResponse, jpeg: Buffer | null): void {
  if (!jpeg) throw notFound('picture');
  res.setHeader('Content-Type', 'image/jpeg');
  res.setHeader('Cache-Control', 'private, no-store');
  res.end(jpeg);
}
