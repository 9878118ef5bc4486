import vue from '@vitejs/plugin-vue'
import { defineConfig } from 'vite'

export default defineConfig({
  plugins: [vue()],
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
