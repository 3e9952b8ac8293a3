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

export interface Written {
  readonly id: string;
  readonly author: { readonly name: string; readonly owner: boolean };
  readonly text: string;
  readonly reply_to: string | null;
}

/** The console of one stand-in place: what came, what is written, and misfortune. */
function placeAt(name: 'emberplay' | 'kitefield' | 'porchway' | 'guildroad') {
  const ask = async (method: string, path: string, body?: object) => {
    // A connection of its own: one that was kept would be closed over there while media is looked into here.
    const headers = { 'Content-Type': 'application/json', Connection: 'close' };
    const init = body ? { body: JSON.stringify(body) } : {};
    const response = await fetch(`${addresses()[name]}/console${path}`, { method, headers, ...init });
    expect(response.ok).toBe(true);
    return response.json() as Promise<unknown>;
  };
  const arrivals = async () => (await ask('GET', '/arrivals')) as Arrived[];
  return {
    arrivals,
    lastArrival: async () => (await arrivals()).at(-1)!,
    /** What is written there; at an event site in the newest event. */
    chat: async () => ((await ask('GET', '/chat')) as { messages: Written[] }).messages,
    say: async (by: string, text: string) => (await ask('POST', '/chat', { name: by, text })) as Written,
    dropChat: () => ask('POST', '/chat/drop'),
    setFaults: (faults: object) => ask('PUT', '/faults', faults),
    cutLines: () => ask('POST', '/cut'),
    expireTokens: () => ask('POST', '/tokens/expire'),
    /** Newest last. */
    events: async () =>
      (await ask('GET', '/events')) as {
        id: string;
        state: string;
        page: string;
        settings: Record<string, unknown>;
        [word: string]: unknown;
      }[],
    /** Lets a place change what it allows without a word. */
    setRules: (rules: object) => ask('PUT', '/rules', rules),
    /** What the account's owner, or those who look after a circle, do over there. */
    setAccount: (account: object) => ask('PUT', '/account', account),
    revokeTokens: () => ask('POST', '/tokens/revoke'),
    setCategory: (category: string | null) => ask('PUT', '/category', { category }),
  };
}

export const emberplay = placeAt('emberplay');
export const kitefield = placeAt('kitefield');
export const porchway = placeAt('porchway');
export const guildroad = placeAt('guildroad');
export const { arrivals, lastArrival, setCategory, setFaults, cutLines } = emberplay;
