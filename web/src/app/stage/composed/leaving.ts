/** The show whose programme is composed in this tab. */
export interface ComposedShow {
  readonly id: string;
  readonly title: string;
}

/** What somebody is about to do that would end the composing here. */
export type LeavingFor = { readonly what: 'sign_out' } | { readonly what: 'desk'; readonly showId: string };
