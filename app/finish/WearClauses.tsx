import { useId, useState } from "react";
import { ArrowDown, ArrowUp, Trash } from "react-bootstrap-icons";
import {
  FIRST_STRENGTH,
  MOST_WEAR,
  proposedPolarity,
  wearLayerSchema,
  wearWords,
  type WearLayer,
} from "#core/finish/wear";
import type { Wear } from "#server/material/wear";
import { previewUrl } from "../components/previewUrl";
import { pixelsOf } from "./pixelsOf";
import { WearLayerFields } from "./WearLayerFields";

interface WearClausesProps {
  layers: WearLayer[];
  /** Those of the studio, in their newest revision. */
  offered: Wear[];
  /** What a layer refers to, in the revision that it takes. */
  referred: readonly Wear[];
  onLayers(layers: WearLayer[], touched?: string): void;
}

/** Wear, layer by layer: each on or off, in an order that can be changed, and unfolded what it does. */
export function WearClauses({ layers, offered, referred, onLayers }: WearClausesProps) {
  const add = useId();
  const [trouble, setTrouble] = useState("");
  const change = (at: number, changed: Partial<WearLayer>, touched?: string) =>
    onLayers(
      layers.map((layer, i) => (i === at ? cleaned({ ...layer, ...changed }) : layer)),
      touched && `wear ${at} ${touched}`,
    );
  const move = (at: number, by: number) => {
    const moved = layers.toSpliced(at, 1);
    onLayers(moved.toSpliced(at + by, 0, layers[at]));
  };
  async function layOn(id: string) {
    const wear = offered.find(({ material }) => material === id);
    if (!wear) return;
    try {
      onLayers([...layers, await firstLayer(wear)]);
      setTrouble("");
    } catch {
      setTrouble(`${wear.name} cannot be laid on: its preview is missing.`);
    }
  }
  return (
    <>
      {layers.map((layer, at) => {
        const wear = referred.find(
          ({ material, revision }) => material === layer.material && revision === layer.revision,
        );
        const name = wear?.name ?? "wear layer";
        const wrong = wearLayerSchema.safeParse(layer).error?.issues[0].message;
        return (
          <div key={`${layer.material} ${sameBefore(layers, at)}`} className="wear-row">
            <input
              type="checkbox"
              checked={layer.on}
              aria-label={`${name}, on`}
              onChange={(event) => change(at, { on: event.target.checked })}
            />
            <details className="clause wear-layer" name="clause">
              <summary>
                {wear && (
                  <img className="thumb" src={previewUrl(wear.mask.sha256, 64, wear.mask.channel)} alt="" />
                )}
                <span className="clause-name">{name}</span>
                <span className={`clause-value${wrong ? " mark wrong" : ""}`}>
                  {wrong ? "cannot be laid on" : layer.on ? wearWords(layer) : "off"}
                </span>
              </summary>
              <div className="clause-body">
                {wear && (
                  <WearLayerFields
                    layer={layer}
                    wear={wear}
                    onChange={(changed, touched) => change(at, changed, touched)}
                  />
                )}
                {wrong && <p className="mark wrong">{wrong}</p>}
                <div className="wear-acts">
                  <button
                    type="button"
                    disabled={at === 0}
                    aria-label={`${name}, further down`}
                    onClick={() => move(at, -1)}
                  >
                    <ArrowUp aria-hidden="true" /> Under the one before
                  </button>
                  <button
                    type="button"
                    disabled={at === layers.length - 1}
                    aria-label={`${name}, further up`}
                    onClick={() => move(at, 1)}
                  >
                    <ArrowDown aria-hidden="true" /> Over the next
                  </button>
                  <button
                    type="button"
                    aria-label={`Remove ${name}`}
                    onClick={() => onLayers(layers.toSpliced(at, 1))}
                  >
                    <Trash aria-hidden="true" /> Remove
                  </button>
                </div>
              </div>
            </details>
          </div>
        );
      })}
      <div className="wear-add">
        <label htmlFor={add}>Lay on</label>
        <select
          id={add}
          className="form-select form-select-sm"
          value=""
          disabled={offered.length === 0 || layers.length >= MOST_WEAR}
          onChange={(event) => void layOn(event.target.value)}
        >
          <option value="">
            {offered.length === 0
              ? "no wear layer in the library yet"
              : layers.length >= MOST_WEAR
                ? `${MOST_WEAR} layers are the most`
                : "a wear layer …"}
          </option>
          {offered.map(({ material, name, code }) => (
            <option key={material} value={material}>
              {name} ({code})
            </option>
          ))}
        </select>
        {trouble && (
          <p className="mark wrong" role="alert">
            {trouble}
          </p>
        )}
      </div>
    </>
  );
}

/** So many of the same layer lie under one: a layer that is moved stays the one that it is, unfolded or not. */
const sameBefore = (layers: readonly WearLayer[], at: number): number =>
  layers.slice(0, at).filter(({ material }) => material === layers[at].material).length;

/** Weak, and with the polarity that the layer's values speak for. */
async function firstLayer({ material, revision, mask }: Wear): Promise<WearLayer> {
  const { data } = await pixelsOf(previewUrl(mask.sha256, 256, mask.channel));
  const values = Float32Array.from({ length: data.length / 4 }, (_, i) => data[4 * i] / 255);
  const { polarity } = proposedPolarity(values);
  return { material, revision, strength: FIRST_STRENGTH, polarity, effect: "rougher", on: true };
}

/** Without what is empty. */
const cleaned = (layer: WearLayer): WearLayer =>
  Object.fromEntries(Object.entries(layer).filter(([, value]) => value !== undefined)) as WearLayer;
