import type { ErrorBody } from '@juncta/contract/errors';
import { defer, retry, throwError, timer, type Observable } from 'rxjs';
import { nobodyThere } from '../api/api';

/** So long an order is given again when nobody took it: a server or a relay that died is back by then. */
export const ORDER_PATIENCE_MS = 20_000;
const AGAIN_MS = 1000;

/**
 * Gives an order until somebody takes it, or refuses it, or {@link ORDER_PATIENCE_MS} have gone by. Only for orders that
 * may be given twice: the one that got no answer may have been carried out.
 *
 * @param waiting is called each time that nobody was there
 */
export function insisting<T>(order: Observable<T>, waiting: () => void): Observable<T> {
  return defer(() => {
    const untilMs = Date.now() + ORDER_PATIENCE_MS;
    return order.pipe(
      retry({
        delay: (error: ErrorBody) => {
          if (!nobodyThere(error) || Date.now() > untilMs) return throwError(() => error);
          waiting();
          return timer(AGAIN_MS);
        },
      }),
    );
  });
}
