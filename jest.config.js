/**
 * Core, server, command line, what of the interface needs no browser, and the rules of the linter; the interface
 * itself is tested by `e2e`.
 */
const transform = {
  "^.+\\.tsx?$": [
    "@swc/jest",
    { jsc: { parser: { syntax: "typescript", tsx: true }, target: "es2022" }, module: { type: "commonjs" } },
  ],
};
const project = (name) => ({
  displayName: name,
  rootDir: name,
  testMatch: ["<rootDir>/test/**/*.test.ts"],
  transform,
  testEnvironment: "node",
});
export default { projects: [project("core"), project("server"), project("cli"), project("web"), project("scripts")] };
