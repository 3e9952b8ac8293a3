import { FORMULA, unparse } from '../../csv/csv';
import { vttText, vttTime } from '../../marks';
import { formatShowTime } from '../../programme';
import type { MessageKind, QuestionState, Standing } from './kinds';

/** One message as it leaves the house in a file. */
export interface ExportedMessage {
  /** ms from the start of the show; null: written before the picture or after it. */
  readonly showTimeMs: number | null;
  readonly writtenAtMs: number;
  readonly destination: string;
  readonly author: string;
  /** Written by the house itself. */
  readonly owner: boolean;
  readonly text: string;
  /** Whether the house shows it, keeps it for a person, or hides it. */
  readonly standing: Standing;
  readonly question: QuestionState;
  readonly kind: MessageKind;
  /** Its writer took it back. */
  readonly takenBack: boolean;
  /** Age of the writer's account, days; null: not known. */
  readonly accountDays: number | null;
}

/** Whether anybody but the team may see it. */
const isPublic = ({ standing, kind, takenBack }: ExportedMessage): boolean =>
  standing === 'shown' && kind !== 'private' && !takenBack;

const HEAD = [
  'show_time',
  'written_at',
  'destination',
  'author',
  'by_the_house',
  'standing',
  'question',
  'kind',
  'taken_back',
  'text',
];

/** CSV by RFC 4180, UTF-8 with a mark at its start, which spreadsheets need to see that it is. */
export function toCsv(messages: readonly ExportedMessage[]): string {
  const rows = messages.map(
    ({ showTimeMs, writtenAtMs, destination, author, owner, standing, question, kind, takenBack, text }) => [
      showTimeMs === null ? '' : formatShowTime(showTimeMs),
      new Date(writtenAtMs).toISOString(),
      destination,
      author,
      owner ? 'yes' : 'no',
      standing,
      question,
      kind,
      takenBack ? 'yes' : 'no',
      text,
    ],
  );
  return `\ufeff${unparse([HEAD, ...rows], { newline: '\r\n', escapeFormulae: FORMULA })}\r\n`;
}

/** JSON lines: one message a line, in the order of writing. */
export const toJsonLines = (messages: readonly ExportedMessage[]): string =>
  messages.map((message) => `${JSON.stringify(message)}\n`).join('');

/** Whatever a viewer calls themselves or writes: it begins no line of its own. */
const oneLine = (text: string): string => text.replace(/[\s\p{Cc}\p{Zl}\p{Zp}]+/gu, ' ');

/** For people: a line each, with show time. What is hidden, private or taken back is left out. */
export const toText = (messages: readonly ExportedMessage[]): string =>
  messages
    .filter((message) => message.standing !== 'hidden' && isPublic({ ...message, standing: 'shown' }))
    .map(({ showTimeMs, destination, author, text }) => {
      const time = showTimeMs === null ? '-:--:--' : formatShowTime(showTimeMs);
      return `${time}  ${oneLine(`${author} (${destination}): ${text}`)}\n`;
    })
    .join('');

/** A message stands so long beside the recording. */
const CUE_MS = 6000;

/** WebVTT (W3C): every message at the moment its writer was watching. Those without a show time are left out. */
export function toWebVtt(messages: readonly ExportedMessage[]): string {
  const cues = messages
    .filter((message) => message.showTimeMs !== null && isPublic(message))
    .sort((a, b) => a.showTimeMs! - b.showTimeMs!)
    .map(
      ({ showTimeMs, author, destination, text }) =>
        `${vttTime(showTimeMs!)} --> ${vttTime(showTimeMs! + CUE_MS)}\n` +
        `<v ${vttText(`${author} (${destination})`)}>${vttText(text)}`,
    );
  return `WEBVTT\n\n${cues.map((cue) => `${cue}\n\n`).join('')}`;
}
