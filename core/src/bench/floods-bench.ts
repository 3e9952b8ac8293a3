import { scoreHours } from '../chat/floods/labelled-hours';

/** How well floods are told from what is none, in hours made for it. Prints its figures as one line of JSON. */
const round = (share: number) => Math.round(share * 1000) / 1000;

const startedMs = performance.now();
const { precision, recall, messages } = scoreHours();
const tookMs = performance.now() - startedMs;
console.log(
  JSON.stringify({
    precision: round(precision),
    recall: round(recall),
    messages,
    usPerMessage: round((tookMs * 1000) / messages),
  }),
);
