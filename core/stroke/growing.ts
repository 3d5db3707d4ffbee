/** A copy of twice the length, zeros at its end. */
export function enlarged(a: Float64Array): Float64Array<ArrayBuffer> {
  const b = new Float64Array(2 * a.length);
  b.set(a);
  return b;
}
