import { PASSWORD_MAX, PASSWORD_MIN, ROLES } from '@juncta/core/team';
import { NAME_MAX } from '@juncta/core/shows';
import * as z from 'zod/mini';
import { anybody, endpoint, Id, InstantMs, line, member, Nothing, right } from '../http';

export const Role = z.enum(ROLES);

/** An address as sign-in name. Compared without regard to case, so kept in lower case. */
const Email = z.pipe(
  z.pipe(
    line(254),
    z.transform((text: string) => text.toLowerCase()),
  ),
  z.email(),
);

/** Never trimmed or changed: a blank at its end is part of a password. */
const NewPassword = z.string().check(z.minLength(PASSWORD_MIN), z.maxLength(PASSWORD_MAX));

/** 256 random bits in base64url. */
export const Token = z.string().check(z.regex(/^[A-Za-z0-9_-]{43}$/));

export const Member = z.object({ id: Id, name: z.string(), email: z.string(), role: Role });
export type Member = z.infer<typeof Member>;

/** Who is looking, as a page needs to know it. */
export const Session = z.object({
  /** Null: nobody is signed in. */
  member: z.nullable(Member),
  /** Whether this is a demo, with accounts that need no password. */
  demo: z.boolean(),
});
export type Session = z.infer<typeof Session>;

export const readSession = endpoint({
  method: 'GET',
  path: '/api/session',
  access: anybody,
  params: Nothing,
  body: Nothing,
  response: Session,
});

export const signIn = endpoint({
  method: 'POST',
  path: '/api/session',
  access: anybody,
  params: Nothing,
  body: z.object({ email: Email, password: z.string().check(z.minLength(1), z.maxLength(PASSWORD_MAX)) }),
  response: Session,
});

export const signOut = endpoint({
  method: 'DELETE',
  path: '/api/session',
  access: anybody,
  params: Nothing,
  body: Nothing,
  response: Session,
});

export const DemoAccount = z.object({ id: Id, name: z.string(), role: Role });
export type DemoAccount = z.infer<typeof DemoAccount>;

/** Empty, and as good as not there, unless the demo is on. */
export const listDemoAccounts = endpoint({
  method: 'GET',
  path: '/api/session/demo',
  access: anybody,
  params: Nothing,
  body: Nothing,
  response: z.object({ accounts: z.array(DemoAccount) }),
});

export const signInToDemo = endpoint({
  method: 'POST',
  path: '/api/session/demo',
  access: anybody,
  params: Nothing,
  body: z.object({ memberId: Id }),
  response: Session,
});

export const listTeam = endpoint({
  method: 'GET',
  path: '/api/team',
  access: right('team.read'),
  params: Nothing,
  body: Nothing,
  response: z.object({ members: z.array(Member) }),
});

/** Removes a member; every session of theirs ends at once. What they did keeps their name. */
export const removeMember = endpoint({
  method: 'DELETE',
  path: '/api/team/:memberId',
  access: right('team.manage'),
  params: z.object({ memberId: Id }),
  body: Nothing,
  response: Nothing,
});

/**
 * Gives a member another role. Every session of theirs ends, so that no open page goes on with rights that are gone.
 * Refused for oneself (`forbidden`): a team is never without a producer.
 */
export const changeRole = endpoint({
  method: 'PUT',
  path: '/api/team/:memberId/role',
  access: right('team.manage'),
  params: z.object({ memberId: Id }),
  body: z.object({ role: Role }),
  response: Member,
});

/**
 * Makes a link by which a member who cannot sign in sets a new password, once, within a day. One that was made before
 * is no good any more; their password and sessions stay as they are until the link is used.
 */
export const makePasswordLink = endpoint({
  method: 'POST',
  path: '/api/team/:memberId/password-link',
  access: right('team.manage'),
  params: z.object({ memberId: Id }),
  body: Nothing,
  response: z.object({ token: Token, expiresAtMs: InstantMs }),
});

/** Whose password a link sets. */
export const readPasswordLink = endpoint({
  method: 'POST',
  path: '/api/password-links/read',
  access: anybody,
  params: Nothing,
  body: z.object({ token: Token }),
  response: z.object({ name: z.string(), email: z.string(), expiresAtMs: InstantMs }),
});

/** Sets the password, ends every session of the member and starts one here. */
export const usePasswordLink = endpoint({
  method: 'POST',
  path: '/api/password-links/use',
  access: anybody,
  params: Nothing,
  body: z.object({ token: Token, password: NewPassword }),
  response: Session,
});

/** Makes a link by which one person can join the team, once, within three days. */
export const inviteMember = endpoint({
  method: 'POST',
  path: '/api/team/invitations',
  access: right('team.manage'),
  params: Nothing,
  body: z.object({ role: Role }),
  response: z.object({ token: Token, expiresAtMs: InstantMs }),
});

export const readInvitation = endpoint({
  method: 'POST',
  path: '/api/invitations/read',
  access: anybody,
  params: Nothing,
  body: z.object({ token: Token }),
  response: z.object({ role: Role, expiresAtMs: InstantMs }),
});

export const acceptInvitation = endpoint({
  method: 'POST',
  path: '/api/invitations/accept',
  access: anybody,
  params: Nothing,
  body: z.object({ token: Token, name: line(NAME_MAX), email: Email, password: NewPassword }),
  response: Session,
});

/** Changes one's own password and ends every other session of one's own. */
export const changePassword = endpoint({
  method: 'PUT',
  path: '/api/session/password',
  access: member,
  params: Nothing,
  body: z.object({
    current: z.string().check(z.minLength(1), z.maxLength(PASSWORD_MAX)),
    password: NewPassword,
  }),
  response: Nothing,
});
