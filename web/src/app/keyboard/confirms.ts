/** Whether Enter means that a text is finished: an input method takes it for itself while it puts a character together. */
export const confirms = (event: Event): boolean => !(event instanceof KeyboardEvent && event.isComposing);
