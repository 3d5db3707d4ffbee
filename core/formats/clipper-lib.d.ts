/** The part of clipper-lib 6.4 that is used here (the package carries no types). */
declare module 'clipper-lib' {
  type Path = { X: number; Y: number }[];
  class Clipper {
    AddPaths(paths: Path[], type: number, closed: boolean): boolean;
    Execute(clip: number, solution: Path[], subjectFill: number, clipFill: number): boolean;
    static SimplifyPolygons(paths: Path[], fill: number): Path[];
    static CleanPolygons(paths: Path[], distance: number): Path[];
  }
  const lib: {
    Clipper: typeof Clipper;
    PolyType: { ptSubject: number; ptClip: number };
    ClipType: { ctUnion: number; ctDifference: number };
    PolyFillType: { pftNonZero: number };
  };
  export default lib;
}
