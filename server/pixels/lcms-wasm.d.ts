/** The part of the package that is used here; its handles are addresses in its own memory, 0 for none. */
declare module "lcms-wasm" {
  export interface LittleCms {
    _malloc(bytes: number): number;
    _free(at: number): void;
    HEAPU8: Uint8Array;
    ccall(name: string, returns: "number", kinds: "number"[], values: number[]): number;
    cmsCloseProfile(profile: number): void;
    cmsCreate_sRGBProfile(): number;
    cmsGetProfileInfoASCII(profile: number, info: number, language: string, country: string): string;
    cmsGetColorSpaceASCII(profile: number): string | null;
    cmsCreateTransform(
      from: number,
      fromFormat: number,
      to: number,
      toFormat: number,
      intent: number,
      flags: number,
    ): number;
    cmsDeleteTransform(transform: number): void;
    cmsDoTransform<Samples extends Uint8Array | Uint16Array>(
      transform: number,
      samples: Samples,
      pixels: number,
    ): Samples;
  }
  export function instantiate(): Promise<LittleCms>;
  export const cmsInfoDescription: number;
  export const INTENT_RELATIVE_COLORIMETRIC: number;
  export const cmsFLAGS_BLACKPOINTCOMPENSATION: number;
  export const cmsFLAGS_COPY_ALPHA: number;
  export const cmsFLAGS_NOOPTIMIZE: number;
  export const PT_GRAY: number;
  export const PT_RGB: number;
  export const PT_CMYK: number;
  export function COLORSPACE_SH(space: number): number;
  export function CHANNELS_SH(channels: number): number;
  export function EXTRA_SH(channels: number): number;
  export function BYTES_SH(bytes: number): number;
}
