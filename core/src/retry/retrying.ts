import type { RetryPolicy } from './backoff';

export interface Retrying {
  readonly policy: RetryPolicy;
  /** Whether waiting may mend what went wrong. */
  readonly mayRetry: (error: unknown) => boolean;
  readonly wait: (ms: number) => Promise<unknown>;
}

/** Does what may be repeated until it succeeds, its failure is one that waiting does not mend, or the policy gives up. */
export async function retrying<T>(act: () => Promise<T>, { policy, mayRetry, wait }: Retrying): Promise<T> {
  for (let attempt = 1; ; attempt++) {
    try {
      return await act();
    } catch (error) {
      const delayMs = mayRetry(error) ? policy.delayMs(attempt + 1) : null;
      if (delayMs === null) throw error;
      await wait(delayMs);
    }
  }
}
