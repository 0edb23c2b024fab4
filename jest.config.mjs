const config = {
  testEnvironment: "node",
  testMatch: ["<rootDir>/src/**/*.test.ts", "<rootDir>/src/**/*.test.tsx", "<rootDir>/tests/references/**/*.test.ts"],
  transform: {
    "/(src/(core|kernels|document|formats|engine|cli|kinds|words)|tests/references)/.+\\.test\\.ts$": "<rootDir>/tests/support/bundledTest.cjs",
    "/@jsquash/.+\\.js$": "<rootDir>/tests/support/assignedMeta.cjs",
    "^.+\\.(t|j|mj)sx?$": [
      "@swc/jest",
      { jsc: { target: "es2022", parser: { syntax: "typescript", tsx: true }, transform: { react: { runtime: "automatic" } } }, module: { type: "commonjs" } },
    ],
  },
  transformIgnorePatterns: ["/node_modules/(?!(@noble|fast-png|iobuffer|colorjs.io|idb|@jsquash|lcms-wasm|libraw-wasm|intl-messageformat|@formatjs)/)"],
  modulePathIgnorePatterns: ["<rootDir>/build", "<rootDir>/.next"],
  // beside the modules, for the scripts remove what lies in the temporary folder
  cacheDirectory: "<rootDir>/node_modules/.cache/jest",
  testTimeout: 120_000,
  maxWorkers: 2,
};

export default config;
