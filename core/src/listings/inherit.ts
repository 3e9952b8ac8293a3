/** The texts that all listings of a show share. */
export interface SharedText {
  readonly title: string;
  readonly description: string;
}

/** What a listing has of its own; null: it inherits. An empty text is a text. */
export type OwnText = { readonly [Field in keyof SharedText]: SharedText[Field] | null };

/** What a listing shows, field by field. */
export function listingText(shared: SharedText, own: OwnText): SharedText {
  return { title: own.title ?? shared.title, description: own.description ?? shared.description };
}
