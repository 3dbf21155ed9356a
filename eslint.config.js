import hooks from "eslint-plugin-react-hooks";
import tseslint from "typescript-eslint";

/** Imports run one way only: app → server → core; core imports nobody but a few packages that know nothing of us. */
const oneWay = (patterns) => ({ "no-restricted-imports": ["error", { patterns }] });
/** A stream is made where it is used: as an argument of what listens to it, in the same tick. */
const LISTENS =
  "CallExpression[callee.name=/^(pipeline|keep|hashOf)$/], CallExpression[callee.property.name=/^(keep|pipe)$/]";
const streamsAtOnce = [
  {
    selector: `:not(:matches(${LISTENS})) > CallExpression[callee.name=/^create(Read|Write)Stream$/]`,
    message: "Make the stream as an argument of pipeline or keep: it may err before anything else listens.",
  },
  {
    selector: "AwaitExpression > CallExpression[callee.property.name=/^open(Read)?Stream$/]",
    message: "Attach to the stream in the tick in which it comes: it may err before an await goes on.",
  },
];
const outOf = (folder) => ({
  regex: `^(\\.\\./)+${folder}(/|$)`,
  message: `Imports do not run to ${folder} from here.`,
});

/** Screens and the HTTP interface do the same thing in the same way: by a command, which writes, tells and settles what follows. */
const byCommands = {
  regex: "^#server/(\\w+/writes|events/events)",
  message: "Call a command of the subject: it writes in one transaction, and tells who looks.",
};

export default tseslint.config(
  { ignores: ["build", ".react-router", "node_modules", "test-results", "playwright-report", "**/*.as.ts"] },
  ...tseslint.configs.recommended,
  {
    rules: {
      "@typescript-eslint/consistent-type-imports": ["error", { disallowTypeAnnotations: false }],
      "@typescript-eslint/no-unused-vars": ["error", { argsIgnorePattern: "^_", varsIgnorePattern: "^_" }],
      "no-restricted-syntax": [
        "error",
        { selector: "ExportAllDeclaration", message: "No barrels: import from the file that has it." },
        { selector: "TSEnumDeclaration", message: "A union of strings does." },
      ],
      eqeqeq: "error",
      "prefer-const": "error",
    },
  },
  {
    files: ["core/**/*.ts"],
    ignores: ["**/*.test.ts"],
    rules: {
      ...oneWay([
        { regex: "^#server/", message: "The computation knows nothing of the application." },
        {
          regex: "^(node:|react|pg$|express|sharp)",
          message: "The computation is pure: no Node, no React, no SQL, no decoder.",
        },
        outOf("(app|server|supplier-service|demo|e2e|bench)"),
      ]),
      "no-restricted-globals": ["error", "process", "window", "document", "Buffer", "fetch", "setTimeout"],
      "no-restricted-properties": [
        "error",
        { object: "Date", property: "now", message: "The computation has no clock." },
        { object: "Math", property: "random", message: "Randomness has a seed: see core/pattern/random." },
      ],
    },
  },
  {
    files: ["server/**/*.ts"],
    rules: oneWay([
      outOf("(app|demo|e2e|bench)"),
      { regex: "^(react$|react-dom|react-bootstrap)", message: "The server draws nothing." },
    ]),
  },
  {
    files: ["server/*/calls.ts"],
    ignores: ["server/live/calls.ts"],
    rules: oneWay([outOf("(app|demo|e2e|bench)"), byCommands]),
  },
  {
    // A stream may err before anybody listens, and a promise that nobody awaits ends the process: both are seen here.
    files: ["server/**/*.ts", "supplier-service/**/*.ts"],
    ignores: ["**/*.test.ts", "**/testing/**"],
    languageOptions: { parserOptions: { projectService: true, tsconfigRootDir: import.meta.dirname } },
    rules: {
      "@typescript-eslint/no-floating-promises": ["error", { ignoreVoid: false }],
      "@typescript-eslint/no-misused-promises": ["error", { checksVoidReturn: { attributes: false } }],
      "no-restricted-syntax": [
        "error",
        ...streamsAtOnce,
        { selector: "ExportAllDeclaration", message: "No barrels: import from the file that has it." },
        { selector: "TSEnumDeclaration", message: "A union of strings does." },
      ],
    },
  },
  {
    files: ["supplier-service/**/*.ts"],
    rules: oneWay([
      { regex: "^#server/", message: "The supplier's service stands apart: it shares only the core." },
      outOf("(app|server|demo|e2e|bench)"),
    ]),
  },
  {
    files: ["app/**/*.{ts,tsx}"],
    plugins: { "react-hooks": hooks },
    rules: {
      "react-hooks/rules-of-hooks": "error",
      "react-hooks/exhaustive-deps": "error",
      ...oneWay([
        outOf("(demo|e2e|bench)"),
        { regex: "^(pg$|sharp|graphile-worker)", message: "Screens go through the server folder." },
        byCommands,
      ]),
    },
  },
);
