import { fromJsonLines, tryRules, type ChatRule } from '@juncta/core/chat';
import { languageOf } from '@juncta/core/chat/language';

export interface TrialRequest {
  readonly file: string;
  readonly rules: readonly ChatRule[];
}
export interface TrialAnswer extends ReturnType<typeof tryRules> {
  /** Lines of the file that could not be read. */
  readonly unread: number;
  /** All that would have been caught; only some are told. */
  readonly all: number;
}

/** A file of a long show has hundreds of thousands of messages: the page must not stand still for them. */
addEventListener('message', ({ data: { file, rules } }: MessageEvent<TrialRequest>) => {
  const { messages, unread } = fromJsonLines(file);
  const trial = tryRules(messages, rules, languageOf);
  const caught = trial.caught.slice(0, MOST_TOLD);
  const answer: TrialAnswer = { ...trial, caught, all: trial.caught.length, unread };
  postMessage(answer);
});

const MOST_TOLD = 200;
