import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'

const api = `http://127.0.0.1:${process.env.API_PORT ?? 8000}`

export default defineConfig({
  plugins: [vue()],
  resolve: { alias: { '@': fileURLToPath(new URL('src', import.meta.url)) } },
  server: { proxy: { '/api': api } },
  build: {
    outDir: '../src/jade_ladder/web/static',
    emptyOutDir: true,
    manifest: true,
    chunkSizeWarningLimit: 700,
  },
})
