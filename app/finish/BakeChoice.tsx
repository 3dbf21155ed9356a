import type { Profile } from "#core/convert/profile";
import { planWear, type WornMaterial } from "#core/convert/wearPlan";
import { WEAR_FITS, type WearFit } from "#core/finish/finish";
import { formatSize } from "#core/length/formatLength";
import { useView } from "../view/viewContext";

/** What of a profile says how it gets wear. */
export type WearProfile = Pick<Profile, "id" | "name" | "layers" | "maxPixels">;

const FIT_NAMES: Record<WearFit, string> = {
  balance: "A little of both gives way",
  "wear-size": "The wear keeps its size",
  pixels: "The images keep their size",
};

interface BakeChoiceProps {
  /** With its finish and its wear as they are typed. */
  material: WornMaterial;
  /** The renderer that is corrected for, or else all of them. */
  profiles: WearProfile[];
  /** "" where nobody chose. */
  chosen: string;
  onChoose(fit: string): void;
}

/** How wear that a renderer cannot lay on becomes part of its images: each way with what it costs. */
export function BakeChoice({ material, profiles, chosen, onChoose }: BakeChoiceProps) {
  const { unit } = useView();
  const planned = profiles.map((profile) => ({ profile, plan: planFor(material, profile) }));
  const baking = planned.find(({ plan }) => plan?.bake);
  const laying = planned.filter(({ plan }) => plan && !plan.bake);
  if (planned.every(({ plan }) => !plan)) return null;
  return (
    <div className="bake">
      {laying.length > 0 && (
        <p className="aside">
          Laid on at its own size by: {laying.map(({ profile }) => profile.name).join("; ")}.
        </p>
      )}
      {baking && (
        <fieldset>
          <legend>Baked into the images of {baking.profile.name}</legend>
          {WEAR_FITS.map((fit) => {
            const { bake } = planFor(
              { ...material, finish: { ...material.finish, wearFit: fit } },
              baking.profile,
            )!;
            const { across, down, area, pixels, errors, density } = bake!;
            const off = Math.max(...errors.flatMap(({ width, height }) => [width, height].map(Math.abs)));
            return (
              <label key={fit}>
                <input
                  type="radio"
                  name="wearFit"
                  value={fit === "balance" ? "" : fit}
                  checked={(chosen || "balance") === fit}
                  onChange={() => onChoose(fit === "balance" ? "" : fit)}
                />
                <span>
                  {FIT_NAMES[fit]}
                  <span className="number">
                    {across} × {down} repeats, {formatSize(area, unit)}, {across * pixels.width} ×{" "}
                    {down * pixels.height} px; wear{" "}
                    {off < 0.0005 ? "true to size" : `${(100 * off).toFixed(1)} % off`}
                    {density < 0.995 ? `; ${Math.round(100 * density)} % of the density` : ""}
                  </span>
                </span>
              </label>
            );
          })}
        </fieldset>
      )}
    </div>
  );
}

const planFor = (material: WornMaterial, profile: WearProfile) =>
  planWear(material, profile, profile.maxPixels ?? Infinity);
