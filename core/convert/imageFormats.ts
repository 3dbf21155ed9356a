/** Of a channel in a file: 32 are floating point; 16 are too, where the format is. */
export type FileBits = 8 | 16 | 32;

/** What an image format that is delivered can hold. How it is written is `server/pixels/encode.ts`. */
interface ImageFormatKind {
  extension: string;
  bitDepths: readonly FileBits[];
  /** Whether pixels come out as they went in. */
  isLossless: boolean;
  /** Whether its numbers are meant as they are: what is encoded for a screen has no place in it. */
  isLinear?: boolean;
}

export const IMAGE_FORMATS = {
  png: { extension: "png", bitDepths: [8, 16], isLossless: true },
  jpeg: { extension: "jpg", bitDepths: [8], isLossless: false },
  webp: { extension: "webp", bitDepths: [8], isLossless: true },
  tiff: { extension: "tif", bitDepths: [8, 16], isLossless: true },
  exr: { extension: "exr", bitDepths: [16, 32], isLossless: true, isLinear: true },
} satisfies Record<string, ImageFormatKind>;

/** Named as in media types: `image/png`. */
export type ImageFormat = keyof typeof IMAGE_FORMATS;

export const IMAGE_FORMAT_NAMES = Object.keys(IMAGE_FORMATS) as [ImageFormat, ...ImageFormat[]];

export const imageFormat = (format: ImageFormat): ImageFormatKind => IMAGE_FORMATS[format];

/** What JPEG files are written with unless a profile says otherwise: of 100. */
export const JPEG_QUALITY = 94;
