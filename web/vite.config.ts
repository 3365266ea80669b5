import vue from '@vitejs/plugin-vue'
import Components from 'unplugin-vue-components/vite'
import { ElementPlusResolver } from 'unplugin-vue-components/resolvers'
import { fileURLToPath } from 'node:url'
import { defineConfig } from 'vitest/config'

export default defineConfig({
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
  server: { proxy: { '/api': { target: 'http://localhost:8474', changeOrigin: true } } },
  test: { environment: 'jsdom', include: ['src/**/*.test.ts'] },
})
