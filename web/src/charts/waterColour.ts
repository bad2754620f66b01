import { scaleLinear } from "d3-scale";

/** The one meaning of the water colours: moisture ÷ trouble threshold, from dry straw to deep wet blue. */
const WATER_STOPS = [0, 0.3, 0.65, 1, 1.6] as const;
const WATER_COLOURS = ["#e2b13c", "#b9bd7a", "#6fa39b", "#2d7192", "#14406b"] as const;

export const waterColour = scaleLinear<string>().domain(WATER_STOPS).range(WATER_COLOURS).clamp(true);
