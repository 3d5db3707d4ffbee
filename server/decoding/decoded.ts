import type { ErrorCode } from '../../contract/errors';

/** Why a file was not decoded: the code that the answer carries, and what the library said. */
export class DecodeFailure extends Error {
  constructor(
    readonly code: ErrorCode,
    readonly detail?: string,
  ) {
    super(detail ?? code);
  }
}

/** A layer of a file that has several: where its top left corner lies, px of the file's canvas. */
export interface LayerOfFile {
  name: string;
  x: number;
  y: number;
  /** 0 to 1. */
  opacity: number;
  visible: boolean;
}

/** A plain picture that was made of a file, or found in it. */
export interface DecodedPicture {
  /** PNG, or what the file holds for a layer. */
  bytes: Uint8Array;
  layer?: LayerOfFile;
}

export interface DecodedFile {
  /** Bottom first. */
  pictures: DecodedPicture[];
  /** Pages or pictures in the file, of which the first was taken. */
  frames: number;
  canvas?: { width: number; height: number };
}
