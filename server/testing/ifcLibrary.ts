/** What the tests ask of the reader of IFC files: lines as objects with their attributes by name. */
interface Reader {
  Init(): Promise<void>;
  OpenModel(data: Uint8Array): number;
  GetModelSchema(model: number): string;
  GetLineIDsWithType(model: number, type: number): Vector<number>;
  GetLine(model: number, id: number, flatten?: boolean): Line;
  LoadAllGeometry(model: number): Vector<{ geometries: Vector<unknown> }>;
}

interface Vector<T> {
  size(): number;
  get(at: number): T;
}

// eslint-disable-next-line @typescript-eslint/no-explicit-any -- tests look at whatever an entity has
export type Line = Record<string, any>;

interface Library {
  IfcAPI: new () => Reader;
  [entity: string]: unknown;
}

/** An IFC file as another reader sees it. */
export async function readIfc(bytes: Uint8Array) {
  // A CommonJS module: what it exports is its default.
  const { default: library } = (await import("web-ifc")) as unknown as { default: Library };
  const reader = new library.IfcAPI();
  await reader.Init();
  const model = reader.OpenModel(bytes);
  const meshes = reader.LoadAllGeometry(model);
  return {
    schema: reader.GetModelSchema(model),
    /** All of a kind, with what they refer to in place of the references. */
    all(entity: string): Line[] {
      const ids = reader.GetLineIDsWithType(model, library[entity] as number);
      return Array.from({ length: ids.size() }, (_, at) => reader.GetLine(model, ids.get(at), true));
    },
    /** How many things have a shape that can be drawn. */
    meshes: Array.from({ length: meshes.size() }, (_, at) => meshes.get(at).geometries.size()).filter(Boolean)
      .length,
  };
}
