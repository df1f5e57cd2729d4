// A reel on a canvas: the clock decides the frame; what comes late is skipped, never slowed.
import { ask } from "./ask.mjs";

/**
 * @typedef {{reel: string, width: number, height: number, rate: string, length: number, way_in: number, way_out: number,
 *   pictures: {file: string, width: number, height: number, bytes: number}[], frames: [number, number, number][][]}} ReelFile
 */

/** @param {string} rate A fraction such as 24000/1001. @returns {number} */
export function perSecond(rate) {
  const [frames, seconds] = rate.split("/").map(Number);
  return (frames ?? 25) / (seconds ?? 1);
}

/** A picture that came, ready to be drawn. @param {Blob} blob @param {ImageBitmapOptions} [how] @returns {Promise<ImageBitmap>} */
export async function picture(blob, how) {
  try {
    return await createImageBitmap(blob, how);
  } catch {
    throw new Error("This browser does not show WebP pictures. Open this address in another one, or in a newer version.");
  }
}

/** The pictures of a title, and when each shows. */
export class Reel {
  /** @param {ReelFile} file @param {ImageBitmap[]} pictures */
  constructor(file, pictures) {
    this.file = file;
    this.pictures = pictures;
    this.rate = perSecond(file.rate);
  }

  /**
   * Have a reel made, and take all of its pictures.
   * @param {string} address @param {unknown} wanted @param {AbortSignal} signal @returns {Promise<Reel>}
   */
  static async of(address, wanted, signal) {
    /** @type {ReelFile} */
    const file = await ask(address, { body: wanted, signal });
    const pictures = await Promise.all(file.pictures.map(async (one) => {
      const answer = await fetch(`${file.reel}/${one.file}`, { signal });
      if (!answer.ok) throw new Error("A picture of the reel did not come. Play again.");
      return picture(await answer.blob(), { premultiplyAlpha: "premultiply", colorSpaceConversion: "none" });
    }));
    return new Reel(file, pictures);
  }

  /** Bytes of all pictures. @returns {number} */
  get weight() {
    return this.file.pictures.reduce((sum, one) => sum + one.bytes, 0);
  }

  /** @param {CanvasRenderingContext2D} canvas @param {number} frame */
  draw(canvas, frame) {
    canvas.clearRect(0, 0, this.file.width, this.file.height);
    for (const [picture, x, y] of this.file.frames[frame] ?? []) {
      const one = this.pictures[picture];
      if (one) canvas.drawImage(one, x, y);
    }
  }

  /** Let its pictures go. */
  close() {
    for (const one of this.pictures) one.close();
  }
}
