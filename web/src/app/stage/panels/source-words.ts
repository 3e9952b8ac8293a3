import { nameOf, type SourceId } from '@juncta/core/stage';
import { stageTexts } from '../stage.texts';

/**
 * A source in words, as whoever drives a desk would say it.
 *
 * @param names of whoever owns sources: see `SourceNames`
 */
export function wordsOf(source: SourceId, names: ReadonlyMap<string, string>): string {
  const { kind, owner, number } = nameOf(source);
  if (kind === 'outside') return names.get(owner) ?? stageTexts.outsidePicture;
  const name = names.get(owner) ?? stageTexts.thisDesk;
  const words = kind === 'screen' ? stageTexts.screenOf(name) : stageTexts.cameraOf(name);
  return number === 1 ? words : stageTexts.sourceNumber(words, number);
}
