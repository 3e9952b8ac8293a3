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
  readonly kind: string;
  readonly deleted: boolean;
  readonly hidden?: boolean;
}

/**
 * The console of one stand-in place: what came, what is written, and misfortune.
 *
 * @param dataDir of the house whose place it is; missing: of the one that all tests share
 */
export function placeAt(name: 'emberplay' | 'kitefield' | 'porchway' | 'guildroad', dataDir?: string) {
  const ask = async (method: string, path: string, body?: object) => {
    // A connection of its own: one that was kept would be closed over there while media is looked into here.
    const headers = { 'Content-Type': 'application/json', Connection: 'close' };
    const init = body ? { body: JSON.stringify(body) } : {};
    const response = await fetch(`${addresses(dataDir)[name]}/console${path}`, { method, headers, ...init });
    expect(response.ok).toBe(true);
    return response.json() as Promise<unknown>;
  };
  const arrivals = async () => (await ask('GET', '/arrivals')) as Arrived[];
  return {
    arrivals,
    lastArrival: async () => (await arrivals()).at(-1)!,
    /** What is written there; at an event site in the newest event. */
    chat: async () => ((await ask('GET', '/chat')) as { messages: Written[] }).messages,
    /** Who is banned there, and who may write how often. */
    chatControl: async () =>
      (await ask('GET', '/chat')) as { banned: string[]; rules: { slow_s: number; followers_only: boolean } },
    /** Many messages on command; settles when all are written. */
    flood: (request: {
      kind: 'copies' | 'one' | 'talk';
      per_s: number;
      seconds: number;
      writers: number;
      says?: string;
    }) => ask('POST', '/chat/flood', request),
    say: async (by: string, text: string) => (await ask('POST', '/chat', { name: by, text })) as Written,
    /** As `say`, with what the place shows of a writer, or of a kind of its own. */
    tell: async (told: {
      name: string;
      text: string;
      kind?: 'message' | 'private' | 'follow' | 'sale';
      badges?: string[];
      account_days?: number;
    }) => (await ask('POST', '/chat', told)) as Written,
    /** Its writer changes a message, or takes it back. */
    edit: (id: string, text: string) => ask('PUT', `/chat/${id}`, { text }),
    takeBack: (id: string) => ask('DELETE', `/chat/${id}`),
    /** How far viewers are behind from now on. */
    setBehind: (behind: { delayS: number } | { moreS: number }) => ask('PUT', '/behind', behind),
    react: (kind: string, times: number) => ask('POST', '/chat/reactions', { kind, times }),
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
