import { useEffect, useRef } from "react";
import { Alert } from "react-bootstrap";
import type { useFlatPreview } from "./useFlatPreview";

/** The region as it will be, or why it cannot be. */
export function FlatPicture({
  preview,
  trouble,
}: {
  preview: ReturnType<typeof useFlatPreview>;
  trouble: string | undefined;
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  useEffect(() => {
    if (!preview || !("data" in preview) || !canvas.current) return;
    canvas.current.width = preview.width;
    canvas.current.height = preview.height;
    const image = new ImageData(new Uint8ClampedArray(preview.data), preview.width, preview.height);
    canvas.current.getContext("2d")!.putImageData(image, 0, 0);
  }, [preview]);
  const failure = trouble ?? (preview && "failure" in preview ? preview.failure : undefined);
  if (failure)
    return (
      <Alert variant="warning" className="refusal">
        {failure}
      </Alert>
    );
  return (
    <figure className="flat-picture">
      <canvas ref={canvas} role="img" aria-label="The region as it will be" />
      <figcaption>
        {!preview
          ? "Type the real size, and it is shown here as it will be."
          : "share" in preview && preview.share < 0.995
            ? `As it will be, cut off where the photograph ends: ${Math.round(preview.share * 100)} % of it are left.`
            : "As it will be."}
      </figcaption>
    </figure>
  );
}
