declare module 'libheif-js/wasm-bundle.js' {
  /** A picture of a file; sizes are those after the turns that the file asks for. */
  export interface HeifPicture {
    get_width(): number;
    get_height(): number;
    is_primary(): boolean;
    has_alpha_channel(): boolean;
    /** Fills `data` with RGBA; null when it could not be decoded. */
    display(
      into: { data: Uint8ClampedArray; width: number; height: number },
      done: (shown: object | null) => void,
    ): void;
  }
  const libheif: { HeifDecoder: new () => { decode(bytes: Uint8Array): HeifPicture[] } };
  export default libheif;
}
