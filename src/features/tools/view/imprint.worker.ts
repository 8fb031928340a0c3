import { transfer } from 'comlink';
import { invert, squareToQuad } from '#core/image/homography';
import { readPrint, scorePrint } from '#core/image/measureImprint';
import { foundPicture, stateColour, straightPicture, TINT } from '#core/image/pictures';
import { type Imprint, ImprintError, type ImprintOptions, type Photo, type ScoredPrint } from '#core/image/types';

/** More pixels along a side tell nothing more about a print. */
const LONGEST_SIDE = 4200;

export interface MeasuredImprint {
  print: Imprint;
  per_mm: { x: number; y: number };
  /** the part from straight above, RGBA, plain and with what was found laid over it */
  plain: ImageData;
  found: ImageData;
  /** what was found, as it lies in the photograph, for a picture so wide; RGBA */
  overlay: ImageData;
}

let photo: Photo | null = null;
let scored: { key: string; value: ScoredPrint } | null = null;

/** Decodes a photograph, upright by its EXIF mark. */
async function open(blob: Blob): Promise<{ width: number; height: number }> {
  scored = null;
  const bitmap = await createImageBitmap(blob, { imageOrientation: 'from-image' });
  const scale = Math.min(1, LONGEST_SIDE / Math.max(bitmap.width, bitmap.height));
  const [width, height] = [Math.round(bitmap.width * scale), Math.round(bitmap.height * scale)];
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true }) as OffscreenCanvasRenderingContext2D;
  context.drawImage(bitmap, 0, 0, width, height);
  bitmap.close();
  photo = { width, height, data: context.getImageData(0, 0, width, height).data };
  return { width, height };
}

/** Measures the opened photograph; where only the threshold changed, from the tones found before. */
function measure(options: ImprintOptions, overlayWidth: number): MeasuredImprint | { problem: string } {
  if (!photo) return { problem: 'No photograph is open.' };
  const key = JSON.stringify([options.corners, options.length_mm, options.width_mm]);
  try {
    if (scored?.key !== key) scored = { key, value: scorePrint(photo, options) };
    const print = readPrint(scored.value, options);
    const { columns, rows } = print.mask;
    const plain = new ImageData(straightPicture(scored.value), columns, rows);
    const found = new ImageData(foundPicture(plain.data, print), columns, rows);
    const overlay = laidOver(photo, options, print, overlayWidth);
    const answer = { print, per_mm: scored.value.straight.per_mm, plain, found, overlay };
    return transfer(answer, [plain.data.buffer, found.data.buffer, overlay.data.buffer]);
  } catch (error) {
    if (error instanceof ImprintError) return { problem: error.message };
    throw error;
  }
}

/** Cells of the mask as they lie in the photograph, which is shown so many pixels wide. */
function laidOver({ width, height }: Photo, { corners }: ImprintOptions, { mask }: Imprint, overlayWidth: number): ImageData {
  const scale = overlayWidth / width;
  const overlay = new ImageData(overlayWidth, Math.round(height * scale));
  const back = invert(squareToQuad(corners));
  const { columns, rows, margin, cells } = mask;
  for (let v = 0; v < overlay.height; v++) {
    for (let u = 0; u < overlay.width; u++) {
      const [px, py] = [(u + 0.5) / scale, (v + 0.5) / scale];
      const w = back[6] * px + back[7] * py + back[8];
      const x = (back[0] * px + back[1] * py + back[2]) / w;
      const y = (back[3] * px + back[4] * py + back[5]) / w;
      if (x < 0 || x >= 1 || y < 0 || y >= 1) continue;
      const state = cells[(margin + Math.floor(y * (rows - 2 * margin))) * columns + margin + Math.floor(x * (columns - 2 * margin))];
      const colour = stateColour(state);
      if (colour) overlay.data.set([...colour, 255 * TINT], 4 * (v * overlay.width + u));
    }
  }
  return overlay;
}

export const api = { open, measure };
export type ImprintApi = typeof api;
