import { useEffect, useMemo, useState, type ReactNode } from "react";
import { Form as Fields } from "react-bootstrap";
import { Form, useNavigation, useSearchParams } from "react-router";
import { changedFinish, finishSchema, heightAmplitude, type Finish } from "#core/finish/finish";
import type { WearLayer } from "#core/finish/wear";
import type { WornLayer } from "#core/finish/material";
import type { ReferenceRow } from "#server/reference/sql";
import type { GradeRow } from "#server/grade/sql";
import type { Wear } from "#server/material/wear";
import { Button } from "../components/Button";
import { UndoRedo } from "../components/UndoRedo";
import { useTitleBlock } from "../view/titleBlock";
import { Unsaved } from "../view/Unsaved";
import type { useBench } from "../view/useBench";
import { useHistory } from "../view/useHistory";
import { BakeChoice, type WearProfile } from "./BakeChoice";
import { Copy, Remove } from "./CopyAndRemove";
import { ANOTHER } from "./BesideChoice";
import { FinishPicture } from "./FinishPicture";
import type { OfferedCondition } from "./light";
import { KeepGrade } from "./KeepGrade";
import { RoughnessClause } from "./RoughnessClause";
import { Specification } from "./Specification";
import { StartingPoint } from "./StartingPoint";
import {
  changeTexts,
  gradeTexts,
  textsOf,
  typedFinish,
  typedWear,
  wearText,
  type FinishTexts,
} from "./typedFinish";
import type { Drawn } from "./usePicture";
import { Reached } from "../project/Reached";
import { WearClauses } from "./WearClauses";

/** So many of those before, the newest first. */
const earlier = (revisions: number[], now: number) => revisions.filter((number) => number < now).slice(0, 12);

/** Layers with what they refer to; one that refers to nothing is shown in the list, and not in the picture. */
const wornLayers = (layers: readonly WearLayer[], referred: readonly Wear[]): WornLayer[] =>
  layers.flatMap((layer) => {
    const wear = referred.find(
      ({ material, revision }) => material === layer.material && revision === layer.revision,
    );
    return wear ? [{ ...wear, layer }] : [];
  });

/** Relief that is thicker than the joint between two pieces is wide grows over it. */
function reliefWarning(
  finish: Finish,
  { maps, repeat, gauge }: Pick<ReturnType<typeof useBench>["material"], "maps" | "repeat" | "gauge">,
): string | undefined {
  if (!maps.some(({ role }) => role === "height" || role === "bump")) return undefined;
  const joint = Number(gauge?.joint ?? 0);
  const { mm } = heightAmplitude(finish, repeat);
  return joint > 0 && mm > joint
    ? `The relief is ${mm} mm thick and the joint ${joint} mm wide: displaced, the pieces swell over it.`
    : undefined;
}

/** Under the marks of a layer that is looked at by itself. */
const PAPER = finishSchema.parse({ color: "#f7f4ec", roughness: 1, specularWeight: 0 });

/** A wear layer as it is looked at by itself: its light parts in brick red. */
function ownMarks({ maps, kind, ...material }: ReturnType<typeof useBench>["material"]): WornLayer[] {
  const mask = maps.find(({ role }) => role === "wear_mask");
  if (kind !== "wear" || !mask) return [];
  const layer: WearLayer = {
    material: material.id,
    revision: material.revision,
    strength: 1,
    polarity: "light",
    effect: "tint",
    tint: "#9e3b2e",
    on: true,
  };
  return [{ ...material, layer, mask }];
}

interface FinishBenchProps {
  material: ReturnType<typeof useBench>["material"];
  /** The finish that it came with. */
  received: Finish;
  profiles: WearProfile[];
  /** The wear layers of the studio. */
  offered: Wear[];
  /** Pictures that it is judged against. */
  references: ReferenceRow[];
  /** What is beside it, where it had to be loaded. */
  beside: (Drawn & { name: string }) | undefined;
  revisions: number[];
  /** Of the studio's own. */
  conditions: OfferedCondition[];
  grades: GradeRow[];
  /** Panoramas that can light a view. */
  environments: { sha256: string; name: string }[];
  /** Id of the one that is corrected for; "" for all of them. */
  profile: string;
  onProfile(id: string): void;
  mayMake: boolean;
  mayKeep: boolean;
  onTouch(): void;
  /** What it was compared with before it was saved. */
  lastOther: string;
  onLastOther(name: string): void;
  /** What came of saving. */
  children: ReactNode;
}

const AS_RECEIVED = "as received";

/** The sample, and its specification beside it. */
export function FinishBench({
  material,
  received: came,
  profiles,
  offered,
  references,
  beside,
  revisions,
  conditions,
  grades,
  environments,
  profile,
  onProfile,
  mayMake,
  mayKeep,
  onTouch,
  lastOther,
  onLastOther,
  children,
}: FinishBenchProps) {
  const { maps, corrections } = material;
  // A correction begins where the finish for all ends.
  const correction = corrections[profile];
  const finish = correction ? changedFinish(material.finish, correction) : material.finish;
  const received = profile === "" ? came : material.finish;
  const renderer = profiles.find(({ id }) => id === profile)?.name;
  const history = useHistory(() => textsOf(finish));
  const texts = history.now;
  const busy = useNavigation().state === "submitting";
  const begun = useMemo(() => JSON.stringify(textsOf(finish)), [finish]);
  // What has no history: the name, and which way green points.
  const [typedName, setTypedName] = useState<string>();
  const [isTurned, setTurned] = useState(false);
  const isRenamed = typedName !== undefined && typedName.trim() !== material.name;
  const isTouched = isRenamed || isTurned || JSON.stringify(texts) !== begun;
  const [condition, setCondition] = useState("");
  useTitleBlock(`${material.code} ${material.name}`, renderer ? `${condition}, for ${renderer}` : condition);
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the same for as long as this form stands
  const now = useMemo(() => typedFinish(finish, texts), [texts]);
  const [, search] = useSearchParams();
  // A correction is judged by what its renderer made of the material, where that was handed in.
  const made = references.find((one) => one.state === "there" && one.profile === (profile || undefined));
  // Saving ends no comparison: a picture, and what came in, are there as before.
  const stays = lastOther === AS_RECEIVED || references.some(({ id }) => id === lastOther);
  const [other, setOther] = useState(beside?.name ?? made?.id ?? (stays ? lastOther : ""));
  const referred: Wear[] = useMemo(
    () => [
      ...material.wear.map(({ layer, ...wear }) => ({
        ...wear,
        material: layer.material,
        revision: layer.revision,
      })),
      ...offered,
    ],
    [material.wear, offered],
  );
  const isMaterial = material.kind === "material";
  const wear = useMemo(
    () => (isMaterial ? wornLayers(now.wear ?? [], referred) : ownMarks(material)),
    [isMaterial, now.wear, referred, material],
  );
  const others: Record<string, Drawn | undefined> = {
    [`as saved, revision ${material.revision}`]: { material, finish, wear: material.wear },
    ...(renderer && { "for every renderer": { material, finish: material.finish, wear: material.wear } }),
    [AS_RECEIVED]: { material, finish: came, wear: wornLayers(came.wear ?? [], referred) },
    ...Object.fromEntries(
      earlier(revisions, material.revision).map((number) => [`revision ${number}`, undefined]),
    ),
    ...(material.madeFrom && { [material.madeFrom.name]: undefined }),
    ...(beside && { [beside.name]: beside }),
  };
  const load = (asked: Record<string, string>) => search(asked, { replace: true, preventScrollReset: true });
  function compareWith(name: string) {
    setOther(name);
    onLastOther(name);
    const revision = /^revision (\d+)$/.exec(name)?.[1];
    if (revision !== undefined) load({ beside: material.id, revision });
    else if (name === material.madeFrom?.name) load({ beside: material.madeFrom.id });
  }
  // Another material is named once it is there.
  useEffect(() => {
    if (other === ANOTHER && beside) setOther(beside.name);
    // eslint-disable-next-line react-hooks/exhaustive-deps -- when it comes, and not when the list is opened again
  }, [beside?.name]);
  const normal = maps.find(({ role }) => role === "geometry_normal");
  const type = (changed: Partial<FinishTexts>, touched?: string) => {
    onTouch();
    history.set((before) => ({ ...before, ...changed }), touched);
  };
  return (
    <>
      <Unsaved when={isTouched && mayMake && !busy} what={isMaterial ? "the finish" : "the name"} />
      <FinishPicture
        material={material}
        finish={isMaterial ? now : PAPER}
        wear={wear}
        others={others}
        references={references}
        profiles={profiles}
        conditions={conditions}
        environments={environments}
        other={other}
        onOther={compareWith}
        onOtherMaterial={(id) => load({ beside: id })}
        onColor={({ tint, brightnessStops }) =>
          type({ tint, ...(brightnessStops !== undefined && { brightnessStops: String(brightnessStops) }) })
        }
        mayMake={mayMake && isMaterial}
        mayKeepLight={mayMake}
        onCondition={setCondition}
      />
      <div className="specification">
        <Form method="post" aria-label="Finish">
          <header>
            <h2>{isMaterial ? "Finish" : "Name"}</h2>
            <UndoRedo {...history} />
          </header>
          {isMaterial && (
            <div className="finish-begin">
              <Fields.Group className="mb-2" controlId="for-renderer">
                <Fields.Label>For</Fields.Label>
                <Fields.Select
                  size="sm"
                  value={profile}
                  disabled={isTouched}
                  onChange={(event) => onProfile(event.target.value)}
                >
                  <option value="">every renderer</option>
                  {profiles.map(({ id, name }) => (
                    <option key={id} value={id}>
                      {name}
                      {id in corrections ? ", corrected" : ""}
                    </option>
                  ))}
                </Fields.Select>
                {isTouched && <Fields.Text>Save first, or take it back.</Fields.Text>}
              </Fields.Group>
              <StartingPoint disabled={!mayMake} onChange={(change) => type(changeTexts(change))} />
            </div>
          )}
          <input type="hidden" name="seen" value={material.revision} />
          <input type="hidden" name="seenName" value={material.name} />
          <fieldset disabled={!mayMake}>
            {renderer ? (
              <>
                <input type="hidden" name="intent" value="correct" />
                <input type="hidden" name="profile" value={profile} />
                <p className="aside">Only what differs is kept, and only this renderer gets it.</p>
              </>
            ) : (
              <Fields.Group className="mb-2" controlId="name">
                <Fields.Label>Name</Fields.Label>
                <Fields.Control
                  size="sm"
                  name="name"
                  defaultValue={material.name}
                  maxLength={200}
                  required
                  onChange={(event) => {
                    onTouch();
                    setTypedName(event.target.value);
                  }}
                />
              </Fields.Group>
            )}
            {isMaterial ? (
              <Specification
                material={material}
                texts={texts}
                received={textsOf(received)}
                receivedWords={renderer ? "As for every renderer" : "As received"}
                grades={grades}
                roughness={<RoughnessClause maps={maps} finish={now} />}
                warning={reliefWarning(now, material)}
                onType={(field, text, touched) =>
                  type(
                    field === "grade" ? gradeTexts(text, received, maps, grades) : { [field]: text },
                    touched,
                  )
                }
              >
                {renderer ? (
                  <p className="aside">Wear is laid on for every renderer alike.</p>
                ) : (
                  <>
                    <input type="hidden" name="wear" value={texts.wear} />
                    <WearClauses
                      layers={typedWear(texts.wear)}
                      offered={offered}
                      referred={referred}
                      onLayers={(layers, touched) => type({ wear: wearText(layers) }, touched)}
                    />
                  </>
                )}
                <BakeChoice
                  material={{ ...material, finish: now, wear }}
                  profiles={renderer ? profiles.filter(({ id }) => id === profile) : profiles}
                  chosen={texts.wearFit}
                  onChoose={(wearFit) => type({ wearFit })}
                />
              </Specification>
            ) : (
              <p className="aside">
                {material.kind === "wear"
                  ? "The picture shows its light parts in red. What its marks do, and how strongly, is set where it is laid over a material: at the end of that one’s finish."
                  : "It lights views, and is no sample."}
              </p>
            )}
            {normal && !renderer && (
              <Fields.Group controlId="normalDirection" className="mt-2">
                <Fields.Label>Green of the normal map</Fields.Label>
                <Fields.Select
                  size="sm"
                  name="normalDirection"
                  defaultValue={normal.normalDirection ?? ""}
                  onChange={(event) => {
                    onTouch();
                    setTurned(event.target.value !== (normal.normalDirection ?? ""));
                  }}
                >
                  {!normal.normalDirection && <option value="">up, +Y (assumed)</option>}
                  <option value="+Y">up, +Y</option>
                  <option value="-Y">down, −Y</option>
                </Fields.Select>
                <Fields.Text>if joints stand out, turn it</Fields.Text>
              </Fields.Group>
            )}
            <div className="save">
              {children}
              <Reached />
              <Button type="submit" disabled={busy}>
                Save
              </Button>{" "}
              <Button variant="outline-secondary" onClick={() => type(textsOf(received))}>
                {renderer ? "As for every renderer" : "All as received"}
              </Button>
            </div>
          </fieldset>
        </Form>
        {mayMake && isMaterial && <KeepGrade finish={now} grades={grades} />}
        {mayMake && <Copy name={material.name} isTouched={isTouched} />}
        {mayKeep && <Remove name={material.name} />}
      </div>
    </>
  );
}
