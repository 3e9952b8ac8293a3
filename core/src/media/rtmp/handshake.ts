/** What both sides of RTMP's handshake share: Adobe's Real Time Messaging Protocol 1.0, 5.2. */
export const RTMP_VERSION = 3;
/** C1, S1, C2 and S2. */
export const HANDSHAKE_BYTES = 1536;
/** The random part of C1 and S1, behind a time and a zero. */
export const NONCE_BYTES = HANDSHAKE_BYTES - 8;
