import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

const server = process.env.KAVRID_SERVER ?? 'http://127.0.0.1:4700';

export default defineConfig({
  plugins: [react()],
  worker: { format: 'es' },
  // What makes PDFs brings its faces along; it is loaded when one is asked for.
  build: { chunkSizeWarningLimit: 2000 },
  server: {
    proxy: {
      '/api': { target: server, changeOrigin: true },
      '/live': { target: server, ws: true, changeOrigin: true },
    },
  },
});
