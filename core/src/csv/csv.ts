import * as library from 'papaparse';

// In Node.js it is a CommonJS module, in a bundle an ES one.
const loaded: typeof library & { readonly default?: typeof library } = library;

/** The reader and the writer of tables by RFC 4180. */
export const { parse, unparse } = loaded.default ?? loaded;

/**
 * What a spreadsheet would run: text that begins like this is written with an apostrophe before it. The library's own
 * pattern does not see it in text of several lines.
 */
export const FORMULA = /^[=+\-@\t\r]/;
