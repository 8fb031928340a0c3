import sharp from 'sharp';

/** What of a photograph can be seen without a hash: its size in pixels, and its mean colour, 0 to 255. */
export interface PictureFigures {
  width: number;
  height: number;
  red: number;
  green: number;
  blue: number;
}

/**
 * Size and mean colour of a photograph.
 * @throws where it is no picture
 */
export async function pictureFigures(picture: Buffer): Promise<PictureFigures> {
  const { width, height } = await sharp(picture).metadata();
  const { data, info } = await sharp(picture)
    .removeAlpha()
    .toColourspace('srgb')
    .resize(16, 16, { fit: 'fill' })
    .raw()
    .toBuffer({ resolveWithObject: true });
  const mean = (at: number) => {
    let sum = 0;
    for (let i = Math.min(at, info.channels - 1); i < data.length; i += info.channels) sum += data[i];
    return Math.round((10 * sum * info.channels) / data.length) / 10;
  };
  return { width: width ?? 0, height: height ?? 0, red: mean(0), green: mean(1), blue: mean(2) };
}
