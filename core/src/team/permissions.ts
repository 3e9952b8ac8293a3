/**
 * Who may do what. This table is the only place where it is decided: the server refuses by it on every
 * request, and the web hides or explains by it.
 */

export const ROLES = ['producer', 'host', 'moderator'] as const;
export type Role = (typeof ROLES)[number];

/** A member of the team, or a guest who came by a personal link and belongs to one show. */
export type Actor =
  | { readonly kind: 'member'; readonly memberId: string; readonly role: Role }
  | { readonly kind: 'guest'; readonly showId: string };

const RIGHTS = {
  'shows.read': ['producer', 'host', 'moderator'],
  'shows.create': ['producer', 'host'],
  'shows.edit': ['producer', 'host'],
  'shows.archive': ['producer'],
  'guests.invite': ['producer', 'host'],
  'desk.open': ['producer', 'host', 'moderator'],
  'show.run': ['producer', 'host'],
  'chat.read': ['producer', 'host', 'moderator'],
  'chat.write': ['producer', 'host', 'moderator'],
  'destinations.read': ['producer', 'host', 'moderator'],
  'destinations.manage': ['producer'],
  'team.read': ['producer', 'host', 'moderator'],
  'team.manage': ['producer'],
} as const satisfies Record<string, readonly Role[]>;

export type Right = keyof typeof RIGHTS;
export const ALL_RIGHTS = Object.keys(RIGHTS) as Right[];

/** Whether this role has this right. Guests have none of the team's rights. */
export function can(role: Role, right: Right): boolean {
  return (RIGHTS[right] as readonly Role[]).includes(role);
}

/** The roles that have a right, for telling somebody whom to ask. */
export function rolesWith(right: Right): readonly Role[] {
  return RIGHTS[right];
}
