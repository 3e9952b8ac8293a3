import type { Config } from '../config';

const PATIENCE_MS = 3000;

/**
 * Asks the start command to kill one of the house's processes, which it then brings back: for drills. False: there is
 * no start command that could be asked, or it did not.
 */
export async function killProcess(
  supervisor: Config['supervisor'],
  name: 'janus' | 'database',
): Promise<boolean> {
  if (!supervisor) return false;
  try {
    const response = await fetch(`${supervisor.url}/kill/${name}`, {
      method: 'POST',
      headers: { Authorization: `Bearer ${supervisor.secret}` },
      signal: AbortSignal.timeout(PATIENCE_MS),
    });
    return response.ok;
  } catch {
    return false;
  }
}
