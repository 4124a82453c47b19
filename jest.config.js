/** Core, server and command line; the interface is tested by `e2e`. */
const transform = {
  "^.+\\.tsx?$": ["@swc/jest", { jsc: { parser: { syntax: "typescript", tsx: true }, target: "es2022" }, module: { type: "commonjs" } }],
};
const project = (name) => ({
  displayName: name,
  rootDir: name,
  testMatch: ["<rootDir>/test/**/*.test.ts"],
  transform,
  testEnvironment: "node",
});
export default { projects: [project("core"), project("server"), project("cli"), project("web")] };
