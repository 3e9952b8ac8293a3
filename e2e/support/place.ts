import { addresses, expect } from './house';

/** What the stand-in place says has arrived. */
export interface Arrived {
  readonly id: string;
  readonly startedAtMs: number;
  readonly endedAtMs: number | null;
  readonly endedCleanly: boolean | null;
  readonly health: {
    readonly video: { codec: string; width: number; height: number } | null;
    readonly framesPerS: number;
    readonly kbps: number;
    readonly longestKeyframeS: number;
    readonly pictures: number;
    readonly gaps: { picture: number; sound: number; longestMs: number };
    readonly notRising: number;
    readonly formatChanges: number;
    readonly warnings: string[];
  };
  readonly received: string;
  readonly packets: string;
}

const console = async (method: string, path: string, body?: object) => {
  // A connection of its own: one that was kept would be closed over there while media is looked into here.
  const headers = { 'Content-Type': 'application/json', Connection: 'close' };
  const init = body ? { body: JSON.stringify(body) } : {};
  const response = await fetch(`${addresses().emberplay}/console${path}`, { method, headers, ...init });
  expect(response.ok).toBe(true);
  return response.json() as Promise<unknown>;
};

export const arrivals = async (): Promise<Arrived[]> => (await console('GET', '/arrivals')) as Arrived[];
export const lastArrival = async (): Promise<Arrived> => (await arrivals()).at(-1)!;
export const setCategory = (category: string | null) => console('PUT', '/category', { category });
export const setFaults = (faults: object) => console('PUT', '/faults', faults);
export const cutLines = () => console('POST', '/cut');
export const revokeTokens = () => console('POST', '/tokens/revoke');
