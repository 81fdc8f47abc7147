import { fileURLToPath } from 'node:url'
import vue from '@vitejs/plugin-vue'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import Components from 'unplugin-vue-components/vite'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  plugins: [
    // Spaces between words and elements stay; else a line break in a template glues words together.
    vue({ template: { compilerOptions: { whitespace: 'preserve' } } }),
    // Only what a page uses of the component library is shipped; no types are written to the tree.
    Components({ dirs: [], dts: false, resolvers: [ElementPlusResolver({ importStyle: 'css' })] }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { outDir: 'dist', manifest: true, chunkSizeWarningLimit: 700, modulePreload: { polyfill: false } },
  test: {
    environment: 'happy-dom',
    include: ['tests/**/*.test.ts'],
    setupFiles: ['tests/setup.ts'],
    server: { deps: { inline: ['element-plus'] } },
  },
  server: { proxy: { '/api': 'http://127.0.0.1:8420' } },
})
