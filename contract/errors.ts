import { z } from 'zod';

/** Every code that an error answer can carry. */
export const ERROR_CODES = [
  'bad-request',
  'not-found',
  'too-large',
  'not-a-picture',
  'picture-cut-short',
  'picture-too-many-pixels',
  'picture-empty',
  'not-inkable',
  'unknown-entity',
  'unknown-field',
  'unknown-picture',
  'missing-part',
  'bad-step',
  'bad-samples',
  'server-failed',
] as const;
export type ErrorCode = (typeof ERROR_CODES)[number];

/** The body of every error answer; `message` is written for the artist. */
export const errorBody = z.strictObject({
  code: z.enum(ERROR_CODES),
  message: z.string(),
  detail: z.string().optional(),
});
export type ErrorBody = z.infer<typeof errorBody>;
