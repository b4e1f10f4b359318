import { fileURLToPath } from "node:url";
import { defineConfig } from "vitest/config";

/** The tests stand beside all others, in tests/web; what they import is installed here. */
const here = (path: string) => fileURLToPath(new URL(path, import.meta.url));

export default defineConfig({
  root: here(".."),
  cacheDir: here("node_modules/.vitest"),
  resolve: {
    alias: {
      vitest: here("node_modules/vitest/dist/index.js"),
      "@tanstack/react-query": here("node_modules/@tanstack/react-query"),
    },
  },
  test: { environment: "node", setupFiles: ["tests/web/setup.ts"], include: ["tests/web/**/*.test.ts"] },
});
