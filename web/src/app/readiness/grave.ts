import type { PlaceFinding } from '@juncta/core/readiness';
import type { Finding } from '@juncta/core/shows';

/** What keeps a show from going out as planned; advice stands with the listings. */
export const isGrave = ({ level }: Finding | PlaceFinding): boolean => level !== 'advice';
