import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

setFlagsFromString('--expose-gc');

/** Lets go of all memory that nobody holds, now: what is held by too little is found that way. */
export const collectGarbage = runInNewContext('gc') as () => void;
