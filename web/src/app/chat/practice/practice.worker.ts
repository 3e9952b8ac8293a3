import { fromJsonLines, planPractice } from '@juncta/core/chat';

export interface PracticeRequest {
  readonly file: string;
  readonly destinations: readonly { readonly id: string; readonly name: string }[];
}
/** What a practice with a file would be, without its messages. */
export interface PracticeAnswer extends Omit<ReturnType<typeof planPractice>, 'lines'> {
  readonly messages: number;
  /** Lines of the file that could not be read. */
  readonly unread: number;
}

addEventListener('message', ({ data: { file, destinations } }: MessageEvent<PracticeRequest>) => {
  const { messages, unread } = fromJsonLines(file);
  const { lines, ...plan } = planPractice(messages, destinations);
  postMessage({ ...plan, messages: lines.length, unread } satisfies PracticeAnswer);
});
