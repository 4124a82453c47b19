/**
 * Core, server, command line, what of the interface needs no browser, and the rules of the linter; the interface
 * itself is tested by `e2e`.
 */
const transform = {
  "^.+\\.tsx?$": [
    "@swc/jest",
    {
      jsc: {
        parser: { syntax: "typescript", tsx: true },
        target: "es2022",
        transform: { react: { runtime: "automatic" } },
      },
      module: { type: "commonjs" },
    },
  ],
};
const project = (name, more = {}) => ({
  displayName: name,
  rootDir: name,
  testMatch: ["<rootDir>/test/**/*.test.{ts,tsx}"],
  transform,
  testEnvironment: "node",
  ...more,
});
export default {
  // Tests run side by side on all cores, and on a slow machine.
  testTimeout: 60_000,
  projects: [
    project("core"),
    project("server"),
    project("cli"),
    project("web", {
      setupFiles: ["<rootDir>/test/setup.ts"],
      // These come as modules only, which are made into what Jest takes.
      transform: { ...transform, "/@tanstack/.+\\.js$": ["@swc/jest", { module: { type: "commonjs" } }] },
      transformIgnorePatterns: ["/node_modules/(?!@tanstack/)"],
    }),
    project("scripts"),
  ],
};
