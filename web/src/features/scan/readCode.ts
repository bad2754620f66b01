import {
  BinaryBitmap,
  DecodeHintType,
  HybridBinarizer,
  QRCodeReader,
  RGBLuminanceSource,
} from "@zxing/library";

const HINTS = new Map([[DecodeHintType.TRY_HARDER, true]]);
const MOST_PX = 1200;

/** Degrees. Squares inside a code can look like its corners: one label in thirty is read only where the picture is turned
 * against the rows in which corners are looked for. */
export const TURNS = [0, 20] as const;

/** The text of the code on a picture or a frame of a video, looked at as it is and turned; null where none is seen. */
export function readCode(
  seen: CanvasImageSource,
  width: number,
  height: number,
  turns: readonly number[] = TURNS,
): string | null {
  const scale = Math.min(1, MOST_PX / Math.max(width, height));
  const [wide, high] = [Math.round(width * scale), Math.round(height * scale)];
  if (wide === 0 || high === 0) return null;
  for (const turn of turns) {
    const text = decoded(turned(seen, wide, high, (turn * Math.PI) / 180));
    if (text !== null) return text;
  }
  return null;
}

/** The picture turned about its middle, on white. */
function turned(seen: CanvasImageSource, wide: number, high: number, angle: number): ImageData | null {
  const [along, across] = [Math.abs(Math.cos(angle)), Math.abs(Math.sin(angle))];
  const canvas = document.createElement("canvas");
  canvas.width = Math.ceil(wide * along + high * across);
  canvas.height = Math.ceil(wide * across + high * along);
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  if (!pen) return null;
  pen.fillStyle = "white";
  pen.fillRect(0, 0, canvas.width, canvas.height);
  pen.translate(canvas.width / 2, canvas.height / 2);
  pen.rotate(angle);
  pen.drawImage(seen, -wide / 2, -high / 2, wide, high);
  return pen.getImageData(0, 0, canvas.width, canvas.height);
}

function decoded(picture: ImageData | null): string | null {
  if (!picture) return null;
  const { data, width, height } = picture;
  const grey = new Uint8ClampedArray(width * height);
  for (let at = 0; at < grey.length; at++)
    grey[at] = ((data[4 * at] ?? 0) + 2 * (data[4 * at + 1] ?? 0) + (data[4 * at + 2] ?? 0)) / 4;
  const bitmap = new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(grey, width, height)));
  try {
    return new QRCodeReader().decode(bitmap, HINTS).getText();
  } catch {
    return null; // there is none on it, or none that can be read
  }
}

/** The spool that a label's code leads to; null for any other code. */
export function spoolOfCode(text: string): number | null {
  const found = /\/spools\/(\d{1,15})\/?$/.exec(text);
  return found ? Number(found[1]) : null;
}
