import type { FeedReport } from '@juncta/contract/relay';
import { randomUUID } from 'node:crypto';
import { chatWriter, viewerNote } from '../chat/schema';
import { addMessages } from '../chat/ingest/written-store';
import type { Transaction } from '../database/connect';
import { viewerDelayMs, type Kind } from '../destinations/connectors';
import { changeListing } from '../listings/store';
import { feed } from '../feeds/schema';
import { run } from '../programme/schema';

/** What the finished show left: its run, its feeds, and what viewers wrote. All made up, like everything in the demo. */
export const FINISHED_RUN = 'e1a2b3c4-5d6e-4f70-8a9b-0c1d2e3f4a01';

/** Seconds of the show, who, at which place, and what; `true`: the house. */
const WRITTEN: readonly (readonly [number, string, Kind, string, boolean?])[] = [
  [14, 'Ilse Vandermolen', 'emberplay', 'Good evening from the north coast'],
  [31, 'Casimir Oduya', 'kitefield', 'First time here, the picture is lovely'],
  [44, 'Odalys Brandt', 'kitefield', 'Welcome, everybody. Ask as we go', true],
  [45, 'Odalys Brandt', 'emberplay', 'Welcome, everybody. Ask as we go', true],
  [312, 'tarquin_b', 'emberplay', 'Is this year’s flour thirstier everywhere, or only here?'],
  [334, 'Rosalba Quint', 'kitefield', '¿La harina de este año pide más agua?'],
  [351, 'Hedvig Strand', 'kitefield', 'Braucht das Mehl dieses Jahr wirklich mehr Wasser?'],
  [702, 'loaf.at.dawn', 'emberplay', 'My rye is grey since September. Is that the drought?'],
  [1190, 'Amparo Lisle', 'kitefield', 'Could you hold the two handfuls side by side again?'],
  [1204, 'Teo Marchetti-Lunn', 'kitefield', 'She will, in a minute', true],
  [1715, 'knead2know', 'emberplay', 'We changed to 68 percent and it worked, thank you'],
  [2103, 'Matías Orellano', 'kitefield', '¿Y con centeno también?'],
  [2540, 'Beatrix Holm', 'kitefield', 'The worksheet from last week: https://loaf-notes.example/harvest'],
  [2988, 'Jorunn Petrak', 'emberplay', 'What does protein say about it, if anything?'],
  [3311, 'Fenna W.', 'emberplay', 'That explains my whole autumn'],
  [3460, 'Ilse Vandermolen', 'emberplay', 'Thank you both. See you next week'],
];
/** By the names that these viewers have at their places, so that they are known again when they come to the next show. */
const VIEWER_IDS: Partial<Record<Kind, Readonly<Record<string, string>>>> = {
  emberplay: {
    'Ilse Vandermolen': 'viewer-7',
    tarquin_b: 'viewer-8',
    'loaf.at.dawn': 'viewer-10',
    knead2know: 'viewer-2',
    'Jorunn Petrak': 'viewer-3',
    'Fenna W.': 'viewer-5',
  },
  kitefield: {
    'Casimir Oduya': 'viewer-3',
    'Rosalba Quint': 'viewer-0',
    'Hedvig Strand': 'viewer-2',
    'Amparo Lisle': 'viewer-4',
    'Matías Orellano': 'viewer-7',
    'Beatrix Holm': 'viewer-9',
  },
};
const NOTED = {
  kind: 'emberplay',
  name: 'knead2know',
  note: 'Runs a bakery two towns on. Kind, and knows a lot: worth bringing on air one day.',
  by: 'Ingrid Sauvage',
} as const;
const MOST_VIEWERS: Partial<Record<Kind, number>> = { kitefield: 214, emberplay: 131 };

export async function fillFinished(
  tx: Transaction,
  showId: string,
  startedAtMs: number,
  lengthMs: number,
  channels: readonly { readonly id: string; readonly kind: Kind }[],
): Promise<void> {
  const endedAt = startedAtMs + lengthMs;
  await tx.insert(run).values({ id: FINISHED_RUN, showId, startedAt: startedAtMs, endedAt });
  for (const { id: destinationId, kind } of channels) {
    const report: FeedReport = {
      destinationId,
      state: 'ended',
      sinceMs: endedAt,
      attempt: 0,
      reason: 'ended_by_us',
      placeSays: null,
      bitrateKbps: null,
      onAirMs: lengthMs - 4000,
      leftOutFrames: 0,
      still: null,
    };
    await tx.insert(feed).values({ showId, destinationId, wanted: false, report, reportedAt: endedAt });
    const mostViewers = MOST_VIEWERS[kind] ?? null;
    await changeListing(tx, showId, destinationId, { listingState: 'closed', mostViewers });
  }
  const seen = new Set<string>();
  const messages = WRITTEN.flatMap(([atS, name, kind, text, owner = false], i) => {
    const channel = channels.find((one) => one.kind === kind);
    if (!channel) return [];
    const writtenAt = startedAtMs + atS * 1000 + viewerDelayMs(kind, { latency: 'short' });
    const authorId = VIEWER_IDS[kind]?.[name] ?? `demo-${name}`;
    const first = !owner && !seen.has(`${kind} ${name}`);
    seen.add(`${kind} ${name}`);
    return {
      id: randomUUID(),
      showId,
      destinationId: channel.id,
      placeMessageId: `demo-${i}`,
      authorId,
      authorName: name,
      owner,
      first,
      text,
      writtenAt,
      receivedAt: writtenAt,
      showTimeMs: atS * 1000,
      replyToPlaceId: null,
      sentBy: null,
    };
  });
  await addMessages(tx, messages);
  const firsts = messages.filter(({ first }) => first);
  await tx.insert(chatWriter).values(
    firsts.map(({ destinationId, authorId, writtenAt }) => ({
      destinationId,
      authorId,
      showId,
      at: writtenAt,
    })),
  );
  const noted = channels.find(({ kind }) => kind === NOTED.kind);
  const authorId = VIEWER_IDS[NOTED.kind]?.[NOTED.name];
  if (noted && authorId !== undefined) {
    const { note, by } = NOTED;
    await tx.insert(viewerNote).values({ destinationId: noted.id, authorId, note, by, at: endedAt });
  }
}
