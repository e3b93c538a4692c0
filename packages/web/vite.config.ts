import react from '@vitejs/plugin-react'
import { defineConfig } from 'vite'
import { compression } from 'vite-plugin-compression2'

export default defineConfig({
  // Compressed once, here: on two cores whoever asks first would wait for thirty files to be.
  plugins: [react(), compression({ algorithms: ['gzip', 'brotliCompress'], threshold: 512 })],
  build: { target: 'es2022', chunkSizeWarningLimit: 900 },
  server: { proxy: { '/api': 'http://127.0.0.1:4780' } },
})
