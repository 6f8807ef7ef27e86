import vue from '@vitejs/plugin-vue'
import elementPlus from 'unplugin-element-plus/vite'
import { defineConfig } from 'vitest/config'

export default defineConfig({
  // Each component of Element Plus brings its own style sheet along.
  plugins: [vue(), elementPlus({})],
  resolve: { alias: { '@': new URL('./src', import.meta.url).pathname } },
  build: {
    outDir: '../src/wempa/api/static',
    emptyOutDir: true,
    // The policy allows nothing inline, so no asset may become a data: URL in a style sheet.
    assetsInlineLimit: 0,
    target: 'es2022',
  },
  test: { dir: '../tests/web', include: ['**/*.test.ts'], globals: true, environment: 'node' },
  server: {
    host: '127.0.0.1',
    proxy: { '/api': { target: 'http://127.0.0.1:8765', changeOrigin: true } },
  },
})
