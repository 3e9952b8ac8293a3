import type { ExportedMessage } from '../list/export-chat';
import { isWritten } from '../list/kinds';
import { FloodWatch } from '../floods/flood';
import { ChatMemory, judge, type ChatRule, type LanguageOf, type RuleAction, type RuleKind } from './rules';

/** What rules, and the watch for floods, would have made of messages. */
export interface Trial {
  readonly messages: number;
  readonly caught: readonly {
    readonly kind: RuleKind;
    readonly action: RuleAction;
    readonly author: string;
    readonly text: string;
  }[];
  /** Show or world time at which each flood would have been noticed, ms, and how many it had. */
  readonly floods: readonly { readonly atMs: number; readonly messages: number; readonly sample: string }[];
}

/**
 * In the order of writing, as they would have come. What the house wrote is left out, and so is what places told.
 *
 * @param rules with destinations called as they are in the messages
 */
export function tryRules(
  messages: readonly ExportedMessage[],
  rules: readonly ChatRule[],
  languageOf: LanguageOf,
): Trial {
  const [memory, watch] = [new ChatMemory(), new FloodWatch()];
  const caught: Trial['caught'][number][] = [];
  const floods: { atMs: number; messages: number; sample: string }[] = [];
  const viewers = messages
    .filter(({ owner, kind }) => !owner && isWritten(kind))
    .sort((a, b) => a.writtenAtMs - b.writtenAtMs);
  let on = false;
  viewers.forEach(({ destination, author: name, text, writtenAtMs, accountDays }, i) => {
    const author = `${destination} ${name}`;
    const message = { author, destination, text, writtenAtMs, accountDays };
    const rule = judge(message, memory, rules, languageOf);
    memory.note(message);
    if (rule) caught.push({ kind: rule.kind, action: rule.action, author: name, text });
    const taken = watch.take([{ id: String(i), author, text, atMs: writtenAtMs }]).length;
    if (taken === 0) {
      if (on) on = watch.look(writtenAtMs) !== null;
      return;
    }
    if (on) floods.at(-1)!.messages += taken;
    else floods.push({ atMs: writtenAtMs, messages: taken, sample: watch.current?.samples[0] ?? text });
    on = true;
  });
  return { messages: viewers.length, caught, floods };
}
