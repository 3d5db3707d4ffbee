import type { ErrorBody } from '../contract/answers';
import type { ErrorCode } from '../contract/errors';

/** An error with an answer for the artist. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: ErrorCode,
    message: string,
    readonly detail?: string,
  ) {
    super(message);
  }

  body(): ErrorBody {
    return { code: this.code, message: this.message, ...(this.detail ? { detail: this.detail } : {}) };
  }
}

export const notFound = (what: string): ApiError => new ApiError(404, 'not-found', `There is no such ${what}.`);
