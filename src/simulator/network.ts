/** One node of a Cauer ladder: heat capacity to the surroundings' zero, and the resistance on to the next node. */
export interface Node {
  /** J/K */
  capacity: number;
  /** K/W towards the next node; from the last node to the air */
  resistance: number;
}

/**
 * Advances the node temperatures of an RC ladder by one explicit step.
 * The step must be well below the smallest RC product.
 * @param temperatures °C, junction first; changed in place
 */
export function stepLadder(nodes: Node[], temperatures: Float64Array, power: number, air: number, dt: number): void {
  let inflow = power;
  for (let i = 0; i < nodes.length; i++) {
    const beyond = i + 1 < nodes.length ? temperatures[i + 1] : air;
    const outflow = (temperatures[i] - beyond) / nodes[i].resistance;
    temperatures[i] += ((inflow - outflow) * dt) / nodes[i].capacity;
    inflow = outflow;
  }
}
