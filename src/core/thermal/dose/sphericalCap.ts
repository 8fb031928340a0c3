/**
 * A drop on a flat face is taken as a spherical cap: it meets the face at its contact angle. Volume from its contact diameter.
 * Source: Bronshtein & Semendyayev, Handbook of Mathematics, spherical segment: V = πh(3a² + h²)/6 with h = a·tan(θ/2).
 * @param diameter contact diameter, mm
 * @param contactAngle degrees, above 0 and below 180
 * @returns mm³
 */
export function capVolume(diameter: number, contactAngle: number): number {
  const a = diameter / 2;
  const h = capHeight(diameter, contactAngle);
  return (Math.PI * h * (3 * a * a + h * h)) / 6;
}

/** Height of the cap over the face, mm. */
export const capHeight = (diameter: number, contactAngle: number): number => (diameter / 2) * Math.tan((contactAngle * Math.PI) / 360);

/** Contact diameter of a drop of some volume (mm³), mm. The volume grows with the cube of the diameter. */
export const capDiameter = (volume: number, contactAngle: number): number => Math.cbrt(volume / capVolume(1, contactAngle));
