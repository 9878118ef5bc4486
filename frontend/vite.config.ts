import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'
import { VitePWA } from 'vite-plugin-pwa'

export default defineConfig({
  plugins: [
    vue(),
    VitePWA({
      strategies: 'injectManifest',
      srcDir: 'src',
      filename: 'sw.ts',
      // It is registered when the first screen is there, by our own code: the page's own script has a word of its own.
      injectRegister: false,
      injectManifest: { globPatterns: ['**/*.{js,css,html,svg,woff2,png}'], maximumFileSizeToCacheInBytes: 4_000_000 },
      manifest: {
        name: 'Lift Crate',
        short_name: 'Lift Crate',
        description: 'Camera rigs for a crew: what fits, balances, runs and is where it is wanted',
        start_url: '/',
        display: 'standalone',
        background_color: '#0b0e0d',
        theme_color: '#0b0e0d',
        icons: [
          { src: 'mark.svg', sizes: 'any', type: 'image/svg+xml', purpose: 'any' },
          { src: 'mark-192.png', sizes: '192x192', type: 'image/png' },
          { src: 'mark-512.png', sizes: '512x512', type: 'image/png' },
        ],
      },
    }),
  ],
  // The library's own Sass still uses @import; its warnings are not ours to mend.
  css: {
    preprocessorOptions: {
      scss: {
        quietDeps: true,
        silenceDeprecations: ['import', 'global-builtin', 'color-functions', 'if-function'],
      },
    },
  },
  build: {
    outDir: '../lift_crate/web/static',
    emptyOutDir: true,
    // Fonts stay files of their own: inlined they would delay the first paint.
    assetsInlineLimit: 0,
    // Few files for the first screen: the libraries, and what every screen has; each of the others brings its own.
    rolldownOptions: {
      output: {
        codeSplitting: {
          groups: [
            { name: 'libraries', test: /node_modules[\\/](@?vue|pinia|vue-router|openapi-fetch|@vueuse)[\\/]/ },
            {
              name: 'frame',
              test: /frontend[\\/]src[\\/](api|lib|stores|composables|components[\\/](frame|fields))/,
              minShareCount: 2,
            },
          ],
        },
      },
    },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8470' } },
})
