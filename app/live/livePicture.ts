import {
  ClampToEdgeWrapping,
  DataTexture,
  FloatType,
  GLSL3,
  LinearFilter,
  LinearMipmapLinearFilter,
  Matrix3,
  Mesh,
  BufferAttribute,
  BufferGeometry,
  Camera,
  NearestFilter,
  NoColorSpace,
  RawShaderMaterial,
  RedFormat,
  RepeatWrapping,
  RGBAFormat,
  Scene,
  SRGBColorSpace,
  Vector2,
  Vector3,
  Vector4,
  WebGLRenderer,
} from "three";
import { EMITS_NITS, type Finish } from "#core/finish/finish";
import { turnedCorner, turnOf, type Laid } from "#core/finish/marks";
import { roughnessAdjustment } from "#core/finish/roughnessAdjustment";
import { isRelief, wornHeightMm } from "#core/finish/wear";
import { adjusterOf, colorAdjustment, colorCurves } from "#core/finish/colorAdjustment";
import { bendOf, FOLD_LENGTHS } from "#core/picture/bent";
import { blockIn } from "#core/picture/block";
import type { Condition } from "#core/picture/condition";
import { detailLevel } from "#core/picture/detail";
import { WIDTH } from "#core/picture/environment";
import { dimmedBy, lampOf, plainGround } from "#core/picture/picture";
import { constantsOf, NO_COLOR } from "#core/picture/surfaceReader";
import { wallIn } from "#core/picture/wall";
import type { View } from "#core/picture/view";
import { hexToLinear } from "#core/raster/srgb";
import { isColorRole, type NormalDirection, type Role } from "#core/roles/roles";
import { levelsOf } from "#core/shade/albedo";
import { f0OfIor } from "#core/shade/fresnel";
import type { Rgb } from "#core/shade/rgb";
import type { Vector } from "#core/shade/vector";
import {
  FUZZ_TABLE,
  MIRROR_TABLE,
  TABLE_COLUMNS,
  TABLE_ROWS,
  TABLES,
  type LightTables,
  type TableRows,
} from "./lightTables";
import { pictureGlsl } from "./picture.glsl";
import { samplerOf } from "./surface.glsl";

/** A map as the browser has decoded it: four channels, rows from the top. */
export interface LiveMap {
  key: string;
  role: Role;
  normalDirection: NormalDirection | null;
  width: number;
  height: number;
  data: Uint8ClampedArray;
}

/** A material as the graphics card draws it. */
export interface LiveMaterial {
  maps: LiveMap[];
  /** Of wear layers. */
  masks: LiveMap[];
  repeat: { width: number; height: number };
  wraps: boolean;
}

/** Its values, and the layers that change anything; a mask by its key. */
export interface LiveValues {
  finish: Finish;
  heightMm: number;
  wear: (Omit<Laid, "texture"> & { mask: string; wraps: boolean })[];
}

/** More maps are not held at a time: about five megabytes each. Two materials with all that can lie on them have fewer. */
const MOST_TEXTURES = 56;

/** Other than maps: tables, the environment, its mirror, folds. */
const OWN_TEXTURES = 4;

/**
 * Draws materials by the model of `core/shade/` on the graphics card: at once, for whoever turns something. The core's picture is the
 * judge; this one agrees with it within what a screen shows.
 */
export class LivePicture {
  private readonly renderer: WebGLRenderer;
  private readonly scene = new Scene();
  private readonly camera = new Camera();
  private readonly mesh: Mesh<BufferGeometry, RawShaderMaterial>;
  private readonly programs = new Map<string, { material: RawShaderMaterial; isReady: boolean }>();
  private readonly textures = new Map<string, DataTexture>();
  private readonly tables: DataTexture;
  private readonly filled = new Set<number>();
  private readonly lights = new Map<
    string,
    { grids: DataTexture; mirror: DataTexture; tables: LightTables }
  >();
  private readonly folds: DataTexture;
  private isLost = false;

  /** @throws {Error} where there is no WebGL 2, or no card that makes it quick, unless a slow one will do */
  constructor(canvas: HTMLCanvasElement, isSlowWelcome = false) {
    this.renderer = new WebGLRenderer({
      canvas,
      antialias: false,
      preserveDrawingBuffer: true,
      failIfMajorPerformanceCaveat: !isSlowWelcome,
    });
    canvas.addEventListener("webglcontextlost", () => (this.isLost = true));
    // A card whose driver does not take a program draws nothing right: the others draw then.
    this.renderer.debug.onShaderError = () => (this.isLost = true);
    const rows = new Float32Array(TABLES * TABLE_ROWS * TABLE_COLUMNS);
    this.tables = numbers(rows, TABLE_COLUMNS, TABLES * TABLE_ROWS, 1);
    this.folds = numbers(Float32Array.from(FOLD_LENGTHS), FOLD_LENGTHS.length, 1, 1);
    // One triangle that covers all.
    const geometry = new BufferGeometry();
    geometry.setAttribute(
      "position",
      new BufferAttribute(new Float32Array([-1, -1, 0, 3, -1, 0, -1, 3, 0]), 3),
    );
    this.mesh = new Mesh(geometry);
    this.mesh.frustumCulled = false;
    this.scene.add(this.mesh);
  }

  addTables(tables: readonly TableRows[]): void {
    for (const { at, rows } of tables) {
      (this.tables.image.data as Float32Array).set(rows, at * TABLE_ROWS * TABLE_COLUMNS);
      this.filled.add(at);
    }
    this.tables.needsUpdate = true;
  }

  addLight(environment: Condition["environment"], tables: LightTables): void {
    const { mirrorSize: size } = tables;
    this.lights.set(environment, {
      grids: numbers(tables.grids, WIDTH, tables.gridHeight, 4),
      mirror: numbers(tables.mirror, size.width, size.height, 4),
      tables,
    });
  }

  hasLight = (environment: Condition["environment"]): boolean => this.lights.has(environment);
  missingTables = (tables: readonly number[]): number[] => tables.filter((at) => !this.filled.has(at));

  /**
   * Draws on the canvas, in the size of the view.
   * @returns false where it cannot: something has not come yet, the program is still being made, or the card has not room for so many maps
   */
  draw(material: LiveMaterial, values: LiveValues, view: View, condition: Condition): boolean {
    const light = this.lights.get(condition.environment);
    if (this.isLost || !light || this.missingTables(tablesFor(material, values.finish)).length > 0)
      return false;
    const maps = uniqueMaps(material.maps);
    const wear = values.wear.flatMap((laid) => {
      const mask = material.masks.find(({ key }) => key === laid.mask);
      return mask ? [{ ...laid, map: mask }] : [];
    });
    if (maps.length + wear.length + OWN_TEXTURES > this.renderer.capabilities.maxTextures) return false;
    const roles = new Set(maps.map(({ role }) => role));
    const kinds = wear.map(({ layer, wraps }) => ({ effect: layer.effect, wraps }));
    const program = this.programFor(view.shape, roles, kinds);
    if (!program.isReady) return false;
    const { uniforms } = program.material;
    const set = (name: string, value: unknown) => void (uniforms[name] = { value });
    const lodOf = (map: LiveMap, size: { width: number; height: number }) =>
      Math.min(detailLevel(map, size, view.mmPerPx), Math.floor(Math.log2(Math.max(map.width, map.height))));
    for (const map of maps) {
      set(samplerOf(map.role), this.textureOf(map, material.wraps));
      set(`lod_${map.role}`, lodOf(map, material.repeat));
    }
    set("tables", this.tables);
    set("foldLengths", this.folds);
    set("lightGrids", light.grids);
    set("mirrorGrid", light.mirror);
    for (const [name, value] of Object.entries(lightUniforms(condition, light.tables, view)))
      set(name, value);
    for (const [name, value] of Object.entries(viewUniforms(view, material.repeat))) set(name, value);
    const height = maps.find(({ role }) => role === "height") ?? maps.find(({ role }) => role === "bump");
    const heightLod = height ? 2 ** lodOf(height, material.repeat) : 1;
    for (const [name, value] of Object.entries(finishUniforms(values, maps, height, heightLod)))
      set(name, value);
    set("repeat", new Vector2(material.repeat.width, material.repeat.height));
    wear.forEach((laid, at) => {
      const uniformsOf = wearUniforms(laid, lodOf(laid.map, laid.size));
      for (const [name, value] of Object.entries(uniformsOf)) set(`${name}${at}`, value);
      set(`mask${at}`, this.textureOf(laid.map, laid.wraps));
    });
    // Slopes are taken over one pixel of the finest layer.
    const steps = wear
      .filter(({ layer }) => isRelief(layer.effect))
      .map(({ map, size }) => pixelMm(map, size) * 2 ** lodOf(map, size));
    set("wearStepMm", Math.min(1e6, ...steps));
    const worn = wear.reduce((sum, { layer }) => sum + Math.max(0, wornHeightMm(layer, layer.strength)), 0);
    const [, highest] = values.finish.heightRange ?? [0, 1];
    set("topMm", (height ? (highest - values.finish.heightMiddle) * values.heightMm : 0) + worn);
    this.mesh.material = program.material;
    program.material.uniformsNeedUpdate = true;
    this.renderer.setSize(view.width, view.height, false);
    this.renderer.render(this.scene, this.camera);
    return !this.isLost;
  }

  /** Waits until it is drawn. */
  settle(): void {
    const gl = this.renderer.getContext();
    gl.readPixels(0, 0, 1, 1, gl.RGBA, gl.UNSIGNED_BYTE, new Uint8Array(4));
  }

  dispose(): void {
    for (const { material } of this.programs.values()) material.dispose();
    for (const texture of this.textures.values()) texture.dispose();
    this.renderer.dispose();
    this.renderer.forceContextLoss();
  }

  private programFor(...[shape, roles, kinds]: Parameters<typeof pictureGlsl>) {
    const key = JSON.stringify([shape, [...roles], kinds]);
    const made = this.programs.get(key);
    if (made) return made;
    const material = new RawShaderMaterial({
      glslVersion: GLSL3,
      vertexShader: "in vec3 position; void main() { gl_Position = vec4(position, 1.0); }",
      fragmentShader: pictureGlsl(shape, roles, kinds),
      uniforms: {},
      depthTest: false,
    });
    const program = { material, isReady: false };
    this.programs.set(key, program);
    this.mesh.material = material;
    // It is made beside: a large one takes a second on some cards.
    void this.renderer.compileAsync(this.scene, this.camera).then(() => (program.isReady = true));
    return program;
  }

  private textureOf(map: LiveMap, wraps: boolean): DataTexture {
    const key = `${map.key} ${map.role} ${wraps}`;
    const made = this.textures.get(key);
    if (made) {
      // The one that was used last is the last to go.
      this.textures.delete(key);
      this.textures.set(key, made);
      return made;
    }
    const [oldest] = this.textures;
    if (this.textures.size >= MOST_TEXTURES) {
      oldest[1].dispose();
      this.textures.delete(oldest[0]);
    }
    const texture = new DataTexture(
      map.data as Uint8ClampedArray<ArrayBuffer>,
      map.width,
      map.height,
      RGBAFormat,
    );
    texture.colorSpace = isColorRole(map.role) ? SRGBColorSpace : NoColorSpace;
    texture.wrapS = texture.wrapT = wraps ? RepeatWrapping : ClampToEdgeWrapping;
    texture.magFilter = LinearFilter;
    texture.minFilter = LinearMipmapLinearFilter;
    texture.generateMipmaps = true;
    texture.needsUpdate = true;
    this.textures.set(key, texture);
    return texture;
  }
}

function numbers(data: Float32Array, width: number, height: number, channels: 1 | 4): DataTexture {
  const texture = new DataTexture(
    data as Float32Array<ArrayBuffer>,
    width,
    height,
    channels === 1 ? RedFormat : RGBAFormat,
    FloatType,
  );
  texture.magFilter = texture.minFilter = NearestFilter;
  texture.needsUpdate = true;
  return texture;
}

const pixelMm = (map: LiveMap, size: { width: number; height: number }) =>
  Math.min(size.width / map.width, size.height / map.height);

/** Of one layer, without its number. */
function wearUniforms({ layer, size }: Omit<Laid, "texture">, lod: number) {
  const { strength, polarity, tint = "#ffffff" } = layer;
  const { x, y } = turnedCorner({ layer, size });
  const { cos, sin } = turnOf(layer.turn);
  return {
    wearPlace: new Vector4(size.width, size.height, x, y),
    wearTurn: new Vector2(cos, sin),
    wearHow: new Vector3(strength, Number(polarity === "light"), lod),
    wearTint: vector(hexToLinear(tint)),
    wearMm: wornHeightMm(layer, 1),
  };
}

const vector = ([x, y, z]: Vector | Rgb) => new Vector3(x, y, z);

/** Gloss stands for roughness, and bump for a height, only where those are not there. */
function uniqueMaps(maps: LiveMap[]): LiveMap[] {
  const byRole = new Map(maps.map((map) => [map.role, map]));
  if (byRole.has("gloss")) byRole.delete("specular_roughness");
  return [...byRole.values()];
}

/** The tables that a material is drawn with. */
export function tablesFor({ maps }: Pick<LiveMaterial, "maps">, finish: Finish): number[] {
  const has = (role: Role) => maps.some((map) => map.role === role);
  const base = levelsOf(Math.min(1, f0OfIor(finish.ior) * (finish.specularWeight ?? 1)));
  // A map of weights reaches every reflectance below its own.
  const levels = has("specular_weight") ? Array.from({ length: base[1] + 1 }, (_, level) => level) : base;
  const coat = finish.coatWeight || has("coat_weight") ? levelsOf(f0OfIor(finish.coatIor ?? 1.5)) : [];
  const fuzz = finish.fuzzWeight || has("fuzz_weight") ? [FUZZ_TABLE] : [];
  return [...new Set([MIRROR_TABLE, ...levels, ...coat, ...fuzz])];
}

function lightUniforms(condition: Condition, tables: LightTables, view: View) {
  const { direction, light, behind } = lampOf(condition);
  const ground = plainGround(condition, view.shape);
  const turn = (condition.environmentTurn * Math.PI) / 180;
  const { right, up, toEye } = blockIn(view);
  // A lamp is said for what faces the eye.
  const lamp =
    view.shape === "block"
      ? vector(right)
          .multiplyScalar(direction[0])
          .addScaledVector(vector(up), direction[1])
          .addScaledVector(vector(toEye), direction[2])
          .normalize()
      : vector(direction);
  return {
    lamp,
    lampLight: light,
    behindLight: behind,
    dimmed: dimmedBy(condition, tables.irradiance),
    environmentTurn: new Vector2(Math.sin(turn), Math.cos(turn)),
    exposure: 2 ** condition.exposureStops,
    isNeutral: condition.tone === "neutral",
    isPlainGround: ground !== undefined,
    plainGround: vector(ground ?? [0, 0, 0]),
  };
}

function viewUniforms(view: View, repeat: LiveMaterial["repeat"]) {
  const block = blockIn(view);
  const wall = wallIn(view);
  const eye = view.shape === "wall" ? wall : block;
  const { half = { width: 0, height: 0 }, bend = 0 } = bendOf(view, repeat);
  return {
    viewSize: new Vector2(view.width, view.height),
    mmPerPx: view.mmPerPx,
    centre: new Vector2(view.centre.x, view.centre.y),
    hasCards: view.cards && view.shape === "panel",
    blockHalf: vector(block.half),
    blockRound: block.round,
    wallHalf: new Vector2(wall.half.width, wall.half.height),
    eyeInWorld: vector(eye.eyeAt),
    viewRight: vector(eye.right),
    viewUp: vector(eye.up),
    turned: new Matrix3(
      ...(block.turned.flat() as [number, number, number, number, number, number, number, number, number]),
    ),
    sheetHalf: new Vector2(half.width, half.height),
    bend,
  };
}

function finishUniforms(
  { finish, heightMm }: LiveValues,
  maps: LiveMap[],
  height: LiveMap | undefined,
  reduced: number,
) {
  const has = (role: Role) => maps.some((map) => map.role === role);
  const adjustment = colorAdjustment(finish);
  const adjust = adjustment ? adjusterOf(adjustment) : (color: Rgb) => color;
  const { gains, warm, gamma, contrast, saturation } = colorCurves(adjustment ?? {});
  const rough = roughnessAdjustment(finish) ?? { scale: 1, shift: 0, low: 0, high: 1 };
  const [lowest, highest] = finish.heightRange ?? [0, 1];
  const { color, ...rest } = finish;
  const surface = constantsOf(finish);
  const amount = (set: number | undefined, role: Role) => set ?? (has(role) ? 1 : 0);
  return {
    constant: {
      ...Object.fromEntries(
        Object.entries(surface).map(([name, value]) => [
          name,
          Array.isArray(value) ? vector(value as unknown as Rgb) : value,
        ]),
      ),
      translucencyWeight:
        finish.translucencyWeight ?? (has("subsurface_color") && finish.thinWalled ? 0.5 : 0),
    },
    plainColor: vector(adjust(color === undefined ? NO_COLOR : hexToLinear(color))),
    finishRoughness: finish.roughness,
    finishMetalness: finish.metalness,
    roughnessAdjusted: new Vector4(rough.scale, rough.shift, rough.low, rough.high),
    isAdjusted: adjustment !== undefined,
    gains: new Vector3(...gains),
    warm: warm ? new Matrix3(...warm[0], ...warm[1], ...warm[2]) : new Matrix3(),
    curve: new Vector3(gamma, contrast, saturation),
    coatAmount: amount(rest.coatWeight, "coat_weight"),
    fuzzAmount: amount(rest.fuzzWeight, "fuzz_weight"),
    transmissionAmount: amount(rest.transmissionWeight, "transmission_weight"),
    emitted: vector(
      finish.emissionColor === undefined ? [1, 1, 1] : hexToLinear(finish.emissionColor),
    ).multiplyScalar(finish.emissionNits ?? EMITS_NITS),
    cutAt: finish.opacityMode === "cut-out" ? (finish.opacityThreshold ?? 0.5) : -1,
    occlusion: new Vector2(finish.occlusionStrength, finish.occlusionGamma),
    normalStrength: finish.normalStrength,
    greenUp: maps.find(({ role }) => role === "geometry_normal")?.normalDirection === "-Y" ? -1 : 1,
    heightRange: new Vector4(lowest, highest, finish.heightMiddle, heightMm),
    heightPixel: height ? new Vector2(reduced / height.width, reduced / height.height) : new Vector2(1, 1),
  };
}
