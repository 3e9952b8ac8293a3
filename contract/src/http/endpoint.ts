import type { Right } from '@juncta/core/team';
import type { ZodMiniType, output, input } from 'zod/mini';

/**
 * Who may call an endpoint. Every endpoint says it, the server refuses to mount one that does not, and there
 * is no other place where access is decided.
 */
export type Access =
  /** Anybody on the network. Such an endpoint is always limited in its rate. */
  | { readonly kind: 'public' }
  /** Whoever is signed in as a member of the team. */
  | { readonly kind: 'member' }
  /** A member whose role has the right. */
  | { readonly kind: 'right'; readonly right: Right }
  /** A guest who came by a personal link. */
  | { readonly kind: 'guest' };

export const anybody: Access = { kind: 'public' };
export const member: Access = { kind: 'member' };
export const guest: Access = { kind: 'guest' };
export const right = (needed: Right): Access => ({ kind: 'right', right: needed });

export type Method = 'GET' | 'POST' | 'PUT' | 'DELETE';

export interface Endpoint<
  P extends ZodMiniType = ZodMiniType,
  B extends ZodMiniType = ZodMiniType,
  R extends ZodMiniType = ZodMiniType,
> {
  readonly method: Method;
  /** From the root, with `:name` for each field of `params`. */
  readonly path: `/api/${string}`;
  readonly access: Access;
  readonly params: P;
  readonly body: B;
  readonly response: R;
}

export type Params<E extends Endpoint> = output<E['params']>;
export type Body<E extends Endpoint> = output<E['body']>;
/** What a client sends: before defaults and clean-up. */
export type BodyInput<E extends Endpoint> = input<E['body']>;
export type Response<E extends Endpoint> = output<E['response']>;

/** One request of the application: what goes in, what comes out, who may. Both sides take their types from it. */
export function endpoint<P extends ZodMiniType, B extends ZodMiniType, R extends ZodMiniType>(
  definition: Endpoint<P, B, R>,
): Endpoint<P, B, R> {
  return definition;
}
