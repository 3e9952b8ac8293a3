import eld from 'eld/extrasmall';
import type { LanguageOf } from './rules';

/** Fewer letters than this say too little: names, greetings and dishes are the same in many languages. */
const LEAST_LETTERS = 16;

/**
 * By the frequency of short runs of letters. Only what it is sure of counts: a message that is taken for another
 * language by mistake waits for a person for nothing.
 */
export const languageOf: LanguageOf = (text) => {
  // Addresses and names of others are in no language.
  const words = text.replace(/https?:\/\/\S+|[@#]\S+/g, ' ');
  if ((words.match(/\p{L}/gu) ?? []).length < LEAST_LETTERS && !IDEOGRAMS.test(words)) return null;
  const found = eld.detect(words);
  return found.isReliable() && found.language !== '' ? found.language : null;
};

/** A few of these are a sentence. */
const IDEOGRAMS = /[\p{sc=Han}\p{sc=Hiragana}\p{sc=Katakana}\p{sc=Hangul}]{4}/u;
