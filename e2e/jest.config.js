/** The interface as a person uses it, on the built application. One browser at a time. */
export default {
  rootDir: ".",
  testMatch: ["<rootDir>/**/*.e2e.ts"],
  transform: {
    "^.+\\.ts$": [
      "@swc/jest",
      { jsc: { parser: { syntax: "typescript" }, target: "es2022" }, module: { type: "commonjs" } },
    ],
  },
  testTimeout: 180_000,
  maxWorkers: 1,
};
