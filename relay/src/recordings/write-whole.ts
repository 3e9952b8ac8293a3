import type { FileHandle } from 'node:fs/promises';

/**
 * Writes all of it or fails. A disk that is almost full may take the first part of a write and say nothing.
 *
 * @param position where in the file; missing: at its end
 * @returns how many bytes that were
 */
export async function writeWhole(
  file: FileHandle,
  parts: readonly Uint8Array[],
  position?: number,
): Promise<number> {
  const bytes = parts.reduce((sum, part) => sum + part.length, 0);
  const { bytesWritten } = await file.writev([...parts], position);
  if (bytesWritten < bytes)
    throw Object.assign(new Error(`the disk took ${bytesWritten} of ${bytes} bytes`), { code: 'ENOSPC' });
  return bytes;
}
