/** The keys of the keyboard that work on the chosen message, as they come in a key event. */
export const PUT_KEY = 'm';
export const ANSWER_KEY = 'a';
/** Into the field to write to all. */
export const WRITE_KEY = 'w';
