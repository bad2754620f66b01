/** A rectangle in pixels from the upper left. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

const shared = (a: Box, b: Box): number =>
  Math.max(Math.min(a.x + a.width, b.x + b.width) - Math.max(a.x, b.x), 0) *
  Math.max(Math.min(a.y + a.height, b.y + b.height) - Math.max(a.y, b.y), 0);

/** Less than this, px², is what rounding leaves of nothing. */
const NOTHING = 1e-6;

/** The first of the places that touches nothing taken, or the one that covers least; it is taken from then on. */
export function settle(places: readonly Box[], taken: Box[], inside: Box): Box | null {
  let best: Box | null = null;
  let least = Number.POSITIVE_INFINITY;
  for (const place of places) {
    const outside = place.width * place.height - shared(place, inside);
    const covers = taken.reduce((sum, box) => sum + shared(place, box), outside);
    if (covers < least - NOTHING) [best, least] = [place, covers];
    if (covers < NOTHING) break;
  }
  if (best) taken.push(best);
  return best;
}

let pen: CanvasRenderingContext2D | null = null;

/** How wide a text is in the page's face, px. */
export function textWidth(text: string, size: number, bold = false): number {
  pen ??= document.createElement("canvas").getContext("2d");
  if (!pen) return text.length * size * 0.5;
  pen.font = `${bold ? 700 : 400} ${size}px ${getComputedStyle(document.body).fontFamily}`;
  return Math.ceil(pen.measureText(text).width);
}
