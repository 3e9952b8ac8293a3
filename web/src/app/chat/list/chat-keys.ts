/** The keys of the keyboard that work on the chosen message, as they come in a key event. */
export const PUT_KEY = 'm';
export const ANSWER_KEY = 'a';
/** Lines the chosen message up as a question. */
export const QUESTION_KEY = 'q';
/** Sets it aside. */
export const ASIDE_KEY = 'h';
/** Into the field to write to all. */
export const WRITE_KEY = 'w';
