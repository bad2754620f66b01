import {
  BinaryBitmap,
  DecodeHintType,
  HybridBinarizer,
  QRCodeReader,
  RGBLuminanceSource,
} from "@zxing/library";

const HINTS = new Map([[DecodeHintType.TRY_HARDER, true]]);
const MOST_PX = 1200;

/** The text of the code on a picture or a frame of a video; null where none is seen. */
export function readCode(seen: CanvasImageSource, width: number, height: number): string | null {
  const scale = Math.min(1, MOST_PX / Math.max(width, height));
  const [wide, high] = [Math.round(width * scale), Math.round(height * scale)];
  if (wide === 0 || high === 0) return null;
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [wide, high];
  const pen = canvas.getContext("2d", { willReadFrequently: true });
  if (!pen) return null;
  pen.drawImage(seen, 0, 0, wide, high);
  const { data } = pen.getImageData(0, 0, wide, high);
  const grey = new Uint8ClampedArray(wide * high);
  for (let at = 0; at < grey.length; at++)
    grey[at] = ((data[4 * at] ?? 0) + 2 * (data[4 * at + 1] ?? 0) + (data[4 * at + 2] ?? 0)) / 4;
  const picture = new BinaryBitmap(new HybridBinarizer(new RGBLuminanceSource(grey, wide, high)));
  try {
    return new QRCodeReader().decode(picture, HINTS).getText();
  } catch {
    return null; // there is none on it, or none that can be read
  }
}

/** The spool that a label's code leads to; null for any other code. */
export function spoolOfCode(text: string): number | null {
  const found = /\/spools\/(\d{1,15})\/?$/.exec(text);
  return found ? Number(found[1]) : null;
}
