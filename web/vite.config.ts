import tailwindcss from "@tailwindcss/vite";
import react from "@vitejs/plugin-react";
import { defineConfig } from "vite";
import { compression } from "vite-plugin-compression2";
import { VitePWA } from "vite-plugin-pwa";

export default defineConfig({
  // What was kept by another build is asked for anew.
  define: { __VERSION__: JSON.stringify(Date.now().toString(36)) },
  plugins: [
    react(),
    tailwindcss(),
    // Packed once, when it is built: brotli where a browser takes it, gzip elsewhere.
    compression({
      include: /assets\/.*\.(js|css|svg)$/,
      threshold: 1000,
      algorithms: ["gzip", "brotliCompress"],
    }),
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
