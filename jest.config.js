/** Unit tests of core and server; those that need PostgreSQL read DATABASE_URL, which bin/check sets. */
export default {
  roots: ["<rootDir>/core", "<rootDir>/server", "<rootDir>/app"],
  testMatch: ["**/*.test.ts"],
  extensionsToTreatAsEsm: [".ts"],
  transform: {
    "^.+\\.ts$": ["@swc/jest", { jsc: { parser: { syntax: "typescript" }, target: "es2022" } }],
  },
  testTimeout: 30_000,
};
