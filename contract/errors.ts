/** Every code that an error answer can carry. */
export const ERROR_CODES = [
  'bad-request',
  'not-found',
  'too-large',
  'not-a-picture',
  'picture-cut-short',
  'picture-too-many-pixels',
  'picture-empty',
  'picture-too-complex',
  'picture-has-entities',
  'picture-locked',
  'not-inkable',
  'unknown-entity',
  'unknown-field',
  'unknown-picture',
  'missing-part',
  'bad-step',
  'bad-samples',
  'foreign',
  'server-failed',
] as const;
export type ErrorCode = (typeof ERROR_CODES)[number];
