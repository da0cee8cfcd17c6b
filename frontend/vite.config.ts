import vue from '@vitejs/plugin-vue'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vite'
import { readFileSync } from 'node:fs'
import { VitePWA } from 'vite-plugin-pwa'
import { viteStaticCopy } from 'vite-plugin-static-copy'

/** What the pages that open without a server are made of. */
const KEPT = ['index.html', 'ObservePage.vue', 'SignIn.vue', 'SignOutDialog.vue']

interface Chunk {
  file: string
  src?: string
  imports?: string[]
  css?: string[]
  assets?: string[]
}

/** Keep only the files that observing needs, by the imports of what was built. */
function onlyObserving<Entry extends { url: string }>(entries: Entry[]) {
  const built = JSON.parse(readFileSync(`${STATIC}/.vite/manifest.json`, 'utf8')) as Record<
    string,
    Chunk
  >
  const wanted = new Set(['index.html'])
  const seen = new Set<string>()
  const visit = (name: string) => {
    const chunk = built[name]
    if (!chunk || seen.has(name)) return
    seen.add(name)
    for (const file of [chunk.file, ...(chunk.css ?? []), ...(chunk.assets ?? [])]) wanted.add(file)
    chunk.imports?.forEach(visit)
  }
  Object.keys(built)
    .filter((name) => KEPT.some((one) => name.endsWith(one)))
    .forEach(visit)
  return { manifest: entries.filter((entry) => wanted.has(entry.url)), warnings: [] }
}

const STATIC = fileURLToPath(new URL('../src/jade_ladder/web/static', import.meta.url))
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
    // Observing opens without a server: a service worker keeps what that page is made of, and
    // nothing that the server says.
    VitePWA({
      strategies: 'generateSW',
      registerType: 'prompt',
      injectRegister: null,
      manifest: false,
      workbox: {
        globPatterns: ['index.html', 'assets/*.{js,css,woff2}'],
        manifestTransforms: [onlyObserving],
        navigateFallback: 'index.html',
        navigateFallbackAllowlist: [/^\/classes\/\d+\/tasks\/\d+\/observe(\?|$)/],
        directoryIndex: null,
        cleanupOutdatedCaches: true,
        maximumFileSizeToCacheInBytes: 4_000_000,
      },
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
