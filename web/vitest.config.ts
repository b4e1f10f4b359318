import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

/** The tests stand beside all others, in tests/web; what they import is installed here. */
const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  root: here("..").replace(/\/$/, ""),
  cacheDir: here("node_modules/.vitest"),
  resolve: {
    alias: [
      { find: /^vitest$/, replacement: here("node_modules/vitest/dist/index.js") },
      {
        find: /^(@tanstack\/react-query|@testing-library\/[a-z-]+|react|react-dom|react-router)(\/.*)?$/,
        replacement: `${here("node_modules/")}$1$2`,
      },
    ],
  },
  server: { fs: { strict: false } },
  oxc: { jsx: { runtime: "automatic" } },
  test: { environment: "node", setupFiles: [here("../tests/web/setup.ts")], include: ["tests/web/**/*.test.{ts,tsx}"] },
});
