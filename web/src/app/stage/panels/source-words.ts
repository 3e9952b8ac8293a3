import { nameOf, type SourceId } from '@juncta/core/stage';
import { stageTexts } from '../stage.texts';

/**
 * A source in words, as whoever drives a desk would say it.
 *
 * @param names of the people of the show, by their ids in it
 */
export function wordsOf(source: SourceId, names: ReadonlyMap<string, string>): string {
  const { kind, owner, number } = nameOf(source);
  const name = names.get(owner) ?? stageTexts.thisDesk;
  const words = kind === 'screen' ? stageTexts.screenOf(name) : stageTexts.cameraOf(name);
  return number === 1 ? words : stageTexts.sourceNumber(words, number);
}
