declare module 'skeleton-tracing-js' {
  /** Thins a binary image in place, after Zhang & Suen. */
  const TraceSkeleton: { thinningZS(image: number[], width: number, height: number): void };
  export default TraceSkeleton;
}
