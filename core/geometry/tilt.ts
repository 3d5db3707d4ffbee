/** How a pen leans: altitude 0 (flat) to 90 (upright), azimuth 0 (right) clockwise to 359; whole degrees. */
export interface Lean {
  altitudeDeg: number;
  azimuthDeg: number;
}

const RAD = Math.PI / 180;

/**
 * Converts the tilt angles of a pointer event to altitude and azimuth, rounded to whole degrees.
 * Trigonometry differs in its last bits between browsers, so a stroke stores the rounded value only.
 *
 * @param tiltXDeg, tiltYDeg degrees, -90 to 90, as pointer events give them.
 * @see W3C Pointer Events Level 3, "Converting between tiltX / tiltY and altitudeAngle / azimuthAngle".
 * @example leanOfTilt(0, 0) // { altitudeDeg: 90, azimuthDeg: 0 }
 */
export function leanOfTilt(tiltXDeg: number, tiltYDeg: number): Lean {
  const tiltX = tiltXDeg * RAD;
  const tiltY = tiltYDeg * RAD;
  const azimuth = azimuthOf(tiltX, tiltY);
  if (Math.abs(tiltXDeg) === 90 || Math.abs(tiltYDeg) === 90) return rounded(0, azimuth);
  const tanX = Math.tan(tiltX);
  const tanY = Math.tan(tiltY);
  return rounded(Math.atan(1 / Math.sqrt(tanX * tanX + tanY * tanY)), azimuth);
}

/**
 * The inverse of {@link leanOfTilt}: tilt angles in whole degrees.
 * @see W3C Pointer Events Level 3, same section.
 */
export function tiltOfLean({ altitudeDeg, azimuthDeg }: Lean): { tiltXDeg: number; tiltYDeg: number } {
  const azimuth = azimuthDeg * RAD;
  if (altitudeDeg === 0) {
    const x = Math.round(Math.cos(azimuth) * 1e9);
    const y = Math.round(Math.sin(azimuth) * 1e9);
    return { tiltXDeg: 90 * Math.sign(x) || 0, tiltYDeg: 90 * Math.sign(y) || 0 };
  }
  const tan = Math.tan(altitudeDeg * RAD);
  return {
    tiltXDeg: Math.round(Math.atan(Math.cos(azimuth) / tan) / RAD) || 0,
    tiltYDeg: Math.round(Math.atan(Math.sin(azimuth) / tan) / RAD) || 0,
  };
}

function azimuthOf(tiltX: number, tiltY: number): number {
  if (tiltX === 0 && tiltY === 0) return 0;
  if (tiltX === 0) return tiltY > 0 ? Math.PI / 2 : (3 * Math.PI) / 2;
  if (tiltY === 0) return tiltX > 0 ? 0 : Math.PI;
  const azimuth = Math.atan2(Math.tan(tiltY), Math.tan(tiltX));
  return azimuth < 0 ? azimuth + 2 * Math.PI : azimuth;
}

const rounded = (altitude: number, azimuth: number): Lean => ({
  altitudeDeg: Math.round(altitude / RAD),
  azimuthDeg: Math.round(azimuth / RAD) % 360,
});
