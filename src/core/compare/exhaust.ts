/** Density and heat capacity of air at 25 °C and sea level. */
const AIR_KG_M3 = 1.184;
const AIR_J_KG_K = 1006;

/**
 * How much hotter than the room the air of a cooler leaves it, from the heat it carries: P/(ρ·c_p·V̇).
 * @param power_w all of it taken to go into this air
 * @param flow_m3_s volume flow
 */
export const exhaustRise = (power_w: number, flow_m3_s: number): number => power_w / (AIR_KG_M3 * AIR_J_KG_K * flow_m3_s);

/**
 * The exhaust's rise to expect after a change of power and fan speed, the flow going with the speed of one fan. What was changed between
 * part and cooler does not enter: a hotter exhaust at equal power means less air, not a better or worse interface.
 * @param before as measured: rise of the exhaust, power, fan speed
 */
export function expectedExhaustRise(
  before: { rise_k: number; power_w: number; fan_rpm: number },
  after: { power_w: number; fan_rpm: number },
): number | null {
  if (!(before.power_w > 0) || !(before.fan_rpm > 0) || !(after.fan_rpm > 0)) return null;
  return before.rise_k * (after.power_w / before.power_w) * (before.fan_rpm / after.fan_rpm);
}
