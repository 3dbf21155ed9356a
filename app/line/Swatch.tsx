import { previewUrl } from "../components/previewUrl";

/** A member of a line in small: its colour, or its picture. */
export function Swatch({ color, preview }: { color: string | null; preview: string | null }) {
  if (preview)
    return <span className="swatch" style={{ backgroundImage: `url(${previewUrl(preview, 128)})` }} />;
  return <span className={`swatch${color ? "" : " hatched"}`} style={{ background: color ?? undefined }} />;
}
