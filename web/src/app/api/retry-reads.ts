import type { HttpInterceptorFn } from '@angular/common/http';
import { retry, throwError, timer } from 'rxjs';
import { errorBodyOf, nobodyThere } from './api';

/** Waits before each further try of a read, in ms: about ten seconds in all, a database's restart. */
const WAITS_MS = [300, 800, 1500, 3000, 5000];

/**
 * Reads are tried again when nothing answered, or the answer was "come back": they change nothing. Whatever does
 * change something is only sent again by whoever asked for it and knows that it may be done twice.
 */
export const retryReads: HttpInterceptorFn = (request, next) => {
  if (request.method !== 'GET') return next(request);
  return next(request).pipe(
    retry({
      delay: (error: unknown, attempt) => {
        const wait = WAITS_MS[attempt - 1];
        return nobodyThere(errorBodyOf(error)) && wait !== undefined ? timer(wait) : throwError(() => error);
      },
    }),
  );
};
