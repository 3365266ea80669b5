import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { fileURLToPath } from 'node:url'
import type { Plugin } from 'postcss'
import { defineConfig } from 'vitest/config'

/** The library's styles in a layer of their own: whatever is written here is above them, without a contest of selectors. */
const library: Plugin = {
  postcssPlugin: 'library-layer',
  Once(root, { atRule }) {
    if (!root.source?.input.file?.includes('/element-plus/')) return
    const layer = atRule({ name: 'layer', params: 'library' })
    layer.append(root.nodes)
    root.append(layer)
  },
}

export default defineConfig({
  css: { postcss: { plugins: [library] } },
  plugins: [
    vue(),
    Components({
      dirs: [],
      dts: 'src/components.d.ts',
      resolvers: [ElementPlusResolver({ importStyle: process.env.VITEST ? false : 'css' })],
    }),
  ],
  resolve: { alias: { '@': fileURLToPath(new URL('./src', import.meta.url)) } },
  build: { outDir: '../src/imbuto/web_dist', emptyOutDir: true, target: 'es2022', chunkSizeWarningLimit: 700 },
  server: { fs: { allow: ['..'] }, proxy: { '/api': { target: 'http://localhost:8474', changeOrigin: true } } },
  test: { testTimeout: 60_000, environment: 'jsdom', include: ['src/**/*.test.ts'] },
})
