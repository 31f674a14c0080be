import react from '@vitejs/plugin-react';
import { defineConfig } from 'vite';

/** The interface as static files; the server serves them. In development, the API is asked of a running server. */
export default defineConfig({
  plugins: [react()],
  build: {
    outDir: '../../build/web',
    emptyOutDir: true,
    sourcemap: false,
    chunkSizeWarningLimit: 700,
    assetsInlineLimit: 0,
  },
  server: { proxy: { '/api': process.env.CHRONICON_SERVER ?? 'http://127.0.0.1:4300' } },
});
