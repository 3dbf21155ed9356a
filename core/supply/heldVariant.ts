import type { Product } from "#core/supply/catalogue";

interface HeldMaterial {
  code: string;
  variant: Record<string, string>;
}

/** The material of the library that is a product with a colour of joint: the same code, and no other joint. */
export function heldVariant<M extends HeldMaterial>(
  held: M[],
  product: Pick<Product, "code" | "joints">,
  joint: string | null,
): M | undefined {
  const name = product.joints.find(({ id }) => id === joint)?.name;
  return held.find(
    ({ code, variant }) =>
      code === product.code && (name === undefined || (variant.joint ?? product.joints[0].name) === name),
  );
}
