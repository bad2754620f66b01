/** Parts of the observatory shed, by what they are printed from. */
const PARTS: Record<string, readonly string[]> = {
  pa6: ["roof hinge", "worm gear"],
  pa12: ["focuser gear", "pinion"],
  tpu: ["roof roller tyre", "cable grommet"],
  petg: ["rain funnel", "rain collar"],
  asa: ["outdoor rail", "rail end"],
  abs: ["fan louvre", "vent frame"],
  pla: ["lens cap", "drawer front"],
  "pla-filled": ["cable guide", "guide clip"],
  "pla-tough": ["setting circle", "vernier ring"],
  pc: ["camera window frame", "window clamp"],
  pva: ["support for an arch", "support for a bracket"],
};

/** What was printed in a practice round. */
export function practicePart(material: string, round: number): string {
  const parts = PARTS[material] ?? ["part"];
  return parts[round % parts.length] ?? "part";
}
