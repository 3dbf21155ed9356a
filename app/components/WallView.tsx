import { Suspense, useEffect, useMemo } from "react";
import { OrbitControls, useTexture } from "@react-three/drei";
import { Canvas, useThree } from "@react-three/fiber";
import {
  NoColorSpace,
  RepeatWrapping,
  Shape,
  SRGBColorSpace,
  Vector2,
  type Texture,
  type WebGLProgramParametersWithUniforms,
} from "three";
import type { Repeat } from "#core/length/repeat";
import { adjustedHex, colorAdjustment } from "#core/finish/colorAdjustment";
import { heightAmplitude, type Finish } from "#core/finish/finish";
import type { MaterialMap, MaterialState } from "#core/finish/material";
import { adjustedRoughness, roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import type { Role } from "#core/roles/roles";
import { closePreviewUrl } from "./previewUrl";

type Shown = Pick<MaterialState, "layout" | "repeat" | "finish" | "maps">;

interface WallViewProps {
  material: Shown;
  /** Size of the wall in metres. */
  wall: { width: number; height: number };
  /** Where the light stands around the wall's normal, and how high above the surface; degrees. */
  light: { around: number; above: number };
}

const FIELD_OF_VIEW = 42;

/** From where the whole wall is seen, with some room around it, in a view that is about 1.6 times as wide as high. */
function distanceToSee(wall: WallViewProps["wall"]): number {
  const half = Math.tan((FIELD_OF_VIEW * Math.PI) / 360);
  return Math.max((wall.height * 1.22) / (2 * half), (wall.width * 1.1) / (2 * half * 1.6)) + 0.5;
}

/** The material on a wall of real size with a figure beside it, under one light that can graze it. */
export default function WallView({ material, wall, light }: WallViewProps) {
  const distance = distanceToSee(wall);
  return (
    <Canvas
      flat
      frameloop="demand"
      dpr={[1, 2]}
      camera={{ fov: FIELD_OF_VIEW, near: 0.02, far: 200, position: [distance * 0.09, 1.6, distance] }}
    >
      <color attach="background" args={["#9b9b9b"]} />
      <hemisphereLight args={["#ffffff", "#d8d4cc", 0.85]} />
      <Sun light={light} wall={wall} />
      <Suspense fallback={null}>
        {material.maps.length > 0 ? (
          <TexturedWall material={material} wall={wall} />
        ) : (
          <PlainWall material={material} wall={wall} />
        )}
      </Suspense>
      <mesh rotation={[-Math.PI / 2, 0, 0]} position={[0, 0, 3]}>
        <planeGeometry args={[wall.width + 8, 6]} />
        <meshBasicMaterial color="#807e7a" />
      </mesh>
      <Figure x={Math.max(wall.width / 2 - 0.6, 0)} />
      <OrbitControls
        makeDefault
        target={[0, wall.height * 0.48, 0]}
        maxPolarAngle={Math.PI * 0.52}
        minDistance={0.25}
        maxDistance={30}
        enableDamping={false}
      />
      <Redraw of={[material, wall, light]} />
    </Canvas>
  );
}

/** Frames are drawn on demand: whatever changes asks for one. */
function Redraw({ of }: { of: unknown[] }) {
  const invalidate = useThree((state) => state.invalidate);
  useEffect(() => invalidate());
  void of;
  return null;
}

function Sun({ light, wall }: { light: WallViewProps["light"]; wall: WallViewProps["wall"] }) {
  const above = (light.above * Math.PI) / 180;
  const around = (light.around * Math.PI) / 180;
  const far = 20;
  const position: [number, number, number] = [
    far * Math.cos(above) * Math.cos(around),
    wall.height / 2 + far * Math.cos(above) * Math.sin(around),
    far * Math.sin(above),
  ];
  // A grazing light is brightened, as an eye would open, so that relief is compared and not exposure.
  const intensity = (0.75 * Math.PI) / Math.max(0.25, Math.sin(above));
  return (
    <directionalLight position={position} intensity={intensity}>
      <object3D attach="target" position={[0, wall.height / 2, 0]} />
    </directionalLight>
  );
}

function PlainWall({ material, wall }: { material: Shown; wall: WallViewProps["wall"] }) {
  return (
    <mesh position={[0, wall.height / 2, 0]}>
      <planeGeometry args={[wall.width, wall.height]} />
      <meshStandardMaterial
        color={plainColor(material.finish, "#888888")}
        roughness={adjustedRoughness(material.finish.roughness, roughnessAdjustment(material.finish))}
        metalness={material.finish.metalness}
      />
    </mesh>
  );
}

/** The colour of what has no image, after its finish. */
const plainColor = (finish: Finish, otherwise: string): string =>
  adjustedHex(finish.color ?? otherwise, colorAdjustment(finish));

/** Roles that the view shows, and the slot of three's standard material for each. */
const SLOTS: [slot: string, roles: Role[]][] = [
  ["map", ["base_color"]],
  ["normalMap", ["geometry_normal"]],
  ["roughnessMap", ["specular_roughness", "gloss"]],
  ["metalnessMap", ["base_metalness"]],
  ["aoMap", ["ambient_occlusion"]],
  ["alphaMap", ["geometry_opacity"]],
  ["emissiveMap", ["emission_color"]],
];

function TexturedWall({ material, wall }: { material: Shown; wall: WallViewProps["wall"] }) {
  const { finish, maps } = material;
  const used = useMemo(() => {
    const slots: Record<string, MaterialMap> = {};
    for (const [slot, roles] of SLOTS) {
      const map = roles.map((role) => maps.find((candidate) => candidate.role === role)).find(Boolean);
      if (map) slots[slot] = map;
    }
    const relief = maps.find(({ role }) => role === "height") ?? maps.find(({ role }) => role === "bump");
    if (!slots.normalMap && relief) slots.bumpMap = relief;
    return slots;
  }, [maps]);
  const urls = useMemo(
    () => Object.fromEntries(Object.entries(used).map(([slot, map]) => [slot, closePreviewUrl(map)])),
    [used],
  );
  const textures = useTexture(urls) as Record<string, Texture>;
  const maxAnisotropy = useThree((state) => state.gl.capabilities.getMaxAnisotropy());

  // Without a known size the image is laid once, as wide as the wall is high: a picture, not a statement.
  const repeat: Repeat = material.repeat ?? { width: wall.height * 1000, height: wall.height * 1000 };
  useMemo(() => {
    for (const [slot, texture] of Object.entries(textures)) {
      texture.wrapS = texture.wrapT = RepeatWrapping;
      texture.repeat.set((wall.width * 1000) / repeat.width, (wall.height * 1000) / repeat.height);
      texture.colorSpace = slot === "map" || slot === "emissiveMap" ? SRGBColorSpace : NoColorSpace;
      texture.anisotropy = Math.min(8, maxAnisotropy);
      texture.needsUpdate = true;
    }
  }, [textures, wall, repeat.width, repeat.height, maxAnisotropy]);

  const direction = used.normalMap?.normalDirection === "-Y" ? -1 : 1;
  const isGloss = used.roughnessMap?.role === "gloss";
  return (
    <mesh position={[0, wall.height / 2, 0]}>
      <planeGeometry args={[wall.width, wall.height]} />
      <meshStandardMaterial
        key={Object.keys(used).join() + String(isGloss)}
        {...textures}
        color={used.map ? (finish.tint ?? "#ffffff") : plainColor(finish, "#999999")}
        roughness={
          used.roughnessMap
            ? Math.min(1, finish.roughnessScale ?? 1)
            : adjustedRoughness(finish.roughness, roughnessAdjustment(finish))
        }
        metalness={used.metalnessMap ? 1 : finish.metalness}
        normalScale={new Vector2(finish.normalStrength, finish.normalStrength * direction)}
        aoMapIntensity={finish.occlusionStrength}
        bumpScale={heightAmplitude(finish, material.repeat).mm / 4}
        // Cut-outs and what fades alike: behind the one wall there is nothing to be sorted.
        transparent={used.alphaMap !== undefined}
        onBeforeCompile={isGloss ? readGloss : undefined}
      />
    </mesh>
  );
}

/** Roughness is 1 − gloss. */
function readGloss(shader: WebGLProgramParametersWithUniforms): void {
  shader.fragmentShader = shader.fragmentShader.replace(
    "#include <roughnessmap_fragment>",
    "float roughnessFactor = roughness * (1.0 - texture2D(roughnessMap, vRoughnessMapUv).g);",
  );
}

/** Half of an outline from the crown down to the floor, in metres from the figure's axis; the other half mirrors it. */
const HALF_FIGURE: [x: number, y: number][] = [
  [0.055, 1.485],
  [0.06, 1.45],
  [0.15, 1.415],
  [0.2, 1.37],
  [0.222, 1.25],
  [0.238, 1.08],
  [0.25, 0.9],
  [0.252, 0.8],
  [0.232, 0.755],
  [0.212, 0.79],
  [0.2, 0.95],
  [0.172, 1.12],
  [0.168, 0.98],
  [0.178, 0.86],
  [0.17, 0.62],
  [0.142, 0.4],
  [0.128, 0.12],
  [0.15, 0.02],
  [0.148, 0],
  [0.045, 0],
  [0.05, 0.1],
  [0.042, 0.4],
  [0.022, 0.7],
  [0, 0.76],
];

/** A flat standing figure of 1.7 m, cut like the ones that architects put into drawings. */
function Figure({ x }: { x: number }) {
  const [body, head] = useMemo(() => {
    const points = [
      ...HALF_FIGURE,
      ...HALF_FIGURE.toReversed().map(([px, py]): [number, number] => [-px, py]),
    ];
    const body = new Shape();
    body.moveTo(...points[0]);
    for (const point of points.slice(1)) body.lineTo(...point);
    const head = new Shape();
    head.absellipse(0, 1.578, 0.083, 0.122, 0, Math.PI * 2);
    return [body, head];
  }, []);
  return (
    <group position={[x, 0, 0.4]}>
      {[body, head].map((shape, at) => (
        <mesh key={at}>
          <shapeGeometry args={[shape, 24]} />
          <meshBasicMaterial color="#2a2927" />
        </mesh>
      ))}
    </group>
  );
}
