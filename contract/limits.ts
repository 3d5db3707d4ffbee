/** The largest framed body of steps, bytes. */
export const MAX_STEP_BYTES = 32 * 1024 * 1024;
/** Steps that come back are as many as fit this, and at least one. */
export const ANSWER_BYTES = 4 * 1024 * 1024;

/** What is arriving at once takes at most this together; what is smaller than the second is always taken in. */
export const MOST_ARRIVING_BYTES = 256 * 1024 * 1024;
export const SMALL_BODY_BYTES = 1024 * 1024;

export const MAX_PICTURE_BYTES = 50 * 1024 * 1024;
export const MAX_PICTURE_PIXELS = 100e6;
/** The longest side of the copy that devices show. */
export const WORKING_SIDE_PX = 4096;
/** The longest side of the copy for paper that needs more, on devices with room for it. */
export const LARGE_SIDE_PX = 8192;

/** So many tiles are left with a sheet at once: each has to be unpacked to be known as one. */
export const MOST_PUT_TILES = 256;
