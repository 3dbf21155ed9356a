import type { Line, Product } from "#core/supply/catalogue";
import { sheetRepeat } from "#core/supply/sheetRepeat";
import { useView } from "../view/viewContext";

interface ProductPatchProps {
  line: Line;
  product: Product;
  side: number;
}

/** A supplier's picture at the drawing scale, where the supplier says how many modules it shows; a plain colour as it is. */
export function ProductPatch({ line, product, side }: ProductPatchProps) {
  const { pxPerMm } = useView();
  const style = { width: side, height: side };
  if (line.layout === "plain")
    return <span className="product-patch" style={{ ...style, background: product.hex }} />;
  const url = `/suppliers/pictures/${product.code}`;
  // Any picture does: what is stretched is drawn at the size that is stated.
  const size = sheetRepeat(line, { width: 1, height: 1 })?.repeat;
  if (!size)
    return (
      <span className="product-patch unsized" style={style}>
        <img src={url} alt="" loading="lazy" />
      </span>
    );
  return (
    <span
      className="product-patch"
      style={{
        ...style,
        backgroundColor: product.hex,
        backgroundImage: `url(${url})`,
        backgroundSize: `${size.width * pxPerMm}px ${size.height * pxPerMm}px`,
      }}
    />
  );
}
