/** What the tests use of culori. */
declare module 'culori' {
  interface Oklab {
    l: number;
    a: number;
    b: number;
  }
  interface Rgb {
    mode: 'rgb';
    r: number;
    g: number;
    b: number;
  }
  export function converter(mode: 'oklab'): (colour: Rgb | string) => Oklab;
  export function formatHex(colour: Rgb): string;
}
