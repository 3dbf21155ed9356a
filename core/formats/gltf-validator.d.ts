declare module "gltf-validator" {
  interface Report {
    issues: { messages: { severity: number; code: string; message: string; pointer?: string }[] };
  }
  const validator: { validateBytes(bytes: Uint8Array): Promise<Report> };
  export default validator;
}
