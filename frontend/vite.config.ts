import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'
import { viteStaticCopy } from 'vite-plugin-static-copy'

const api = `http://127.0.0.1:${process.env.API_PORT ?? 8000}`

export default defineConfig({
  plugins: [
    vue(),
    // What PDFs need that do not bring their own fonts and colours.
    viteStaticCopy({
      targets: ['cmaps', 'standard_fonts', 'iccs', 'wasm'].map((folder) => ({
        src: `node_modules/pdfjs-dist/${folder}/*`,
        dest: `pdf/${folder}`,
      })),
    }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('src', import.meta.url)) } },
  server: { proxy: { '/api': api } },
  build: {
    outDir: '../src/jade_ladder/web/static',
    emptyOutDir: true,
    manifest: true,
    chunkSizeWarningLimit: 700,
  },
})
