const swc = (tsx) => [
  "<rootDir>/jest.transform.mjs",
  {
    jsc: {
      parser: { syntax: "typescript", tsx },
      target: "es2022",
      transform: { react: { runtime: "automatic" } },
    },
  },
];

/** Unit tests of core, server and app; those that need PostgreSQL read DATABASE_URL, which bin/check sets. */
export default {
  roots: ["<rootDir>/core", "<rootDir>/server", "<rootDir>/supplier-service", "<rootDir>/app"],
  testMatch: ["**/*.test.ts"],
  extensionsToTreatAsEsm: [".ts", ".tsx"],
  transform: { "^.+\\.ts$": swc(false), "^.+\\.tsx$": swc(true) },
  moduleNameMapper: {
    "^#server/pool/childScript$": "<rootDir>/server/testing/childScript.ts",
    "\\.(css|scss)$|^@fontsource": "<rootDir>/app/testing/noStyles.ts",
  },
  globalSetup: "<rootDir>/server/testing/beforeTests.mjs",
  globalTeardown: "<rootDir>/server/testing/afterTests.mjs",
  // A test that waits for its turn on a busy machine is not wrong.
  testTimeout: 120_000,
  // Much of the time is waited for PostgreSQL and for processes: two go on where one alone would leave a core idle.
  maxWorkers: 2,
};
