import type { RoleKind } from "#core/roles/kind";

/** Unit vectors, encoded as colours. */
export const GEOMETRY_NORMAL: RoleKind = {
  name: "normal",
  holds: "vectors",
  words: {
    certain:
      "normal|normals|normal map|normalmap|geometry normal|normalen|normale|normalenkarte|normalmaps|normales|normali|normal texture|tangent normal|carte normale|mapa normal|mapa normales|mappa normale|normais|normaal|normal bump|local",
    usual: "nrm|nor|norm|nm|nml|nmap|norms|nrml|nrmap|norma|nmp",
    weak: "n|nr",
    plusY:
      "normal gl|normals gl|normalgl|nor gl|nrm gl|nrmgl|norgl|norm gl|normal ogl|normalogl|normal opengl|normalopengl|normal open gl|nor opengl|nrm ogl|normal plusy|normal y plus|normal yplus|normal up|normal ypos|normal map gl|normal map opengl|normalen gl|nm gl",
    minusY:
      "normal dx|normals dx|normaldx|nor dx|nrm dx|nrmdx|nordx|norm dx|normal directx|normaldirectx|normal direct x|nor directx|normal minusy|normal y minus|normal yminus|normal down|normal yneg|normal map dx|normal map directx|normalen dx|nm dx",
  },
  inputs: { materialX: ["geometry_normal", "normal"], usd: ["normal"] },
};
