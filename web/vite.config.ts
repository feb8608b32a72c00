import tailwindcss from "@tailwindcss/vite"
import react from "@vitejs/plugin-react"
import { defineConfig } from "vite"

export default defineConfig({
  plugins: [react(), tailwindcss()],
  // The server reads the manifest, to name the files of a stage in its page.
  build: {
    target: "es2022",
    chunkSizeWarningLimit: 600,
    manifest: true,
    // Small parts that several stages share come in one file: it compresses better than eight.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [{ name: "parts", test: /src\/(parts|theme)\//, minShareCount: 2 }],
        },
      },
    },
  },
  server: { proxy: { "/api": "http://127.0.0.1:8437", "/standins": "http://127.0.0.1:8437" } },
})
