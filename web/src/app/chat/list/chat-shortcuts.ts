import type { Shortcut } from '../../keyboard/keyboard';
import { ANSWER_KEY, ASIDE_KEY, PUT_KEY, QUESTION_KEY, WRITE_KEY } from './chat-keys';
import type { ChatPanel } from './chat-panel';

/** What the keys do with the messages, at the desk and on a screen of their own. */
export const chatShortcuts = (panel: () => ChatPanel | undefined): readonly Shortcut[] => [
  { keys: [PUT_KEY], act: () => panel()?.putChosen() },
  { keys: [QUESTION_KEY], act: () => panel()?.lineUpChosen() },
  { keys: [ASIDE_KEY], act: () => panel()?.setAsideChosen() },
  { keys: [ANSWER_KEY], act: () => panel()?.answerChosen() },
  { keys: [WRITE_KEY], act: () => panel()?.focusWriter() },
  { keys: ['ArrowUp'], act: () => panel()?.step(-1), repeats: true },
  { keys: ['ArrowDown'], act: () => panel()?.step(1), repeats: true },
];
