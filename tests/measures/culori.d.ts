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
  interface Oklch {
    l: number;
    c: number;
    /** Greys have none. */
    h?: number;
  }
  interface Lab65 extends Oklab {
    mode: 'lab65';
  }
  export function converter(mode: 'oklab' | 'lab65'): (colour: Rgb | string) => Oklab;
  export function converter(mode: 'oklch'): (colour: Rgb | string) => Oklch;
  export function formatHex(colour: Rgb | ({ mode: 'oklch' } & Oklch)): string;
  export function differenceCiede2000(): (a: Lab65, b: Lab65) => number;
}
