/** What decoding a file may take. */
export interface DecodingLimits {
  seconds: number;
  /** Of memory that the process holds. */
  bytes: number;
}

export const LIMITS: DecodingLimits = { seconds: 25, bytes: 1.5e9 };
/** The process itself goes a little beyond before it ends itself: whoever began it tells why. */
export const OWN_LIMITS: DecodingLimits = { seconds: LIMITS.seconds + 5, bytes: 1.2 * LIMITS.bytes };
