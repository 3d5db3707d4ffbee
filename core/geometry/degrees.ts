/** An angle in degrees, 0 to 360, whatever it was. */
export const withinTurn = (deg: number): number => ((deg % 360) + 360) % 360;
