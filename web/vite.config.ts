import { execSync } from "node:child_process";
import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { VitePWA } from "vite-plugin-pwa";
import { defineConfig } from "vite";

/** Changes when the interface's own source does: what was kept by another build is then asked for anew. */
function version(): string {
  return execSync("find src -type f -name '*.ts*' | sort | xargs cat | sha256sum | cut -c1-12")
    .toString()
    .trim();
}

export default defineConfig({
  define: { __VERSION__: JSON.stringify(version()) },
  plugins: [
    react(),
    tailwindcss(),
    VitePWA({
      registerType: "prompt",
      injectRegister: false,
      manifest: {
        name: "Kalon",
        short_name: "Kalon",
        description: "A fitting bench for sports footwear fitters",
        display: "standalone",
        background_color: "#f3efe6",
        theme_color: "#f3efe6",
        icons: [{ src: "/icon.svg", sizes: "any", type: "image/svg+xml" }],
      },
      workbox: {
        globPatterns: ["**/*.{js,css,html,woff2,svg}"],
        navigateFallback: "/index.html",
        navigateFallbackDenylist: [/^\/api\//, /^\/health/, /^\/ready/],
        cleanupOutdatedCaches: true,
        inlineWorkboxRuntime: true,
        sourcemap: false,
        maximumFileSizeToCacheInBytes: 3_000_000,
      },
    }),
  ],
  build: { assetsInlineLimit: 0, reportCompressedSize: true },
  server: { proxy: { "/api": "http://127.0.0.1:8000" } },
});
